import { firstAtLeast } from '../sets/ascending.ts'

/** Whole numbers, as narrow as they may be. */
export type Keys = Int32Array | Float64Array

/** Different paths in ascending order, and how many sessions took each. */
export interface CountedKeys {
  keys: Keys
  counts: Uint32Array
}

/**
 * Whole paths, each as one number: its page groups plus 1 as digits, the first one the highest, 0 for nothing further.
 * Sorting numbers and counting equal ones takes a fraction of the time that finding places in a tree does.
 */
export class PathKeys {
  /** of a digit */
  readonly bits: number
  readonly #depth: number
  #keys: Keys
  /** how many there are */
  length = 0

  constructor(groups: number, depth: number) {
    this.bits = digitBits(groups)
    this.#depth = depth
    this.#keys = this.bits * depth <= NARROW_BITS ? take(1024) : new Float64Array(1024)
  }

  /** Whether whole paths of such a depth fit into numbers. */
  static fit(groups: number, depth: number): boolean {
    return digitBits(groups) * depth <= WIDE_BITS
  }

  /** The numbers, with room for so many more after the first `length`, which grows with what is written there. */
  withRoomFor(more: number): Keys {
    const needed = this.length + more
    if (needed > this.#keys.length) this.#keys = longer(this.#keys, Math.max(needed, 2 * this.#keys.length))
    return this.#keys
  }

  /** The different ones in ascending order, and how often each is there; none is left here. */
  counted(): CountedKeys {
    const held = this.#keys
    const keys = held.subarray(0, this.length)
    this.#keys = held.subarray(0, 0)
    this.length = 0
    if (keys instanceof Float64Array) return countedWide(keys.sort())
    const counted = countedNarrow(keys, this.bits * this.#depth)
    giveBack(held as Int32Array)
    return counted
  }
}

/** Memory for the next ones, the shortest first: fresh memory takes longer than what is written there. */
const spare: Int32Array[] = []
const MOST_SPARE = 8
/** What is longer is let go: 16 MB. */
const MOST_LENGTH = 2 ** 22

function take(length: number): Int32Array {
  const at = spare.findIndex((one) => one.length >= length)
  return at < 0 ? new Int32Array(length) : spare.splice(at, 1)[0]!
}

function giveBack(memory: Int32Array): void {
  if (memory.length > MOST_LENGTH) return
  spare.push(memory)
  spare.sort((a, b) => a.length - b.length)
  if (spare.length > MOST_SPARE) spare.shift()
}

/** Numbers of so many bits are held as 32-bit integers above 0; wider ones as what holds whole numbers exactly. */
const NARROW_BITS = 31
const WIDE_BITS = 53

/** Bits of one digit: a page group plus 1, or 0. */
function digitBits(groups: number): number {
  return Math.ceil(Math.log2(groups + 1))
}

function longer(held: Keys, length: number): Keys {
  if (held instanceof Float64Array) {
    const more = new Float64Array(length)
    more.set(held)
    return more
  }
  const more = take(length)
  more.set(held)
  giveBack(held)
  return more
}

const FEW = 4096
/** Bits that are sorted by at once: as many as pay for going through all places, which are to stay near the processor. */
const DIGIT = 10
const LONG_DIGIT = 15
const LONG = 65_536

/** Counts equal keys of so many bits, whose order is lost. */
function countedNarrow(keys: Int32Array, bits: number): CountedKeys {
  const { length } = keys
  const other = take(length)
  const sorted = length < FEW ? keys.sort() : sortedBits(keys, other.subarray(0, length), bits)
  /** where the last of those equal to a different one lies, plus 1, in what is free again */
  const ends = sorted === keys ? other : keys
  let n = -1
  let last = -1
  for (let i = 0; i < length; i++) {
    const key = sorted[i]!
    // Up by one where the key is another one: nobody can guess whether it is.
    const unlike = key ^ last
    n += (unlike | (0 - unlike)) >>> 31
    last = key
    sorted[n] = key
    ends[n] = i + 1
  }
  const different = sorted.slice(0, n + 1)
  const counts = new Uint32Array(n + 1)
  for (let k = n; k >= 0; k--) counts[k] = ends[k]! - (k > 0 ? ends[k - 1]! : 0)
  giveBack(other)
  return { keys: different, counts }
}

/** by value of a digit how many there are, then where the next of them goes */
const places = new Uint32Array(1 << LONG_DIGIT)

/** Sorts digit by digit, which is several times as fast as by comparing; returns the list where they came to lie. */
function sortedBits(keys: Int32Array, other: Int32Array, bits: number): Int32Array {
  const passes = Math.ceil(bits / (keys.length < LONG ? DIGIT : LONG_DIGIT))
  const digit = Math.ceil(bits / passes)
  let from = keys
  let to = other
  for (let pass = 0; pass < passes; pass++) {
    sortByDigit(from, to, pass * digit, (1 << digit) - 1)
    ;[from, to] = [to, from]
  }
  return from
}

function sortByDigit(from: Int32Array, to: Int32Array, shift: number, mask: number): void {
  places.fill(0, 0, mask + 1)
  for (let i = 0; i < from.length; i++) {
    const digit = (from[i]! >>> shift) & mask
    places[digit] = places[digit]! + 1
  }
  let before = 0
  for (let digit = 0; digit <= mask; digit++) {
    const count = places[digit]!
    places[digit] = before
    before += count
  }
  for (let i = 0; i < from.length; i++) {
    const key = from[i]!
    const digit = (key >>> shift) & mask
    const place = places[digit]!
    to[place] = key
    places[digit] = place + 1
  }
}

function countedWide(sorted: Float64Array): CountedKeys {
  const counts = new Uint32Array(sorted.length)
  let n = 0
  for (let i = 0; i < sorted.length; i++) {
    if (n === 0 || sorted[i] !== sorted[n - 1]) sorted[n++] = sorted[i]!
    counts[n - 1]!++
  }
  return { keys: sorted.slice(0, n), counts: counts.slice(0, n) }
}

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

/** Merges without asking which of two keys is the lower: nobody can guess, and wrong guesses take the longest. */
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

/** A tree as columns: node 0 is the root, every other comes after its parent. */
export interface TreeColumns {
  parent: Uint32Array
  /** page group; a click is the number of groups plus its place in `clicks` */
  code: Uint32Array
  /** sessions whose path ends at the node */
  ended: Uint32Array
  /** page group × FAMILIES + element family */
  clicks: number[]
  /** sessions that came through the node, where they are counted already */
  sessions?: Uint32Array
}

/** Those places of a tree that are listed, in the order of TreeColumns, and how many sessions came through each. */
export interface ListedPlaces extends Omit<TreeColumns, 'clicks' | 'sessions'> {
  sessions: Uint32Array
  /** how many places there are in the whole tree, the root left out */
  places: number
}

/** The tree of paths in ascending order: each differs from the one before from some place on. */
export function treeOf({ keys, counts }: CountedKeys, groups: number, depth: number): TreeColumns {
  const bits = digitBits(groups)
  const most = depth * keys.length + 1
  const tree = { parent: take(most), code: take(most), end: take(keys.length) }
  const last =
    keys instanceof Int32Array ? narrowTree(keys, bits, depth, tree) : wideTree(keys, bits, depth, tree)
  tree.parent[0] = tree.code[0] = 0
  const ended = new Uint32Array(last + 1)
  for (let i = 0; i < keys.length; i++) ended[tree.end[i]!] = counts[i]!
  const columns = {
    parent: copyOf(tree.parent, last + 1),
    code: copyOf(tree.code, last + 1),
    ended,
    clicks: [],
  }
  for (const memory of Object.values(tree)) giveBack(memory)
  return columns
}

/** A tree that is being made. */
interface NewTree {
  parent: Int32Array
  code: Int32Array
  /** by path: the node where it ends */
  end: Int32Array
}

/** Makes the nodes; returns the last one. */
function narrowTree(keys: Int32Array, bits: number, depth: number, { parent, code, end }: NewTree): number {
  /** by place of a bit, from the lowest: the digit it is in, from the first */
  const digitOf = Uint8Array.from({ length: 32 }, (_, place) =>
    Math.max(0, depth - 1 - Math.floor(place / bits)),
  )
  /** nodes on the way to the path before */
  const way = new Int32Array(depth + 1)
  let node = 0
  let before = 0
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    let level = i > 0 ? digitOf[31 - Math.clz32(key ^ before)]! : 0
    let behind = (depth - 1 - level) * bits
    /** the digits from the level on: the first lies above so many bits */
    let rest = key & ~(-1 << (behind + bits))
    before = key
    while (rest !== 0) {
      node++
      parent[node] = way[level]!
      code[node] = (rest >>> behind) - 1
      way[++level] = node
      rest &= ~(-1 << behind)
      behind -= bits
    }
    end[i] = node
  }
  return node
}

/** The same with numbers that have more bits than operators take. */
function wideTree(keys: Float64Array, bits: number, depth: number, { parent, code, end }: NewTree): number {
  const worth = Float64Array.from({ length: depth }, (_, level) => 2 ** (bits * (depth - 1 - level)))
  const base = 2 ** bits
  const way = new Int32Array(depth + 1)
  let node = 0
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    let level = 0
    if (i > 0) while (Math.floor(key / worth[level]!) === Math.floor(keys[i - 1]! / worth[level]!)) level++
    for (; level < depth; level++) {
      const digit = Math.floor(key / worth[level]!) % base
      if (digit === 0) break
      node++
      parent[node] = way[level]!
      code[node] = digit - 1
      way[level + 1] = node
    }
    end[i] = node
  }
  return node
}

function copyOf(memory: Int32Array, length: number): Uint32Array {
  return new Uint32Array(memory.buffer as ArrayBuffer, 0, length).slice()
}

/**
 * The places of a tree with the most sessions, at most so many besides the root, in its order; equally rare ones are all
 * listed or none. null = all.
 */
export function listedOf(columns: Omit<TreeColumns, 'clicks'>, most: number | null): ListedPlaces {
  const { parent, code, ended } = columns
  const sessions = columns.sessions ?? cameThrough(columns)
  const places = sessions.length - 1
  if (most === null || places <= most) return { parent, code, sessions, ended, places }
  const above = nthLargest(sessions.subarray(1), most)
  const nodes: number[] = [0]
  const place = new Uint32Array(sessions.length)
  for (let node = 1; node < sessions.length; node++)
    if (sessions[node]! > above) place[node] = nodes.push(node) - 1
  const of = (column: Uint32Array) => Uint32Array.from(nodes, (node) => column[node]!)
  return {
    parent: of(parent).map((node) => place[node]!),
    code: of(code),
    sessions: of(sessions),
    ended: of(ended),
    places,
  }
}

/** How many sessions came through each node. */
export function cameThrough({ parent, ended }: Pick<TreeColumns, 'parent' | 'ended'>): Uint32Array {
  const sessions = ended.slice()
  // From the end every node is whole before it counts for its parent.
  for (let node = sessions.length - 1; node > 0; node--) {
    const above = parent[node]!
    sessions[above] = sessions[above]! + sessions[node]!
  }
  return sessions
}

/**
 * Where lists of keys are cut into so many parts of about the same length, in ascending order: between paths that begin
 * with different page groups, so that trees of the parts share nothing but the root.
 */
export function cutsOf(keys: Keys, groups: number, depth: number, count: number): number[] {
  const worth = 2 ** (digitBits(groups) * (depth - 1))
  return Array.from({ length: count - 1 }, (_, k) => {
    const wanted = Math.floor((keys.length * (k + 1)) / count)
    const below = Math.floor(keys[wanted]! / worth) * worth
    const above = below + worth
    return wanted - firstAtLeast(keys, below) < firstAtLeast(keys, above) - wanted ? below : above
  })
}

/** The parts of a list between the cuts, in memory of their own. */
export function cutAt({ keys, counts }: CountedKeys, cuts: readonly number[]): CountedKeys[] {
  const places = [0, ...cuts.map((cut) => firstAtLeast(keys, cut)), keys.length]
  return places.slice(1).map((to, k) => {
    return { keys: keys.slice(places[k], to), counts: counts.slice(places[k], to) }
  })
}

/** Trees that share nothing but the root, as one. */
export function joined(trees: readonly Required<TreeColumns>[]): TreeColumns {
  const size = trees.reduce((sum, { parent }) => sum + parent.length - 1, 1)
  const column = () => new Uint32Array(size)
  const all = { parent: column(), code: column(), ended: column(), sessions: column() }
  let before = 0
  for (const { parent, code, ended, sessions } of trees) {
    if (before === 0) all.parent.set(parent)
    else
      for (let node = 1; node < parent.length; node++) {
        const above = parent[node]!
        all.parent[before + node] = above === 0 ? 0 : before + above
      }
    all.code.set(code.subarray(1), before + 1)
    all.ended.set(ended.subarray(1), before + 1)
    all.sessions.set(sessions.subarray(1), before + 1)
    all.ended[0]! += ended[0]!
    all.sessions[0]! += sessions[0]!
    before += parent.length - 1
  }
  return { ...all, clicks: [] }
}

/** The number at a place, from 0, of numbers in descending order, most of which are small. */
function nthLargest(numbers: Uint32Array, place: number): number {
  const SMALL = 4096
  const met = new Uint32Array(SMALL)
  const large: number[] = []
  for (let i = 0; i < numbers.length; i++)
    if (numbers[i]! < SMALL) met[numbers[i]!]!++
    else large.push(numbers[i]!)
  if (place < large.length) return large.sort((a, b) => b - a)[place]!
  let before = large.length
  let number = SMALL - 1
  while (before + met[number]! <= place) before += met[number--]!
  return number
}
