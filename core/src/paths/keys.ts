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
  private readonly base: number
  /** base ** 0, base ** 1 and so on up to the depth */
  private readonly powers: readonly number[]
  #keys: Keys
  #length = 0

  constructor(groups: number, depth: number) {
    this.base = groups + 1
    this.powers = Array.from({ length: depth + 1 }, (_, d) => this.base ** d)
    this.#keys = this.base ** depth <= 2 ** 32 ? new Uint32Array(1024) : new Float64Array(1024)
  }

  /** Whether whole paths of such a depth fit into numbers. */
  static fit(groups: number, depth: number): boolean {
    return (groups + 1) ** depth < Number.MAX_SAFE_INTEGER
  }

  /** Adds a path of so many page groups. */
  add(codes: Uint32Array, length: number): void {
    let key = 0
    for (let k = 0; k < length; k++) key = key * this.base + codes[k]! + 1
    this.#push(key * this.powers[this.powers.length - 1 - length]!)
  }

  #push(key: number): void {
    if (this.#length === this.#keys.length) this.#keys = longer(this.#keys)
    this.#keys[this.#length++] = key
  }

  counted(): CountedKeys {
    const keys = sorted(this.#keys.subarray(0, this.#length))
    const counts = new Uint32Array(keys.length)
    let n = 0
    for (let i = 0; i < keys.length; i++) {
      if (n === 0 || keys[i] !== keys[n - 1]) keys[n++] = keys[i]!
      counts[n - 1]!++
    }
    return { keys: keys.slice(0, n), counts: counts.slice(0, n) }
  }
}

function longer(keys: Keys): Keys {
  const more =
    keys instanceof Uint32Array ? new Uint32Array(2 * keys.length) : new Float64Array(2 * keys.length)
  more.set(keys)
  return more
}

const DIGIT = 11
const FEW = 4096

/** In ascending order; numbers of 32 bits digit by digit, which is several times as fast. */
function sorted(keys: Keys): Keys {
  if (!(keys instanceof Uint32Array) || keys.length < FEW) return keys.sort()
  let from: Uint32Array = keys
  let to: Uint32Array = new Uint32Array(keys.length)
  for (let shift = 0; shift < 32; shift += DIGIT) {
    const mask = (1 << DIGIT) - 1
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
  const powers = Array.from({ length: depth }, (_, d) => base ** (depth - 1 - d))
  const room = 1 + keys.length * depth
  const parent = new Uint32Array(room)
  const code = new Uint32Array(room)
  const ended = new Uint32Array(room)
  /** nodes on the way to the path before, and for each the path so far as a number */
  const nodes = new Uint32Array(depth + 1)
  const prefixes = new Float64Array(depth + 1).fill(-1)
  let size = 1
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i]!
    let before = 0
    let at = 0
    for (; at < depth; at++) {
      const prefix = Math.floor(key / powers[at]!)
      const digit = prefix - before * base
      if (digit === 0) break
      before = prefix
      if (prefixes[at + 1] === prefix) continue
      prefixes[at + 1] = prefix
      parent[size] = nodes[at]!
      code[size] = digit - 1
      nodes[at + 1] = size++
    }
    ended[nodes[at]!]! += counts[i]!
  }
  const fit = (column: Uint32Array) => column.subarray(0, size)
  return { parent: fit(parent), code: fit(code), ended: fit(ended), clicks: [] }
}
