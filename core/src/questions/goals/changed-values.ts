import type { z } from 'zod'
import type { Interval } from '../../stats/interval.ts'
import type { Rate } from '../../stats/rate.ts'
import { difference, rate } from '../../stats/rate.ts'
import { benjaminiHochberg, twoProportions } from '../../stats/significance.ts'
import type { goals } from './goals.ts'

type Values = z.output<typeof goals.answer>['values']

export interface ChangedValue {
  value: string
  now: Rate
  before: Rate
  difference: number
  interval: Interval
}

/** Fewer sessions on one side say nothing. */
const LEAST = 30
const ALPHA = 0.05

/**
 * Values of an attribute whose sessions reach the main goal less often than in another period, beyond noise: the interval of
 * the difference (Newcombe) below zero, p corrected for the number of values (Benjamini and Hochberg). The largest fall first.
 */
export function fallenValues(now: Values, before: Values): ChangedValue[] {
  const earlier = new Map(before.map(({ value, reached }) => [value, reached]))
  const pairs = now.flatMap(({ value, reached }) => {
    const was = earlier.get(value) ?? rate(0, 0)
    return reached.base >= LEAST && was.base >= LEAST ? [{ value, now: reached, before: was }] : []
  })
  const ps = benjaminiHochberg(
    pairs.map(({ now: a, before: b }) => twoProportions(a.hits, a.base, b.hits, b.base)),
  )
  return pairs
    .flatMap((pair, k) => {
      const gap = difference(pair.now, pair.before)
      return gap.difference !== null && gap.interval[1] < 0 && (ps[k] ?? 1) < ALPHA
        ? [{ ...pair, difference: gap.difference, interval: gap.interval }]
        : []
    })
    .sort((a, b) => a.difference - b.difference || a.value.localeCompare(b.value))
}
