import { KINDS } from '../events/line.ts'

/** By kind of event the number that stands for it in the `kind` column: its index in KINDS. */
export const KIND_CODE = Object.fromEntries(KINDS.map((kind, i) => [kind, i])) as Record<
  (typeof KINDS)[number],
  number
>

/**
 * Bits of the `friction` column: what kinds of friction a click was part of, whether it was one of several quick ones that
 * all did something, and whether a page view was slow.
 */
export const FRICTION_BIT = { rage: 1, dead: 2, slow: 4, failing: 8, near: 16, rapid: 32 } as const

/** Bits of the `traits` column: what else is known of an event. */
export const TRAIT_BIT = {
  /** the target is meant to be worked with */
  interactive: 1,
  /** the target is a field, or the label of one */
  field: 2,
  /** a form that was not accepted */
  refused: 4,
  /** a gesture by which the page was enlarged */
  enlarged: 8,
  /** a page that was left before its largest content was there */
  unloaded: 16,
  /** a page that was loaded anew, neither by the back button nor by reloading */
  navigated: 32,
} as const
