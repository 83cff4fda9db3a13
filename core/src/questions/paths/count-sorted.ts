import type { CountedKeys } from './counted.ts'
import { memory } from './memory.ts'

const FEW = 4096

/** Bits that are sorted by at once: as many as pay for going through all places, which are to stay near the processor. */
const DIGIT = 10

const LONG_DIGIT = 15

const LONG = 65_536

/** Counts equal keys of so many bits, whose order is lost. */
export function countedNarrow(keys: Int32Array, bits: number): CountedKeys {
  const { length } = keys
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

/** Counts equal rows of numbers of so many bits each, the first column the most significant. */
export function countedLong(columns: readonly Int32Array[], bits: number): CountedKeys {
  const { length } = columns[0]!
  const passes = Math.ceil(bits / (length < LONG ? DIGIT : LONG_DIGIT))
  const digit = Math.ceil(bits / passes)
  let order = memory.take(length)
  let other = memory.take(length)
  for (let i = 0; i < length; i++) order[i] = i
  for (const column of columns.toReversed())
    for (let pass = 0; pass < passes; pass++) {
      orderByDigit(column, order, other, length, pass * digit, (1 << digit) - 1)
      ;[order, other] = [other, order]
    }
  /** where the first of those equal to a different one lies */
  const firsts = other
  let n = 0
  for (let i = 0; i < length; i++) {
    let unlike = i === 0 ? 1 : 0
    for (let w = 0; w < columns.length && unlike === 0; w++)
      unlike = columns[w]![order[i]!]! ^ columns[w]![order[i - 1]!]!
    if (unlike !== 0) firsts[n++] = i
  }
  const counts = new Uint32Array(n)
  for (let k = 0; k < n; k++) counts[k] = (k + 1 < n ? firsts[k + 1]! : length) - firsts[k]!
  const [keys, ...more] = columns.map((column) => {
    const different = new Int32Array(n)
    for (let k = 0; k < n; k++) different[k] = column[order[firsts[k]!]!]!
    return different
  })
  memory.giveBack(order)
  memory.giveBack(other)
  return { keys: keys!, more, counts }
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
