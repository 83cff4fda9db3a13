/** A closed interval, low ≤ high. */
export type Interval = [low: number, high: number]

/** Normal quantile for a two-sided 95 % interval. */
export const Z_95 = 1.959963984540054

/**
 * Wilson score interval for a proportion, without continuity correction.
 *
 * @param hits   successes, integer in [0, n]
 * @param n      trials, integer >= 0; with n = 0 nothing is known and the interval is [0, 1]
 * @param z      normal quantile, default 95 %
 * @returns      [low, high], shares in [0, 1]
 * @throws RangeError where hits is not in [0, n]
 * @see Wilson (1927), J. Am. Stat. Assoc. 22:209
 */
export function wilson(hits: number, n: number, z = Z_95): Interval {
  if (!(hits >= 0 && hits <= n)) throw new RangeError(`hits must be in [0, ${n}], got ${hits}`)
  if (n === 0) return [0, 1]
  const p = hits / n
  const z2 = z * z
  const centre = p + z2 / (2 * n)
  const spread = z * Math.sqrt((p * (1 - p)) / n + z2 / (4 * n * n))
  const scale = 1 + z2 / n
  const low = hits === 0 ? 0 : (centre - spread) / scale
  const high = hits === n ? 1 : (centre + spread) / scale
  return [Math.max(0, low), Math.min(1, high)]
}

/** A share with its score interval. */
interface Proportion {
  hits: number
  base: number
  interval: Interval
}

/**
 * Newcombe's hybrid score interval for the difference of two independent proportions (first minus second), from the
 * score interval of each.
 *
 * @returns difference in [-1, 1] and its interval; with an empty group the interval spans what the other leaves open
 * @see Newcombe (1998), Statistics in Medicine 17:873, method 10
 */
export function newcombe(
  { hits: hits1, base: n1, interval: [l1, u1] }: Proportion,
  { hits: hits2, base: n2, interval: [l2, u2] }: Proportion,
): { difference: number | null; interval: Interval } {
  if (n1 === 0 || n2 === 0) return { difference: null, interval: [l1 - u2, u1 - l2] }
  const p1 = hits1 / n1
  const p2 = hits2 / n2
  const difference = p1 - p2
  return {
    difference,
    interval: [
      difference - Math.sqrt((p1 - l1) ** 2 + (u2 - p2) ** 2),
      difference + Math.sqrt((u1 - p1) ** 2 + (p2 - l2) ** 2),
    ],
  }
}
