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
  /** only the patterns of one of so many parts, which take about the same time and are all of them together */
  part?: { k: number; of: number } | undefined
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
  all: Sequences,
  inA: Uint8Array,
  { least, longest, gap, most, part }: MiningOptions,
): { patterns: MinedPattern[]; complete: boolean } {
  const isOften = (a: number, b: number) => (a > 0 && a >= least[0]) || (b > 0 && b >= least[1])
  const isFree = !Number.isFinite(gap)
  const patterns: MinedPattern[] = []
  let complete = true
  // Where anything may lie in between, what is rare is in nobody's way.
  const { sequences, itemOf } = isFree
    ? withoutRare(all, inA, isOften)
    : { sequences: all, itemOf: undefined }
  const looks = isFree ? anyGap(sequences, inA) : limitedGap(sequences, inA, gap)
  /**
   * @param from  from here to below `to` lie the places after which the prefix goes on
   * @param free  from here on nothing lies that is still needed
   */
  const grow = (prefix: readonly number[], from: number, to: number, free: number): void => {
    let frequent = looks.count(from, to, !prefix.length).filter(({ a, b }) => isOften(a, b))
    if (part && !prefix.length) frequent = ofPart(frequent, part)
    frequent.sort((one, other) => one.item - other.item)
    const isFollowed = prefix.length + 1 < longest && frequent.length > 0
    let end = free
    if (isFollowed) {
      const starts = frequent.map(({ places }) => (end += places) - places)
      looks.place(from, to, !prefix.length, { items: frequent.map(({ item }) => item), starts, end })
    }
    let own = free
    for (const { item, a, b, places } of frequent) {
      if (patterns.length === most) {
        complete = false
        return
      }
      const pattern = [...prefix, itemOf ? itemOf[item]! : item]
      patterns.push({ items: pattern, a, b })
      if (isFollowed) grow(pattern, own, own + places, end)
      own += places
    }
  }
  const count = sequences.first.length - 1
  grow([], 0, count, count)
  return { patterns, complete }
}

/** Those items with which the patterns of one part begin: in turn there and back, beginning with the one most often met. */
function ofPart<One extends { item: number; places: number }>(
  frequent: readonly One[],
  { k, of }: { k: number; of: number },
): One[] {
  const ordered = [...frequent].sort((one, other) => other.places - one.places || one.item - other.item)
  return ordered.filter((_, rank) => {
    const turn = rank % (2 * of)
    return (turn < of ? turn : 2 * of - 1 - turn) === k
  })
}

/**
 * How patterns are followed: places after which they go on are numbered, the first ones those where the sequences begin, and
 * those of a pattern lie below those of what grows out of it.
 */
interface Looks {
  /** items that are met after the places from one number to below another, by how many sequences of each set, and where they end */
  count(from: number, to: number, isStart: boolean): { item: number; a: number; b: number; places: number }[]
  /** numbers the places after some of these items, those of each from its start on, all below the end */
  place(from: number, to: number, isStart: boolean, followed: Followed): void
}

interface Followed {
  items: readonly number[]
  starts: readonly number[]
  end: number
}

function withRoom<C extends Int32Array | Uint32Array>(column: C, length: number): C {
  if (length <= column.length) return column
  const more = new (column.constructor as new (length: number) => C)(2 * length)
  more.set(column)
  return more
}

const codesIn = (items: Uint32Array) => items.reduce((high, item) => Math.max(high, item), -1) + 1

/** Behind the last item of a sequence. */
const END = -1

/**
 * The first time that an item follows is all that counts: where the same one before it lies in front of the place. What is
 * read of a place lies together, since places are all over memory: its item, the place of the same one before it, plus 1 (0 =
 * none), and so on to the end of the sequence. Sequences of the first set come first, so that places tell the set.
 */
function anyGap({ items, first }: Sequences, inA: Uint8Array): Looks {
  const codes = codesIn(items)
  const count = first.length - 1
  const read = new Int32Array(2 * (items.length + count))
  const last = new Int32Array(codes)
  let ends = new Int32Array(Math.max(64, count))
  let length = 0
  let begun = 0
  let endOfA = 0
  for (const set of [1, 0]) {
    for (let k = 0; k < count; k++) {
      if (inA[k] !== set) continue
      const start = length
      ends[begun++] = start
      for (let at = first[k]!; at < first[k + 1]!; at++) {
        const item = items[at]!
        read[2 * length] = item
        read[2 * length + 1] = last[item]! > start ? last[item]! : 0
        last[item] = ++length
      }
      read[2 * length++] = END
    }
    if (set) endOfA = length
  }
  const [ofA, ofB, next] = [new Int32Array(codes), new Int32Array(codes), new Int32Array(codes)]
  return {
    count(from, to) {
      for (let k = from; k < to; k++) {
        const start = ends[k]!
        const counts = start < endOfA ? ofA : ofB
        for (let at = 2 * start, item = read[at]!; item !== END; item = read[(at += 2)]!)
          // 1 where it is the first one; a jump that goes either way would cost more than all the rest.
          counts[item]! += (read[at + 1]! - start - 1) >>> 31
      }
      const met: { item: number; a: number; b: number; places: number }[] = []
      for (let item = 0; item < codes; item++) {
        const [a, b] = [ofA[item]!, ofB[item]!]
        if (a + b) met.push({ item, a, b, places: a + b })
      }
      ofA.fill(0)
      ofB.fill(0)
      return met
    },
    place(from, to, _isStart, { items: followed, starts, end }) {
      ends = withRoom(ends, end)
      const own = ends
      // 0 is where the first sequence begins: nothing is put there.
      next.fill(0)
      followed.forEach((item, k) => (next[item] = starts[k]!))
      for (let k = from; k < to; k++) {
        const start = own[k]!
        for (let at = 2 * start, item = read[at]!; item !== END; item = read[(at += 2)]!) {
          if (read[at + 1]! > start) continue
          const place = next[item]!
          if (place === 0) continue
          own[place] = (at >>> 1) + 1
          next[item] = place + 1
        }
      }
    },
  }
}

/** A pattern may end at several places of a sequence, and all of them are followed; each counts once where they overlap. */
function limitedGap({ items, first }: Sequences, inA: Uint8Array, gap: number): Looks {
  const codes = codesIn(items)
  const column = () => new Uint32Array(codes)
  const [ofA, ofB, placed, next] = [column(), column(), column(), column()]
  /** by item the place where it was met last, and the sequence, each plus 1 */
  const [lastPlace, lastWithin] = [column(), column()]
  /** by number of a place where it is, and in which sequence */
  let ends = first.slice(0, -1)
  let within = ends.map((_, k) => k)
  const visit = (
    from: number,
    to: number,
    isStart: boolean,
    meet: (at: number, sequence: number) => void,
  ) => {
    lastPlace.fill(0)
    for (let k = from; k < to; k++) {
      const sequence = within[k]!
      const last = first[sequence + 1]!
      // A pattern begins anywhere.
      const end = isStart ? last : Math.min(last, ends[k]! + gap + 1)
      for (let at = ends[k]!; at < end; at++) {
        if (lastPlace[items[at]!]! > at) continue
        lastPlace[items[at]!] = at + 1
        meet(at, sequence)
      }
    }
  }
  return {
    count(from, to, isStart) {
      const met: number[] = []
      lastWithin.fill(0)
      visit(from, to, isStart, (at, sequence) => {
        const item = items[at]!
        if (placed[item]!++ === 0) met.push(item)
        if (lastWithin[item] === sequence + 1) return
        lastWithin[item] = sequence + 1
        if (inA[sequence]) ofA[item]!++
        else ofB[item]!++
      })
      const found = met.map((item) => ({ item, a: ofA[item]!, b: ofB[item]!, places: placed[item]! }))
      for (const item of met) ofA[item] = ofB[item] = placed[item] = 0
      return found
    },
    place(from, to, isStart, { items: followed, starts, end }) {
      ends = withRoom(ends, end)
      within = withRoom(within, end)
      next.fill(0)
      followed.forEach((item, k) => (next[item] = starts[k]!))
      visit(from, to, isStart, (at, sequence) => {
        const place = next[items[at]!]!
        if (place === 0) return
        ends[place] = at + 1
        within[place] = sequence
        next[items[at]!] = place + 1
      })
    },
  }
}

/** Sequences of those items alone that are often met at all, numbered in their order. */
function withoutRare(
  { items, first }: Sequences,
  inA: Uint8Array,
  isOften: (a: number, b: number) => boolean,
): { sequences: Sequences; itemOf: number[] } {
  const codes = codesIn(items)
  const [ofA, ofB, met] = [new Uint32Array(codes), new Uint32Array(codes), new Uint32Array(codes)]
  for (let k = 0; k + 1 < first.length; k++)
    for (let at = first[k]!; at < first[k + 1]!; at++) {
      const item = items[at]!
      if (met[item] === k + 1) continue
      met[item] = k + 1
      if (inA[k]) ofA[item]!++
      else ofB[item]!++
    }
  const itemOf: number[] = []
  const codeOf = Int32Array.from(ofA, (a, item) => (isOften(a, ofB[item]!) ? itemOf.push(item) - 1 : -1))
  const kept = new Uint32Array(items.length)
  const starts = new Uint32Array(first.length)
  let length = 0
  for (let k = 0; k + 1 < first.length; k++) {
    for (let at = first[k]!; at < first[k + 1]!; at++) {
      const code = codeOf[items[at]!]!
      if (code >= 0) kept[length++] = code
    }
    starts[k + 1] = length
  }
  return { sequences: { items: kept.slice(0, length), first: starts }, itemOf }
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
