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
  /** of the digits; a power of two, so that digits are bits */
  readonly base: number
  /** base ** 0, base ** 1 and so on up to the depth: what makes a path that ends early as long as the others */
  readonly powers: readonly number[]
  #keys: Keys
  /** how many there are */
  length = 0

  constructor(groups: number, depth: number) {
    this.base = 2 ** digitBits(groups)
    this.powers = Array.from({ length: depth + 1 }, (_, d) => this.base ** d)
    const bits = digitBits(groups) * depth
    this.#keys = bits <= NARROW_BITS ? new Int32Array(1024) : new Float64Array(1024)
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

  counted(): CountedKeys {
    const keys = sorted(this.#keys.subarray(0, this.length), this.powers[this.powers.length - 1]!)
    const counts = new Uint32Array(keys.length)
    let n = 0
    for (let i = 0; i < keys.length; i++) {
      if (n === 0 || keys[i] !== keys[n - 1]) keys[n++] = keys[i]!
      counts[n - 1]!++
    }
    return { keys: keys.slice(0, n), counts: counts.slice(0, n) }
  }
}

/** Numbers of so many bits are held as 32-bit integers above 0; wider ones as what holds whole numbers exactly. */
const NARROW_BITS = 31
const WIDE_BITS = 53

/** Bits of one digit: a page group plus 1, or 0. */
function digitBits(groups: number): number {
  return Math.ceil(Math.log2(groups + 1))
}

function longer<C extends Keys>(column: C, length: number): C {
  const more = (column instanceof Int32Array ? new Int32Array(length) : new Float64Array(length)) as C
  more.set(column)
  return more
}

/** Bits that are sorted by at once: places for all their values stay near the processor. */
const DIGIT = 10
const FEW = 4096

/**
 * In ascending order; narrow ones digit by digit, which is several times as fast.
 *
 * @param most  no number is as large as this
 */
function sorted(keys: Keys, most: number): Keys {
  if (!(keys instanceof Int32Array) || keys.length < FEW) return keys.sort()
  const bits = Math.ceil(Math.log2(most))
  const passes = Math.ceil(bits / DIGIT)
  const digit = Math.ceil(bits / passes)
  const mask = (1 << digit) - 1
  let from: Int32Array = keys
  let to: Int32Array = new Int32Array(keys.length)
  for (let pass = 0; pass < passes; pass++) {
    const shift = pass * digit
    const places = new Uint32Array(mask + 2)
    for (let i = 0; i < from.length; i++) places[((from[i]! >>> shift) & mask) + 1]!++
    for (let d = 0; d < mask; d++) places[d + 1]! += places[d]!
    for (let i = 0; i < from.length; i++) to[places[(from[i]! >>> shift) & mask]!++] = from[i]!
    ;[from, to] = [to, from]
  }
  return from
}

/** Two lists as one. */
export function mergeCounted(a: CountedKeys, b: CountedKeys): CountedKeys {
  const length = a.keys.length + b.keys.length
  const keys = a.keys instanceof Int32Array ? new Int32Array(length) : new Float64Array(length)
  const counts = new Uint32Array(length)
  let i = 0
  let j = 0
  let n = 0
  while (i < a.keys.length && j < b.keys.length) {
    const x = a.keys[i]!
    const y = b.keys[j]!
    if (x === y) {
      keys[n] = x
      counts[n++] = a.counts[i++]! + b.counts[j++]!
    } else if (x < y) {
      keys[n] = x
      counts[n++] = a.counts[i++]!
    } else {
      keys[n] = y
      counts[n++] = b.counts[j++]!
    }
  }
  const [rest, at] = i < a.keys.length ? [a, i] : [b, j]
  keys.set(rest.keys.subarray(at), n)
  counts.set(rest.counts.subarray(at), n)
  n += rest.keys.length - at
  return { keys: keys.subarray(0, n), counts: counts.subarray(0, n) }
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
}

/** Those places of a tree that are listed, in the order of TreeColumns, and how many sessions came through each. */
export interface ListedPlaces extends Omit<TreeColumns, 'clicks'> {
  sessions: Uint32Array
  /** how many places there are in the whole tree, the root left out */
  places: number
}

/** The tree of paths in ascending order: each differs from the one before from some place on. */
export function treeOf({ keys, counts }: CountedKeys, groups: number, depth: number): TreeColumns {
  const bits = digitBits(groups)
  const { shared, ends } =
    keys instanceof Int32Array ? narrowPlaces(keys, bits, depth) : widePlaces(keys, bits, depth)
  let size = 1
  for (let i = 0; i < keys.length; i++) size += ends[i]! - shared[i]!
  const parent = new Uint32Array(size)
  const code = new Uint32Array(size)
  const ended = new Uint32Array(size)
  const shifts = Uint8Array.from({ length: depth }, (_, level) => bits * (depth - 1 - level))
  const worth = Float64Array.from(shifts, (shift) => 2 ** shift)
  const base = 2 ** bits
  /** nodes on the way to the path before */
  const way = new Uint32Array(depth + 1)
  let node = 1
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    const end = ends[i]!
    for (let level = shared[i]!; level < end; level++) {
      parent[node] = way[level]!
      code[node] =
        (keys instanceof Int32Array
          ? (key >>> shifts[level]!) & (base - 1)
          : Math.floor(key / worth[level]!) % base) - 1
      way[level + 1] = node++
    }
    ended[way[end]!] = counts[i]!
  }
  return { parent, code, ended, clicks: [] }
}

/** Of each path how many digits it shares with the one before from the first on, and how many it has. */
interface PathPlaces {
  shared: Uint8Array
  ends: Uint8Array
}

function narrowPlaces(keys: Int32Array, bits: number, depth: number): PathPlaces {
  const shared = new Uint8Array(keys.length)
  const ends = new Uint8Array(keys.length)
  /** by place of a bit, from the lowest: the digit it is in, from the first */
  const digitOf = Uint8Array.from({ length: 32 }, (_, place) =>
    Math.max(0, depth - 1 - Math.floor(place / bits)),
  )
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    if (i > 0) shared[i] = digitOf[31 - Math.clz32(key ^ keys[i - 1]!)]!
    ends[i] = key === 0 ? 0 : digitOf[31 - Math.clz32(key & -key)]! + 1
  }
  return { shared, ends }
}

function widePlaces(keys: Float64Array, bits: number, depth: number): PathPlaces {
  const worth = Float64Array.from({ length: depth + 1 }, (_, level) => 2 ** (bits * (depth - level)))
  const shared = new Uint8Array(keys.length)
  const ends = new Uint8Array(keys.length)
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    const before = i > 0 ? keys[i - 1]! : 0
    let level = i > 0 ? depth - 1 : 0
    while (Math.floor(key / worth[level]!) !== Math.floor(before / worth[level]!)) level--
    shared[i] = level
    let end = 0
    while (key % worth[end]! !== 0) end++
    ends[i] = end
  }
  return { shared, ends }
}

/**
 * The places of a tree with the most sessions, at most so many besides the root, in its order; equally rare ones are all
 * listed or none. null = all.
 */
export function listedOf(
  { parent, code, ended }: Omit<TreeColumns, 'clicks'>,
  most: number | null,
): ListedPlaces {
  const sessions = ended.slice()
  // From the end every node is whole before it counts for its parent.
  for (let node = sessions.length - 1; node > 0; node--) sessions[parent[node]!]! += sessions[node]!
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
