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
  const free = Number.isFinite(gap)
    ? (ends: ArrayLike<number>) => followWithin(ends)
    : (ends: ArrayLike<number>) => followAnywhere(ends)

  /** By item the places where patterns end that grow by it, in ascending order, and in how many sequences of each set. */
  interface Grown {
    ends: number[]
    a: number
    b: number
    last: number
  }
  const note = (grown: Map<number, Grown>, at: number) => {
    const item = items[at]!
    let own = grown.get(item)
    if (!own) grown.set(item, (own = { ends: [], a: 0, b: 0, last: -1 }))
    const { ends } = own
    if (ends.length && ends[ends.length - 1]! >= at) return own
    const sequence = sequenceOf[at]!
    if (own.last !== sequence) {
      own.last = sequence
      if (inA[sequence]) own.a++
      else own.b++
    }
    ends.push(at)
    return own
  }
  function followWithin(ends: ArrayLike<number>): Map<number, Grown> {
    const grown = new Map<number, Grown>()
    for (let k = 0; k < ends.length; k++) {
      const end = ends[k]!
      const to = Math.min(first[sequenceOf[end]! + 1]!, end + gap + 2)
      for (let at = end + 1; at < to; at++) note(grown, at)
    }
    return grown
  }
  /** by item the sequence in which it was met last, plus 1, and a mark of the pattern that looked */
  const metIn = new Uint32Array(codes)
  const metBy = new Uint32Array(codes)
  let looks = 0
  function followAnywhere(ends: ArrayLike<number>): Map<number, Grown> {
    const grown = new Map<number, Grown>()
    looks++
    for (let k = 0; k < ends.length; k++) {
      const end = ends[k]!
      const sequence = sequenceOf[end]!
      const to = first[sequence + 1]!
      for (let at = end + 1; at < to; at++) {
        const item = items[at]!
        if (metBy[item] === looks && metIn[item] === sequence + 1) continue
        metBy[item] = looks
        metIn[item] = sequence + 1
        note(grown, at)
      }
    }
    return grown
  }
  const grow = (prefix: number[], grown: Map<number, Grown>): void => {
    const frequent = [...grown]
      .filter(([, { a, b }]) => (a > 0 && a >= least[0]) || (b > 0 && b >= least[1]))
      .sort(([one], [other]) => one - other)
    for (const [item, { ends, a, b }] of frequent) {
      if (patterns.length === most) {
        complete = false
        return
      }
      const pattern = [...prefix, item]
      patterns.push({ items: pattern, a, b })
      if (pattern.length < longest) grow(pattern, free(ends))
    }
  }
  // At first everything may begin a pattern: without a limit of the gap at its first place in each sequence.
  const begun = new Map<number, Grown>()
  looks++
  for (let at = 0; at < items.length; at++) {
    const item = items[at]!
    const sequence = sequenceOf[at]! + 1
    if (!Number.isFinite(gap) && metBy[item] === looks && metIn[item] === sequence) continue
    metBy[item] = looks
    metIn[item] = sequence
    note(begun, at)
  }
  grow([], begun)
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
