import { quantilesOf } from './quantile.ts'

/** Numbers of one width. */
export type Numbers = Uint32Array | Float64Array
interface Make<N extends Numbers> {
  new (source: number | ArrayBufferLike): N
  readonly BYTES_PER_ELEMENT: number
}

/** Numbers by row, one list after the other: those of row r lie at `first[r] <= k < first[r + 1]`, in any order. */
export interface Lists<N extends Numbers> {
  first: Uint32Array
  numbers: N
}

const FIRST_ROOM = 8

/** Lists to which numbers are added, of which one knows beforehand neither how many rows nor how many numbers there will be. */
export class GrowingLists<N extends Numbers> {
  readonly #lists: N[] = []
  readonly #lengths: number[] = []

  constructor(private readonly make: Make<N>) {}

  /** Adds a row; rows are numbered from 0. */
  addRow(): void {
    this.#lists.push(new this.make(FIRST_ROOM))
    this.#lengths.push(0)
  }

  add(row: number, number: number): void {
    const length = this.#lengths[row]!
    let list = this.#lists[row]!
    if (length === list.length) list = this.#grow(row)
    list[length] = number
    this.#lengths[row] = length + 1
  }

  /** All lists as they are, in this order of rows, in memory that threads can share. */
  packed(order: readonly number[]): Lists<N> {
    const first = new Uint32Array(order.length + 1)
    order.forEach((row, k) => (first[k + 1] = first[k]! + this.#lengths[row]!))
    const numbers = new this.make(new SharedArrayBuffer(first[order.length]! * this.make.BYTES_PER_ELEMENT))
    order.forEach((row, k) => numbers.set(this.#lists[row]!.subarray(0, this.#lengths[row]), first[k]))
    return { first, numbers }
  }

  #grow(row: number): N {
    const list = this.#lists[row]!
    const longer = new this.make(2 * list.length)
    longer.set(list)
    return (this.#lists[row] = longer)
  }
}

/** The numbers of one row; they share the memory of the lists. */
export function listOf<N extends Numbers>({ first, numbers }: Lists<N>, row: number): N {
  return numbers.subarray(first[row], first[row + 1]) as N
}

/** All numbers of some lists, in memory of their own. */
export function together<N extends Numbers>(make: Make<N>, lists: readonly N[]): N {
  const numbers = new make(lists.reduce((length, list) => length + list.length, 0))
  let at = 0
  for (const list of lists) {
    numbers.set(list, at)
    at += list.length
  }
  return numbers
}

/** One quantile of the numbers, of which so many more than are there are below all of them. Changes their order. */
export function quantileAbove(numbers: Float64Array, below: number, share: number): number | null {
  const n = numbers.length + below
  const place = (n - 1) * share
  if (!numbers.length || place < below) return null
  return quantilesOf(numbers, [numbers.length > 1 ? (place - below) / (numbers.length - 1) : 0])[0]!
}
