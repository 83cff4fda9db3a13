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
 * Whole paths as rows of numbers, a column for each number of a path. Sorting them and counting equal ones takes a fraction
 * of the time that finding places in a tree does.
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

  /** All of them, in memory of their own; none is left here. */
  rows(): Int32Array[] {
    const rows = this.#columns.map((column) => column.slice(0, this.length))
    for (const column of this.#columns) memory.giveBack(column)
    this.#columns = rows.map((column) => column.subarray(0, 0))
    this.length = 0
    return rows
  }
}

function longer(keys: Int32Array, length: number): Int32Array {
  const more = memory.take(length)
  more.set(keys)
  memory.giveBack(keys)
  return more
}
