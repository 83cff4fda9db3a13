import type { CountedKeys, Keys } from './counted.ts'

/** Two lists as one. @throws RangeError where they are of different widths */
export function mergeCounted(a: CountedKeys, b: CountedKeys): CountedKeys {
  const length = a.keys.length + b.keys.length
  const counts = new Uint32Array(length)
  const [keys, n] =
    a.keys instanceof Int32Array && b.keys instanceof Int32Array
      ? mergeNarrow(a.keys, b.keys, a.counts, b.counts, new Int32Array(length), counts)
      : a.keys instanceof Float64Array && b.keys instanceof Float64Array
        ? mergeWide(a.keys, b.keys, a.counts, b.counts, new Float64Array(length), counts)
        : fail()
  return { keys: keys.subarray(0, n), counts: counts.subarray(0, n) }
}

function fail(): never {
  throw new RangeError('keys of different widths cannot be merged')
}

/** Merges branch-free: which of two keys is the lower is unpredictable, and mispredicted branches would dominate. */
function mergeNarrow(
  a: Int32Array,
  b: Int32Array,
  aCounts: Uint32Array,
  bCounts: Uint32Array,
  keys: Int32Array,
  counts: Uint32Array,
): [Keys, number] {
  let i = 0
  let j = 0
  let n = 0
  while (i < a.length && j < b.length) {
    const y = b[j]!
    const more = a[i]! - y
    /** all bits where the key of a is the lower, else none; where that of b is */
    const lowerA = more >> 31
    const lowerB = (0 - more) >> 31
    keys[n] = y + (more & lowerA)
    counts[n++] = (aCounts[i]! & ~lowerB) + (bCounts[j]! & ~lowerA)
    i += lowerB + 1
    j += lowerA + 1
  }
  return [keys, appendRest(a, b, aCounts, bCounts, i, j, keys, counts, n)]
}

function mergeWide(
  a: Float64Array,
  b: Float64Array,
  aCounts: Uint32Array,
  bCounts: Uint32Array,
  keys: Float64Array,
  counts: Uint32Array,
): [Keys, number] {
  let i = 0
  let j = 0
  let n = 0
  while (i < a.length && j < b.length) {
    const x = a[i]!
    const y = b[j]!
    keys[n] = Math.min(x, y)
    counts[n++] = (x <= y ? aCounts[i]! : 0) + (y <= x ? bCounts[j]! : 0)
    i += x <= y ? 1 : 0
    j += y <= x ? 1 : 0
  }
  return [keys, appendRest(a, b, aCounts, bCounts, i, j, keys, counts, n)]
}

/** What is left of one of the lists, once the other is at its end; returns how long the whole is. */
function appendRest(
  a: Keys,
  b: Keys,
  aCounts: Uint32Array,
  bCounts: Uint32Array,
  i: number,
  j: number,
  keys: Keys,
  counts: Uint32Array,
  n: number,
): number {
  keys.set(a.subarray(i), n)
  counts.set(aCounts.subarray(i), n)
  const rest = n + a.length - i
  keys.set(b.subarray(j), rest)
  counts.set(bCounts.subarray(j), rest)
  return rest + b.length - j
}
