import { countedNarrow, countedWide } from './count-sorted.ts'
import type { CountedKeys, Keys } from './counted.ts'
import { memory } from './memory.ts'

/**
 * Whole paths, each as one number: its page groups plus 1 as digits, the first one the highest, 0 for nothing further; the
 * lowest bit says whether it goes on beyond the depth.
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
    this.#keys = this.bits * depth + 1 <= NARROW_BITS ? memory.take(1024) : new Float64Array(1024)
  }

  /** Whether whole paths of such a depth fit into numbers. */
  static fit(groups: number, depth: number): boolean {
    return digitBits(groups) * depth + 1 <= WIDE_BITS
  }

  /** The numbers, with room for so many more after the first `length`, which grows with what is written there. */
  withRoomFor(more: number): Keys {
    const needed = this.length + more
    if (needed > this.#keys.length) this.#keys = longer(this.#keys, Math.max(needed, 2 * this.#keys.length))
    return this.#keys
  }

  /** The different ones in ascending order, and how often each is there; none is left here. */
  counted(): CountedKeys {
    const before = this.#keys
    const keys = before.subarray(0, this.length)
    this.#keys = before.subarray(0, 0)
    this.length = 0
    if (keys instanceof Float64Array) return countedWide(keys.sort())
    const counted = countedNarrow(keys, this.bits * this.#depth + 1)
    memory.giveBack(before as Int32Array)
    return counted
  }
}

/** Numbers of so many bits are held as 32-bit integers above 0; wider ones as what holds whole numbers exactly. */
const NARROW_BITS = 31

const WIDE_BITS = 53

/** Bits of one digit: a page group plus 1, or 0. */
export function digitBits(groups: number): number {
  return Math.ceil(Math.log2(groups + 1))
}

function longer(keys: Keys, length: number): Keys {
  if (keys instanceof Float64Array) {
    const more = new Float64Array(length)
    more.set(keys)
    return more
  }
  const more = memory.take(length)
  more.set(keys)
  memory.giveBack(keys)
  return more
}
