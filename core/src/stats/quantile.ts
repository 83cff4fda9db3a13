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

/**
 * Quantiles of values in any order, by the same definition, without sorting them all: what is needed is brought to its
 * place (Hoare's selection). Complexity: linear on average. Changes the order of its input.
 */
export function quantilesOf(values: Float64Array, shares: readonly number[]): (number | null)[] {
  let done = 0
  const ascending = shares.map((p, i) => ({ p, i })).sort((a, b) => a.p - b.p)
  const found = new Array<number | null>(shares.length).fill(null)
  for (const { p, i } of ascending) {
    if (values.length === 0) break
    const below = Math.floor((values.length - 1) * p)
    // What lies left of `done` is smaller than all the rest already.
    select(values, below, Math.min(done, below))
    if (below + 1 < values.length) {
      let next = below + 1
      for (let k = below + 2; k < values.length; k++) if (values[k]! < values[next]!) next = k
      swap(values, below + 1, next)
    }
    done = below
    found[i] = quantile(values, p)
  }
  return found
}

/** Brings to place k the value that would be there were all from `from` on sorted; smaller ones lie left of it. */
function select(values: Float64Array, k: number, from: number): void {
  let left = from
  let right = values.length - 1
  while (left < right) {
    const pivot = middle(values[left]!, values[(left + right) >>> 1]!, values[right]!)
    let i = left
    let j = right
    while (i <= j) {
      while (values[i]! < pivot) i++
      while (values[j]! > pivot) j--
      if (i <= j) swap(values, i++, j--)
    }
    if (k <= j) right = j
    else if (k >= i) left = i
    else return
  }
}

function middle(a: number, b: number, c: number): number {
  return Math.max(Math.min(a, b), Math.min(Math.max(a, b), c))
}

function swap(values: Float64Array, i: number, j: number): void {
  const swapped = values[i]!
  values[i] = values[j]!
  values[j] = swapped
}

/** Median of values in any order; null where there is none. Leaves its input as it was. */
export function median(values: ArrayLike<number>): number | null {
  return quantile(Float64Array.from(values).sort(), 0.5)
}
