import { z } from 'zod'
import { eventMatcher } from '../conditions/events.ts'
import type { EventCondition } from '../conditions/terms.ts'
import { eventConditionSchema, SESSION_NUMBERS, SESSION_TEXTS } from '../conditions/terms.ts'
import type { Block } from '../events/columns.ts'
import { sessionNumber, textColumn, textValues } from '../conditions/sessions.ts'
import type { Selection } from '../closeup/selection.ts'
import { selectSessions } from '../closeup/selection.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import { quantile } from '../stats/quantile.ts'

export const distributionOptionsSchema = z.object({
  /** what is measured of each session; null = only how many there are */
  measure: z.enum(SESSION_NUMBERS).nullable().default(null),
  /** in place of a measure: how many events of a session are such */
  countOf: eventConditionSchema.optional(),
  /** for each value of this; null = all together */
  by: z.enum(SESSION_TEXTS).nullable().default(null),
  /** shares at which quantiles are given */
  quantiles: z.array(z.number().min(0).max(1)).max(20).default([0.05, 0.25, 0.5, 0.75, 0.95]),
  /** how many bins of equal width a histogram has; 0 = none */
  bins: z.number().int().min(0).max(200).default(20),
})
export type DistributionOptions = z.infer<typeof distributionOptionsSchema>

export interface DistributionSpec extends DistributionOptions {
  selection: Selection
  names: Names
}

/** Per value: how many sessions, and what was measured of those of which it is known. */
export type DistributionPartial = Map<string, { sessions: number; measured: number[] }>

export interface Distribution {
  /** "" = not known, or all together */
  value: string
  sessions: number
  /** sessions of which the measure is known */
  known: number
  mean: number | null
  least: number | null
  most: number | null
  /** at the shares asked for, definition 7 of Hyndman and Fan (1996); null without a known measure */
  quantiles: (number | null)[]
  /** sessions per bin, over the edges of the result */
  histogram: number[]
}

export interface DistributionResult {
  sessions: number
  /** edges of the bins, one more than there are bins: each from its lower edge, the last one including its upper */
  edges: number[]
  values: Distribution[]
}

/**
 * Counts, quantiles and histograms of a measure of sessions, by any attribute. Exact: every measured number is kept until
 * the end. The histograms of all values share their edges, so that they can be compared.
 */
export const distribution: Analysis<DistributionSpec, DistributionPartial, DistributionResult> = {
  scan(block, among, { selection, names, measure, countOf, by }) {
    const { sessions } = selectSessions(block, among, selection, names)
    const partial: DistributionPartial = new Map()
    const column = by && textColumn(block, by, names)
    const values = by ? textValues(by, names) : []
    const number = countOf ? eventCounter(block, countOf, names) : measure && sessionNumber(block, measure)
    for (const s of sessions) {
      const value = column ? values[column.codes(s)]! : ''
      let own = partial.get(value)
      if (!own) partial.set(value, (own = { sessions: 0, measured: [] }))
      own.sessions++
      const measured = number ? number(s) : NaN
      if (!Number.isNaN(measured)) own.measured.push(measured)
    }
    return partial
  },

  merge(a, b) {
    for (const [value, { sessions, measured }] of b) {
      const own = a.get(value)
      if (!own) a.set(value, { sessions, measured })
      else {
        own.sessions += sessions
        for (const number of measured) own.measured.push(number)
      }
    }
    return a
  },

  finish(total, { quantiles, bins }) {
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
          mean: measured.length ? measured.reduce((sum, n) => sum + n, 0) / measured.length : null,
          least: measured[0] ?? null,
          most: measured[measured.length - 1] ?? null,
          quantiles: quantiles.map((share) => quantile(measured, share)),
          histogram: histogramOf(measured, edges),
        }))
        .sort((a, b) => b.sessions - a.sessions || a.value.localeCompare(b.value)),
    }
  },
}

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
