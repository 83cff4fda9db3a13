/** Sequences of items one after another: sequence k lies at first[k] <= i < first[k + 1] in items. */
export interface Sequences {
  items: Uint32Array
  first: Uint32Array
}

export interface MiningOptions {
  /** a pattern is frequent that so many sequences of one of the two sets hold */
  least: readonly [a: number, b: number]
  /** items of a pattern at most */
  longest: number
  /** items that may lie between one of a pattern and the next; Infinity = any number */
  gap: number
  /** patterns at most; who mines on beyond is told so */
  most: number
}

export interface MinedPattern {
  items: number[]
  /** sequences of each set that hold it */
  a: number
  b: number
}

/**
 * Patterns that many sequences hold: items in this order, with at most `gap` others between neighbours, each sequence
 * counting once. Depth first, each pattern growing by what follows its occurrences (PrefixSpan with pseudo-projection).
 * Without a limit of the gap the first place where a pattern can end is enough for each sequence; with one all places are
 * followed.
 *
 * @param inA  of each sequence whether it belongs to the first set, else to the second
 * @returns patterns in lexical order of their items; `complete` is false where there were more than `most`
 * @see Pei, Han et al. (2001), PrefixSpan, ICDE; Pei, Han, Wang (2002), constraint-based mining (gap constraints); from memory
 */
export function minePatterns(
  { items, first }: Sequences,
  inA: Uint8Array,
  { least, longest, gap, most }: MiningOptions,
): { patterns: MinedPattern[]; complete: boolean } {
  const sequenceOf = new Uint32Array(items.length)
  for (let k = 0; k + 1 < first.length; k++) sequenceOf.fill(k, first[k], first[k + 1])
  const patterns: MinedPattern[] = []
  let complete = true
  const codes = items.reduce((high, item) => Math.max(high, item), -1) + 1
  const isFree = !Number.isFinite(gap)
  /** by item: which look met it last and in which sequence, plus 1; and in how many sequences of each set that look did */
  const metBy = new Uint32Array(codes)
  const metIn = new Uint32Array(codes)
  const ofA = new Uint32Array(codes)
  const ofB = new Uint32Array(codes)
  let looks = 0

  /** Whether an item is met for the first time in its sequence by this look. */
  const isFirst = (at: number): boolean => {
    const item = items[at]!
    const sequence = sequenceOf[at]! + 1
    if (metBy[item] === looks && metIn[item] === sequence) return false
    metBy[item] = looks
    metIn[item] = sequence
    return true
  }
  /** Visits all places, in ascending order within a sequence, where a pattern that ends at these may go on. */
  const follow = (ends: ArrayLike<number>, visit: (at: number) => void) => {
    for (let k = 0; k < ends.length; k++) {
      const end = ends[k]!
      const last = first[sequenceOf[end]! + 1]!
      const to = isFree ? last : Math.min(last, end + gap + 2)
      for (let at = end + 1; at < to; at++) visit(at)
    }
  }
  /** The items that enough sequences hold there, in their order. */
  const frequentAt = (places: (visit: (at: number) => void) => void) => {
    looks++
    const met: number[] = []
    places((at) => {
      const item = items[at]!
      if (metBy[item] !== looks) {
        met.push(item)
        ofA[item] = ofB[item] = 0
      }
      if (!isFirst(at)) return
      if (inA[sequenceOf[at]!]) ofA[item]!++
      else ofB[item]!++
    })
    return met
      .map((item) => ({ item, a: ofA[item]!, b: ofB[item]! }))
      .filter(({ a, b }) => (a > 0 && a >= least[0]) || (b > 0 && b >= least[1]))
      .sort((one, other) => one.item - other.item)
  }
  const grow = (prefix: number[], places: (visit: (at: number) => void) => void): void => {
    const frequent = frequentAt(places)
    if (!frequent.length) return
    // Where they end matters only to what grows further: mostly the last ones do not, and they are the most.
    const ends = new Map<number, number[]>()
    if (prefix.length + 1 < longest) {
      for (const { item } of frequent) ends.set(item, [])
      looks++
      places((at) => {
        const own = ends.get(items[at]!)
        if (!own) return
        if (isFree ? isFirst(at) : !(own[own.length - 1]! >= at)) own.push(at)
      })
    }
    for (const { item, a, b } of frequent) {
      if (patterns.length === most) {
        complete = false
        return
      }
      const pattern = [...prefix, item]
      patterns.push({ items: pattern, a, b })
      const own = ends.get(item)
      if (own) grow(pattern, (visit) => follow(own, visit))
      ends.delete(item)
    }
  }
  grow([], (visit) => {
    for (let at = 0; at < items.length; at++) visit(at)
  })
  return { patterns, complete }
}

/**
 * Those patterns that say something of their own: none that holds one of them, and one item more, is held by exactly as
 * many sequences of either set (closed patterns, among those that were mined).
 *
 * @see Wang, Han (2004), BIDE, ICDE (from memory)
 */
export function closedPatterns(patterns: readonly MinedPattern[]): MinedPattern[] {
  const key = ({ items, a, b }: MinedPattern) => `${a} ${b}: ${items.join()}`
  const swallowed = new Set<string>()
  for (const { items, a, b } of patterns)
    for (let left = 0; left < items.length; left++)
      swallowed.add(key({ items: items.filter((_, k) => k !== left), a, b }))
  return patterns.filter((pattern) => !swallowed.has(key(pattern)))
}
