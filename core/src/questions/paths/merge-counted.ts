import type { CountedKeys } from './counted.ts'
import { memory } from './memory.ts'

/** Two lists of paths of as many numbers as one. */
export function mergeCounted(a: CountedKeys, b: CountedKeys): CountedKeys {
  if (a.more.length > 0) return mergeLong(a, b)
  const length = a.keys.length + b.keys.length
  const counts = new Uint32Array(length)
  const keys = new Int32Array(length)
  const n = mergeNarrow(a.keys, b.keys, a.counts, b.counts, keys, counts)
  return { keys: keys.subarray(0, n), more: [], counts: counts.subarray(0, n) }
}

/** Merges branch-free, and returns how many there are: which of two keys is the lower is unpredictable, and mispredicted branches would dominate. */
function mergeNarrow(
  a: Int32Array,
  b: Int32Array,
  aCounts: Uint32Array,
  bCounts: Uint32Array,
  keys: Int32Array,
  counts: Uint32Array,
): number {
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
  append(counts, n, aCounts.subarray(i), bCounts.subarray(j))
  return append(keys, n, a.subarray(i), b.subarray(j))
}

/** The same of paths that take several numbers: which comes next is found first, then each column is put together. */
function mergeLong(a: CountedKeys, b: CountedKeys): CountedKeys {
  const ownA = [a.keys, ...a.more]
  const ownB = [b.keys, ...b.more]
  const most = a.keys.length + b.keys.length
  const counts = new Uint32Array(most)
  /** the place in a, or so many before -1 as its place in b */
  const next = memory.take(most)
  let i = 0
  let j = 0
  let n = 0
  while (i < a.keys.length && j < b.keys.length) {
    const order = compared(ownA, i, ownB, j)
    next[n] = order > 0 ? -1 - j : i
    counts[n++] = (order <= 0 ? a.counts[i]! : 0) + (order >= 0 ? b.counts[j]! : 0)
    i += order <= 0 ? 1 : 0
    j += order >= 0 ? 1 : 0
  }
  for (; i < a.keys.length; i++) {
    next[n] = i
    counts[n++] = a.counts[i]!
  }
  for (; j < b.keys.length; j++) {
    next[n] = -1 - j
    counts[n++] = b.counts[j]!
  }
  const [keys, ...more] = ownA.map((column, w) => gathered(column, ownB[w]!, next, n))
  memory.giveBack(next)
  return { keys: keys!, more, counts: counts.subarray(0, n) }
}

/** Below 0 where row i of one comes before row j of the other, 0 where they are equal. */
function compared(one: readonly Int32Array[], i: number, other: readonly Int32Array[], j: number): number {
  for (let w = 0; w < one.length; w++) {
    const differ = one[w]![i]! - other[w]![j]!
    if (differ !== 0) return differ
  }
  return 0
}

function gathered(a: Int32Array, b: Int32Array, next: Int32Array, length: number): Int32Array {
  const column = new Int32Array(length)
  for (let k = 0; k < length; k++) column[k] = next[k]! < 0 ? b[-1 - next[k]!]! : a[next[k]!]!
  return column
}

/** What is left of one of two lists, once the other is at its end; returns how long the whole is. */
function append(
  column: Int32Array | Uint32Array,
  from: number,
  ...rests: (Int32Array | Uint32Array)[]
): number {
  let length = from
  for (const rest of rests) {
    column.set(rest, length)
    length += rest.length
  }
  return length
}
