/**
 * Sample quantile, definition 7 of Hyndman and Fan: linear interpolation at h = (n − 1)p.
 *
 * @param sorted  values in ascending order
 * @param p       probability in [0, 1]
 * @returns the quantile, in the unit of the values; null where there is no value
 * @throws RangeError where p is outside [0, 1]
 * @see Hyndman, Fan (1996), The American Statistician 50:361
 */
export function quantile(sorted: ArrayLike<number>, p: number): number | null {
  if (!(p >= 0 && p <= 1)) throw new RangeError(`p must be in [0, 1], got ${p}`)
  if (sorted.length === 0) return null
  const h = (sorted.length - 1) * p
  const below = Math.floor(h)
  const low = sorted[below]!
  const high = sorted[Math.min(below + 1, sorted.length - 1)]!
  return low + (h - below) * (high - low)
}

/** Median of values in any order; null where there is none. Leaves its input as it was. */
export function median(values: ArrayLike<number>): number | null {
  return quantile(Float64Array.from(values).sort(), 0.5)
}
