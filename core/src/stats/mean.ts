import jstat from 'jstat'
import { z } from 'zod'
import type { Interval } from './interval.ts'

/** Sums of whole numbers: exact in any order as long as they stay below 2⁵³. */
export interface Sums {
  n: number
  sum: number
  squares: number
}

export const noSums = (): Sums => ({ n: 0, sum: 0, squares: 0 })

export function addTo(sums: Sums, value: number): void {
  sums.n++
  sums.sum += value
  sums.squares += value * value
}

export function sumsOf(a: Sums, b: Sums): Sums {
  return { n: a.n + b.n, sum: a.sum + b.sum, squares: a.squares + b.squares }
}

export const meanShape = {
  mean: z.number().nullable(),
  deviation: z.number().nullable().describe('standard deviation of the sample; null with fewer than two'),
  interval: z
    .tuple([z.number(), z.number()])
    .nullable()
    .describe('95 %, of the mean; null with fewer than two'),
}

export interface Mean {
  mean: number | null
  deviation: number | null
  interval: Interval | null
}

/**
 * Mean, sample standard deviation (n − 1) and 95 % interval of the mean by Student's t.
 *
 * @param parts  how many of the whole numbers make one unit
 * @see NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.2 (confidence limits for the mean; from memory)
 */
export function meanOf({ n, sum, squares }: Sums, parts = 1): Mean {
  if (!n) return { mean: null, deviation: null, interval: null }
  const mean = sum / n / parts
  if (n < 2) return { mean, deviation: null, interval: null }
  const deviation = Math.sqrt(Math.max(0, (squares - (sum * sum) / n) / (n - 1))) / parts
  const half = (jstat.jStat.studentt.inv(0.975, n - 1) * deviation) / Math.sqrt(n)
  return { mean, deviation, interval: [mean - half, mean + half] }
}

/** What is known of a sample whose values are not at hand. */
export interface Described {
  n: number
  mean: number | null
  deviation: number | null
}

/**
 * Difference of two means, a − b, with its 95 % interval where variances differ (Welch).
 *
 * @returns null where one of them has fewer than two values
 * @see Welch (1947), Biometrika 34:28 (from memory)
 */
export function meanDifference(
  a: Described,
  b: Described,
): { difference: number; interval: Interval } | null {
  if (a.mean === null || b.mean === null || a.deviation === null || b.deviation === null) return null
  const [va, vb] = [a.deviation ** 2 / a.n, b.deviation ** 2 / b.n]
  const difference = a.mean - b.mean
  if (va + vb === 0) return { difference, interval: [difference, difference] }
  const df = (va + vb) ** 2 / (va ** 2 / (a.n - 1) + vb ** 2 / (b.n - 1))
  const half = jstat.jStat.studentt.inv(0.975, df) * Math.sqrt(va + vb)
  return { difference, interval: [difference - half, difference + half] }
}
