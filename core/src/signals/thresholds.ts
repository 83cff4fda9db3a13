import { z } from 'zod'
import type { SignalKind } from '../events/signal-kinds.ts'

interface Threshold {
  kind: SignalKind
  /** what it limits, as read after the kind */
  label: string
  unit: 'ms' | 'px' | 'times'
  default: number
  least: number
  most: number
}
const ms = (kind: SignalKind, label: string, byDefault: number, most: number): Threshold => ({
  ...{ kind, label, unit: 'ms', default: byDefault, least: 0, most },
})
const px = (kind: SignalKind, label: string, byDefault: number, most: number): Threshold => ({
  ...{ kind, label, unit: 'px', default: byDefault, least: 0, most },
})
const times = (kind: SignalKind, label: string, byDefault: number): Threshold => ({
  ...{ kind, label, unit: 'times', default: byDefault, least: 1, most: 100 },
})

/**
 * From where on something is friction; a site can set each. Defaults: common practice, no source, but for two: a freeze of
 * more than 500 ms is what Interaction to Next Paint calls poor (from memory), and largest content after more than 4 s what
 * Largest Contentful Paint calls poor (from memory).
 */
export const THRESHOLD_FIELDS = {
  rageClicks: { ...times('rage click', 'at least so many clicks', 3), least: 2 },
  rageMs: ms('rage click', 'at most so long from one to the next', 1000, 10_000),
  ragePx: px('rage click', 'at most so far from the first', 30, 500),
  deadFoldMs: ms('dead click', 'repeats on one element within this are one', 2000, 60_000),
  namedWakeMs: ms('failing click', 'an error that names the element comes within', 1000, 30_000),
  errorWakeMs: ms('failing click', 'an error that names none comes within', 500, 30_000),
  nearPx: px('near miss', 'at most so far outside of the control', 12, 100),
  nearMs: ms('near miss', 'the control is used so shortly before or after', 5000, 60_000),
  corrections: times('field trouble', 'content deleted so often in one go', 3),
  returns: times('field trouble', 'or the field come back to so often', 3),
  backMs: ms('turned back', 'within', 5000, 60_000),
  racingViews: { ...times('racing', 'so many views in a row', 5), least: 2 },
  racingMs: ms('racing', 'each shorter than', 3000, 60_000),
  combingTurns: times('combing', 'so many changes of direction', 4),
  combingPx: px('combing', 'each of at least', 300, 10_000),
  combingMs: ms('combing', 'within', 30_000, 600_000),
  hops: times('tab hopping', 'left so many times', 3),
  hopsMs: ms('tab hopping', 'within', 600_000, 7_200_000),
  freezeMs: ms('freeze', 'longer than', 500, 60_000),
  slowMs: ms('slow page', 'longer than', 4000, 120_000),
} as const satisfies Record<string, Threshold>

export type ThresholdName = keyof typeof THRESHOLD_FIELDS
export const THRESHOLD_NAMES = Object.keys(THRESHOLD_FIELDS) as [ThresholdName, ...ThresholdName[]]
export type SignalThresholds = Readonly<Record<ThresholdName, number>>

export const THRESHOLDS = Object.fromEntries(
  THRESHOLD_NAMES.map((name) => [name, THRESHOLD_FIELDS[name].default]),
) as SignalThresholds

const schemaOf = ({ kind, label, unit, least, most }: Threshold) =>
  z
    .int({ error: 'Give a whole number.' })
    .min(least, { error: `Give at least ${least}.` })
    .max(most, { error: `Give at most ${most}.` })
    .describe(`${kind}: ${label}, ${unit}`)
    .optional()

/** Those that a site has set; the others are as they are by default. */
export const thresholdsSchema = z
  .strictObject(
    Object.fromEntries(THRESHOLD_NAMES.map((name) => [name, schemaOf(THRESHOLD_FIELDS[name])])) as Record<
      ThresholdName,
      ReturnType<typeof schemaOf>
    >,
  )
  .describe('from where on something is friction; what is left out is as it is by default')
export type SetThresholds = Partial<Record<ThresholdName, number>>

/** The same as it is answered: it was checked when it was set. */
export const setThresholdsSchema = z.partialRecord(z.enum(THRESHOLD_NAMES), z.int())

/** All thresholds of a site that has set some of them. */
export function thresholdsOf(set: SetThresholds): SignalThresholds {
  return { ...THRESHOLDS, ...set }
}
