import { KINDS } from '../events/line.ts'

/** By kind of event the number that stands for it in the `kind` column: its index in KINDS. */
export const KIND_CODE = Object.fromEntries(KINDS.map((kind, i) => [kind, i])) as Record<
  (typeof KINDS)[number],
  number
>

/** Bits of the `friction` column: what kinds of friction a click was part of. */
export const FRICTION_BIT = { rage: 1, dead: 2 } as const
