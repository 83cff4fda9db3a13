import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import type { EventCondition } from '../../labels/event-condition.ts'
import { eventConditionSchema } from '../../labels/event-condition.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import type { Names } from '../../labels/names.ts'
import { sessionNumber, textColumn, textValues } from '../../select/attributes.ts'
import { eventMatcher } from '../../select/event-matcher.ts'
import { SESSION_NUMBERS, SESSION_TEXTS } from '../../select/grammar/attributes.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { quantile } from '../../stats/quantile.ts'
import { countSchema } from '../../stats/rate.ts'
import { question, selectionNeeds } from '../question.ts'

export const distributionOptionsSchema = z.strictObject({
  measure: z
    .enum(SESSION_NUMBERS)
    .nullable()
    .default(null)
    .describe('what is measured of each session; null = only how many there are'),
  countOf: eventConditionSchema
    .optional()
    .describe('in place of a measure: how many events of a session are such'),
  by: z.enum(SESSION_TEXTS).nullable().default(null).describe('for each value of this; null = all together'),
  quantiles: z
    .array(z.number().min(0).max(1))
    .max(20)
    .default([0.05, 0.25, 0.5, 0.75, 0.95])
    .describe('shares at which quantiles are given'),
  bins: z
    .number()
    .int()
    .min(0)
    .max(200)
    .default(20)
    .describe('how many bins of equal width a histogram has; 0 = none'),
})
export type DistributionOptions = z.infer<typeof distributionOptionsSchema>

/** Per value: how many sessions, and what was measured of those of which it is known. */
type DistributionFound = Map<string, { sessions: number; measured: number[] }>

const answerSchema = z.object({
  sessions: countSchema,
  edges: z
    .array(z.number())
    .describe(
      'edges of the bins, one more than there are bins: each from its lower edge, the last one including its upper',
    ),
  values: z.array(
    z.object({
      value: z.string().describe('"" = not known, or all together'),
      sessions: countSchema,
      /** sessions of which the measure is known */
      known: countSchema,
      mean: z.number().nullable(),
      least: z.number().nullable(),
      most: z.number().nullable(),
      quantiles: z
        .array(z.number().nullable())
        .describe(
          'at the shares asked for, definition 7 of Hyndman and Fan (1996); null without a known measure',
        ),
      /** sessions per bin */
      histogram: z.array(countSchema),
    }),
  ),
})
export type DistributionAnswer = z.infer<typeof answerSchema>

/**
 * Counts, quantiles and histograms of a measure of sessions, by any attribute. Exact: every measured number is kept until
 * the end. The histograms of all values share their edges, so that they can be compared.
 */
export const distribution = question({
  name: 'distribution',
  summary: 'counts, quantiles and a histogram of a measure of sessions, by any attribute',
  asked: z.strictObject({
    selection: selectionSchema,
    options: distributionOptionsSchema.default(distributionOptionsSchema.parse({})),
  }),
  answer: answerSchema,
  example: { selection: { type: 'everyone' }, options: { measure: 'duration', by: 'device' } },
  needs: selectionNeeds,

  scan(block, among, { selection, names, options: { measure, countOf, by } }) {
    const { sessions } = selectSessions(block, among, selection, names)
    const found: DistributionFound = new Map()
    const column = by && textColumn(block, by, names)
    const values = by ? textValues(by, names) : []
    const number = countOf
      ? eventCounter(block, countOf, names)
      : measure && sessionNumber(block, measure, names)
    for (const s of sessions) {
      const value = column ? values[column.codes(s)]! : ''
      let numbers = found.get(value)
      if (!numbers) found.set(value, (numbers = { sessions: 0, measured: [] }))
      numbers.sessions++
      const measured = number ? number(s) : NaN
      if (!Number.isNaN(measured)) numbers.measured.push(measured)
    }
    return found
  },

  merge(a, b) {
    for (const [value, { sessions, measured }] of b) {
      const ofA = a.get(value)
      if (!ofA) a.set(value, { sessions, measured })
      else {
        ofA.sessions += sessions
        for (const number of measured) ofA.measured.push(number)
      }
    }
    return a
  },

  finish(total, { options: { quantiles, bins, measure } }) {
    const sorted = [...total].map(([value, { sessions, measured }]) => ({
      value,
      sessions,
      measured: Float64Array.from(measured).sort(),
    }))
    const least = sorted.reduce((low, { measured }) => Math.min(low, measured[0] ?? Infinity), Infinity)
    const most = sorted.reduce(
      (high, { measured }) => Math.max(high, measured[measured.length - 1] ?? -Infinity),
      -Infinity,
    )
    const edges = bins && least <= most ? edgesOf(least, most, bins) : []
    return {
      sessions: sorted.reduce((sum, { sessions }) => sum + sessions, 0),
      edges,
      values: sorted
        .map(({ value, sessions, measured }) => ({
          value,
          sessions,
          known: measured.length,
          mean: measured.length ? sumOf(measured, measure === 'value') / measured.length : null,
          least: measured[0] ?? null,
          most: measured[measured.length - 1] ?? null,
          quantiles: quantiles.map((share) => quantile(measured, share)),
          histogram: histogramOf(measured, edges),
        }))
        .sort((a, b) => b.sessions - a.sessions || a.value.localeCompare(b.value)),
    }
  },

  table: ({ values }) => values,
})

/** How many events of a session a condition names. */
function eventCounter(block: Block, condition: EventCondition, names: Names): (session: number) => number {
  const matches = eventMatcher(block, condition, names)
  const { firstEvent } = block.sessions
  return (s) => {
    let count = 0
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) if (matches(i)) count++
    return count
  }
}

/** The sum of numbers; of money to the cent, whatever the order. */
function sumOf(numbers: Float64Array, money: boolean): number {
  return money
    ? fromParts(numbers.reduce((sum, n) => sum + toParts(n), 0))
    : numbers.reduce((sum, n) => sum + n, 0)
}

function edgesOf(least: number, most: number, bins: number): number[] {
  const width = (most > least ? most - least : 1) / bins
  return Array.from({ length: bins + 1 }, (_, i) => (i === bins && most > least ? most : least + i * width))
}

function histogramOf(sorted: Float64Array, edges: readonly number[]): number[] {
  const counts = new Array<number>(Math.max(0, edges.length - 1)).fill(0)
  let bin = 0
  for (const number of sorted) {
    while (bin < counts.length - 1 && number >= edges[bin + 1]!) bin++
    if (counts.length) counts[bin]!++
  }
  return counts
}
