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

/** By the upper bits of whole numbers how many there are: few enough to lie in the fastest memory. */
const BUCKET_BITS = 11

/**
 * One quantile of whole numbers in any order, by the same definition: counted by their upper bits, so that only those near
 * the quantile need be sorted. Complexity: linear. Leaves its input as it was.
 *
 * @throws RangeError where p is outside [0, 1]
 */
export function quantileOfWhole(values: Uint32Array, p: number): number | null {
  const n = values.length
  if (n < 1 << BUCKET_BITS) return quantile(values.slice().sort(), p)
  let most = 0
  for (let i = 0; i < n; i++) if (values[i]! > most) most = values[i]!
  const shift = Math.max(0, 32 - Math.clz32(most) - BUCKET_BITS)
  const counts = new Uint32Array(1 << BUCKET_BITS)
  for (let i = 0; i < n; i++) counts[values[i]! >>> shift]!++
  if (!(p >= 0 && p <= 1)) throw new RangeError(`p must be in [0, 1], got ${p}`)
  const h = (n - 1) * p
  // The two between which it lies may stand in two buckets, with empty ones between.
  const [from, before] = bucketOf(counts, Math.floor(h))
  const [to] = bucketOf(counts, Math.min(Math.floor(h) + 1, n - 1))
  let length = counts[from]!
  if (to !== from) length += counts[to]!
  const near = new Uint32Array(length)
  let at = 0
  for (let i = 0; i < n; i++) {
    const bucket = values[i]! >>> shift
    if (bucket === from || bucket === to) near[at++] = values[i]!
  }
  near.sort()
  const k = Math.floor(h) - before
  const low = near[k]!
  return low + (h - Math.floor(h)) * (near[Math.min(k + 1, length - 1)]! - low)
}

/** The bucket in which the k-th number in ascending order lies, and how many lie in those before it. */
function bucketOf(counts: Uint32Array, k: number): [bucket: number, before: number] {
  let bucket = 0
  let before = 0
  while (before + counts[bucket]! <= k) before += counts[bucket++]!
  return [bucket, before]
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
