import type { CountedKeys } from './counted.ts'
import { memory } from './memory.ts'

const FEW = 4096

/** Bits that are sorted by at once: as many as pay for going through all places, which are to stay near the processor. */
const DIGIT = 10

const LONG_DIGIT = 15

const LONG = 65_536

/** Counts equal rows of numbers of so many bits each, the first column the most significant. */
export function countedRows(columns: readonly Int32Array[], bits: number): CountedKeys {
  return columns.length === 1 ? countedNarrow(columns[0]!, bits) : countedLong(columns, bits)
}

function countedNarrow(column: Int32Array, bits: number): CountedKeys {
  const { length } = column
  const own = memory.take(length)
  const keys = own.subarray(0, length)
  keys.set(column)
  const other = memory.take(length)
  const sorted = length < FEW ? keys.sort() : sortedBits(keys, other.subarray(0, length), bits)
  /** where the last of those equal to a different one lies, plus 1, in what is free again */
  const ends = sorted === keys ? other : keys
  let n = -1
  let last = -1
  for (let i = 0; i < length; i++) {
    const key = sorted[i]!
    // Goes up by one where the key differs; branch-free, since whether it does is unpredictable.
    const unlike = key ^ last
    n += (unlike | (0 - unlike)) >>> 31
    last = key
    sorted[n] = key
    ends[n] = i + 1
  }
  const different = sorted.slice(0, n + 1)
  const counts = new Uint32Array(n + 1)
  for (let k = n; k >= 0; k--) counts[k] = ends[k]! - (k > 0 ? ends[k - 1]! : 0)
  memory.giveBack(own)
  memory.giveBack(other)
  return { keys: different, more: [], counts }
}

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

/** by value of a digit how many there are, then where the next of them goes */
const places = new Uint32Array(1 << LONG_DIGIT)

/** By value of a digit where the first of them goes; valid until the next call. */
function startsOf(numbers: Int32Array, shift: number, mask: number): Uint32Array {
  places.fill(0, 0, mask + 1)
  for (let i = 0; i < numbers.length; i++) {
    const digit = (numbers[i]! >>> shift) & mask
    places[digit] = places[digit]! + 1
  }
  let before = 0
  for (let digit = 0; digit <= mask; digit++) {
    const count = places[digit]!
    places[digit] = before
    before += count
  }
  return places
}

function sortByDigit(from: Int32Array, to: Int32Array, shift: number, mask: number): void {
  const places = startsOf(from, shift, mask)
  for (let i = 0; i < from.length; i++) {
    const key = from[i]!
    const digit = (key >>> shift) & mask
    const place = places[digit]!
    to[place] = key
    places[digit] = place + 1
  }
}

function countedLong(columns: readonly Int32Array[], bits: number): CountedKeys {
  const { length } = columns[0]!
  const pieces = columns.map(() => memory.take(length))
  const rows = pieces.map((piece) => piece.subarray(0, length))
  sortRows(columns, rows, bits)
  /** where the first of those equal to a different one lies */
  const firsts = memory.take(length)
  let n = 0
  for (let i = 0; i < length; i++) if (i === 0 || compared(rows, i - 1, i) !== 0) firsts[n++] = i
  const counts = new Uint32Array(n)
  for (let k = 0; k < n; k++) counts[k] = (k + 1 < n ? firsts[k + 1]! : length) - firsts[k]!
  const [keys, ...more] = rows.map((column) => {
    const different = new Int32Array(n)
    for (let k = 0; k < n; k++) different[k] = column[firsts[k]!]!
    return different
  })
  for (const piece of [...pieces, firsts]) memory.giveBack(piece)
  return { keys: keys!, more, counts }
}

/** So many of the highest bits are sorted by first; mostly few rows are alike in them. */
const HIGH = 22

/** So few rows are sorted sooner by comparing. */
const FEW_ALIKE = 32

const ALIKE_DIGIT = 8

/** Writes rows in ascending order. */
function sortRows(columns: readonly Int32Array[], rows: readonly Int32Array[], bits: number): void {
  const first = columns[0]!
  const { length } = first
  const low = Math.max(0, bits - HIGH)
  const half = Math.ceil((bits - low) / 2)
  const order = memory.take(length)
  const other = memory.take(length)
  for (let i = 0; i < length; i++) order[i] = i
  orderByDigit(first, order, other, length, low, (1 << half) - 1)
  orderByDigit(first, other, order, length, low + half, (1 << (bits - low - half)) - 1)
  columns.forEach((column, w) => gather(column, order, rows[w]!))
  const high = rows[0]!
  for (let from = 0; from < length;) {
    let to = from + 1
    while (to < length && (high[from]! ^ high[to]!) >>> low === 0) to++
    if (to - from > FEW_ALIKE) {
      // Short paths are alike as a whole.
      if (rows.some((column) => unlike(column, from, to))) sortAlike(rows, from, to, bits)
    } else if (to - from > 1) sortFew(rows, from, to)
    from = to
  }
  memory.giveBack(order)
  memory.giveBack(other)
}

function unlike(column: Int32Array, from: number, to: number): boolean {
  for (let i = from + 1; i < to; i++) if (column[i] !== column[from]) return true
  return false
}

/** Sorts a range of few rows in place. */
function sortFew(rows: readonly Int32Array[], from: number, to: number): void {
  for (let i = from + 1; i < to; i++)
    for (let k = i; k > from && compared(rows, k - 1, k) > 0; k--)
      for (const column of rows) {
        const number = column[k]!
        column[k] = column[k - 1]!
        column[k - 1] = number
      }
}

/** Sorts a range of rows in place, digit by digit. */
function sortAlike(rows: readonly Int32Array[], from: number, to: number, bits: number): void {
  const length = to - from
  let order = memory.take(length)
  let other = memory.take(length)
  for (let i = 0; i < length; i++) order[i] = i
  const passes = Math.ceil(bits / ALIKE_DIGIT)
  for (const column of rows.toReversed()) {
    const range = column.subarray(from, to)
    for (let pass = 0; pass < passes; pass++) {
      orderByDigit(range, order, other, length, pass * ALIKE_DIGIT, (1 << ALIKE_DIGIT) - 1)
      ;[order, other] = [other, order]
    }
  }
  for (const column of rows) {
    gather(column.subarray(from, to), order, other.subarray(0, length))
    column.set(other.subarray(0, length), from)
  }
  memory.giveBack(order)
  memory.giveBack(other)
}

function gather(from: Int32Array, order: Int32Array, to: Int32Array): void {
  for (let i = 0; i < to.length; i++) to[i] = from[order[i]!]!
}

/** Below 0 where row i comes before row k, 0 where they are equal. */
function compared(rows: readonly Int32Array[], i: number, k: number): number {
  for (let w = 0; w < rows.length; w++) {
    const differ = rows[w]![i]! - rows[w]![k]!
    if (differ !== 0) return differ
  }
  return 0
}

/** Sorts the first so many places of rows by one digit of a column; those with the same one stay in order. */
function orderByDigit(
  column: Int32Array,
  from: Int32Array,
  to: Int32Array,
  length: number,
  shift: number,
  mask: number,
): void {
  const at = startsOf(column, shift, mask)
  for (let i = 0; i < length; i++) {
    const row = from[i]!
    const digit = (column[row]! >>> shift) & mask
    to[at[digit]!++] = row
  }
}
