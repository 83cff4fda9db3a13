/** Adds the counts of b to those of a, key by key; a is changed and returned. */
export function addCounts<K>(a: Map<K, number>, b: ReadonlyMap<K, number>): Map<K, number> {
  for (const [key, n] of b) a.set(key, (a.get(key) ?? 0) + n)
  return a
}

/** Counts one more of a key. */
export function addOne<K>(counts: Map<K, number>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1)
}

/** Adds the numbers of b to those of a, place by place; a is changed. */
export function addColumn(a: Float64Array, b: Float64Array): void {
  for (let k = 0; k < a.length; k++) a[k]! += b[k]!
}
