import { countedLong, countedNarrow } from './count-sorted.ts'
import type { CountedKeys } from './counted.ts'
import { memory } from './memory.ts'

/** Bits of a number that an operator takes as one from 0. */
const BITS = 31

/** How paths are written as numbers: page groups plus 1 as digits, the first one the highest, 0 for nothing further. */
export interface Digits {
  /** of a digit */
  bits: number
  /** in one number; below them is a bit, which says in the last number of a path whether it goes on beyond the depth */
  each: number
  /** numbers of a path */
  numbers: number
}

export function digitsOf(groups: number, depth: number): Digits {
  const bits = Math.max(1, Math.ceil(Math.log2(groups + 1)))
  const most = Math.floor((BITS - 1) / bits)
  return { bits, each: Math.min(depth, most), numbers: Math.ceil(depth / most) }
}

/**
 * Whole paths as numbers. Sorting numbers and counting equal ones takes a fraction of the time that finding places in a
 * tree does.
 */
export class PathKeys {
  readonly digits: Digits
  #columns: Int32Array[]
  /** how many there are */
  length = 0

  constructor(groups: number, depth: number) {
    this.digits = digitsOf(groups, depth)
    this.#columns = Array.from({ length: this.digits.numbers }, () => memory.take(1024))
  }

  /** The numbers, with room for so many more paths after the first `length`, which grows with what is written there. */
  withRoomFor(more: number): readonly Int32Array[] {
    const needed = this.length + more
    this.#columns = this.#columns.map((column) =>
      needed > column.length ? longer(column, Math.max(needed, 2 * column.length)) : column,
    )
    return this.#columns
  }

  /** The different ones in ascending order, and how often each is there; none is left here. */
  counted(): CountedKeys {
    const columns = this.#columns.map((column) => column.subarray(0, this.length))
    const bits = this.digits.bits * this.digits.each + 1
    const counted = columns.length === 1 ? countedNarrow(columns[0]!, bits) : countedLong(columns, bits)
    for (const column of this.#columns) memory.giveBack(column)
    this.#columns = columns.map((column) => column.subarray(0, 0))
    this.length = 0
    return counted
  }
}

function longer(keys: Int32Array, length: number): Int32Array {
  const more = memory.take(length)
  more.set(keys)
  memory.giveBack(keys)
  return more
}
