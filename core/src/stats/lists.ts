import { quantilesOf } from './quantile.ts'

/** Numbers of one width. */
export type Numbers = Uint32Array | Float64Array
type Make<N extends Numbers> = new (source: number | ArrayBufferLike, from?: number, length?: number) => N

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

  /** All lists as they are, in this order of rows. */
  packed(order: readonly number[]): Lists<N> {
    const first = new Uint32Array(order.length + 1)
    order.forEach((row, k) => (first[k + 1] = first[k]! + this.#lengths[row]!))
    const numbers = new this.make(first[order.length]!)
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

/** The rows from one below another, in memory of their own. */
export function sliceLists<N extends Numbers>(
  { first, numbers }: Lists<N>,
  from: number,
  to: number,
): Lists<N> {
  return {
    first: first.slice(from, to + 1).map((at) => at - first[from]!),
    numbers: numbers.slice(first[from], first[to]) as N,
  }
}

/**
 * Both, row by row.
 *
 * @param rowsOf  by row of the result that of each; -1 where it has none
 */
export function joinLists<N extends Numbers>(
  make: Make<N>,
  a: Lists<N>,
  b: Lists<N>,
  rowsOf: readonly { a: number; b: number }[],
): Lists<N> {
  const first = new Uint32Array(rowsOf.length + 1)
  const numbers = new make(a.numbers.length + b.numbers.length)
  let at = 0
  const put = (lists: Lists<N>, row: number) => {
    if (row < 0) return
    const own = listOf(lists, row)
    numbers.set(own, at)
    at += own.length
  }
  rowsOf.forEach((rows, k) => {
    put(a, rows.a)
    put(b, rows.b)
    first[k + 1] = at
  })
  return { first, numbers }
}

/** One quantile of the numbers, of which so many more than are there are below all of them. Changes their order. */
export function quantileAbove(numbers: Float64Array, below: number, share: number): number | null {
  const n = numbers.length + below
  const place = (n - 1) * share
  if (!numbers.length || place < below) return null
  return quantilesOf(numbers, [numbers.length > 1 ? (place - below) / (numbers.length - 1) : 0])[0]!
}
