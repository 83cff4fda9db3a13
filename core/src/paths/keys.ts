/** Whole numbers, as narrow as they may be. */
export type Keys = Uint32Array | Float64Array

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
  /** of the digits */
  readonly base: number
  /** base ** 0, base ** 1 and so on up to the depth: what makes a path that ends early as long as the others */
  readonly powers: readonly number[]
  #keys: Keys
  /** how many there are */
  length = 0

  constructor(groups: number, depth: number) {
    this.base = groups + 1
    this.powers = Array.from({ length: depth + 1 }, (_, d) => this.base ** d)
    this.#keys = this.#most <= 2 ** 32 ? new Uint32Array(1024) : new Float64Array(1024)
  }

  /** Whether whole paths of such a depth fit into numbers. */
  static fit(groups: number, depth: number): boolean {
    return (groups + 1) ** depth < Number.MAX_SAFE_INTEGER
  }

  /** No key is as large as this. */
  get #most(): number {
    return this.powers[this.powers.length - 1]!
  }

  /** The numbers, with room for so many more after the first `length`, which grows with what is written there. */
  withRoomFor(more: number): Keys {
    const needed = this.length + more
    if (needed > this.#keys.length) this.#keys = longer(this.#keys, Math.max(needed, 2 * this.#keys.length))
    return this.#keys
  }

  counted(): CountedKeys {
    const keys = sorted(this.#keys.subarray(0, this.length), this.#most)
    const counts = new Uint32Array(keys.length)
    let n = 0
    for (let i = 0; i < keys.length; i++) {
      if (n === 0 || keys[i] !== keys[n - 1]) keys[n++] = keys[i]!
      counts[n - 1]!++
    }
    return { keys: keys.slice(0, n), counts: counts.slice(0, n) }
  }
}

function longer<C extends Keys>(column: C, length: number): C {
  const more = (column instanceof Uint32Array ? new Uint32Array(length) : new Float64Array(length)) as C
  more.set(column)
  return more
}

/** Bits that are sorted by at once: places for all their values stay near the processor. */
const DIGIT = 10
const FEW = 4096

/**
 * In ascending order; numbers of 32 bits digit by digit, which is several times as fast.
 *
 * @param most  no number is as large as this
 */
function sorted(keys: Keys, most: number): Keys {
  if (!(keys instanceof Uint32Array) || keys.length < FEW) return keys.sort()
  const bits = Math.ceil(Math.log2(most))
  const passes = Math.ceil(bits / DIGIT)
  const digit = Math.ceil(bits / passes)
  const mask = (1 << digit) - 1
  let from: Uint32Array = keys
  let to: Uint32Array = new Uint32Array(keys.length)
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
  const keys = a.keys instanceof Uint32Array ? new Uint32Array(length) : new Float64Array(length)
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

/** The tree of paths in ascending order: each differs from the one before from some place on. */
export function treeOf({ keys, counts }: CountedKeys, groups: number, depth: number): TreeColumns {
  const base = groups + 1
  const powers = Float64Array.from({ length: depth + 1 }, (_, d) => base ** (depth - d))
  let parent = new Uint32Array(1 + depth + 2 * keys.length)
  let code = new Uint32Array(parent.length)
  let ended = new Uint32Array(parent.length)
  /** nodes on the way to the path before */
  const nodes = new Uint32Array(depth + 1)
  let size = 1
  let before = 0
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    if (size + depth > parent.length) {
      parent = longer(parent, 2 * parent.length)
      code = longer(code, parent.length)
      ended = longer(ended, parent.length)
    }
    // As deep as it begins like the one before. A remainder would take several times as long as the division.
    let at = i === 0 ? 0 : depth
    let begins = Math.floor(key / powers[at]!)
    while (at > 0 && begins !== Math.floor(before / powers[at]!)) begins = Math.floor(key / powers[--at]!)
    before = key
    for (let rest = key - begins * powers[at]!; rest > 0; at++) {
      const digit = Math.floor(rest / powers[at + 1]!)
      rest -= digit * powers[at + 1]!
      parent[size] = nodes[at]!
      code[size] = digit - 1
      nodes[at + 1] = size++
    }
    ended[nodes[at]!]! += counts[i]!
  }
  const fit = (column: Uint32Array) => column.subarray(0, size)
  return { parent: fit(parent), code: fit(code), ended: fit(ended), clicks: [] }
}
