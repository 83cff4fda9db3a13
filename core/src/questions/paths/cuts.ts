import { digitsOf } from './path-keys.ts'

/**
 * Where lists of paths are cut into so many parts of about the same length: between paths that begin with different page
 * groups, so that trees of the parts share nothing but the root.
 *
 * @param first  the first number of each path
 */
export function cutsOf(first: Int32Array, groups: number, depth: number, count: number): number[] {
  const { bits, each } = digitsOf(groups, depth)
  const behind = bits * (each - 1) + 1
  /** by first digit plus 1 how many begin with it, then how many with a lower one */
  const below = new Uint32Array(2 ** bits + 1)
  for (let i = 0; i < first.length; i++) below[(first[i]! >>> behind) + 1]!++
  for (let digit = 1; digit < below.length; digit++) below[digit]! += below[digit - 1]!
  let digit = 0
  return Array.from({ length: count - 1 }, (_, k) => {
    const wanted = (first.length * (k + 1)) / count
    while (
      digit + 1 < below.length &&
      Math.abs(below[digit + 1]! - wanted) <= Math.abs(below[digit]! - wanted)
    )
      digit++
    return digit * 2 ** behind
  })
}

/** The parts of a list between the cuts, in memory of their own. */
export function cutAt(rows: readonly Int32Array[], cuts: readonly number[]): Int32Array[][] {
  const [first] = rows
  const { length } = first!
  const part = new Uint8Array(length)
  const sizes = new Uint32Array(cuts.length + 1)
  for (let i = 0; i < length; i++) {
    let own = 0
    for (let k = 0; k < cuts.length; k++) own += first![i]! >= cuts[k]! ? 1 : 0
    part[i] = own
    sizes[own]!++
  }
  const parts = Array.from(sizes, (size) => rows.map(() => new Int32Array(size)))
  rows.forEach((column, w) => {
    const into = parts.map((columns) => columns[w]!)
    const at = new Uint32Array(into.length)
    for (let i = 0; i < length; i++) into[part[i]!]![at[part[i]!]!++] = column[i]!
  })
  return parts
}
