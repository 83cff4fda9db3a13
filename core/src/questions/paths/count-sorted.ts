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
  return { keys: different, counts }
}

/** by value of a digit how many there are, then where the next of them goes */
const places = new Uint32Array(1 << LONG_DIGIT)

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

function sortByDigit(from: Int32Array, to: Int32Array, shift: number, mask: number): void {
  places.fill(0, 0, mask + 1)
  for (let i = 0; i < from.length; i++) {
    const digit = (from[i]! >>> shift) & mask
    places[digit] = places[digit]! + 1
  }
  let before = 0
  for (let digit = 0; digit <= mask; digit++) {
    const count = places[digit]!
    places[digit] = before
    before += count
  }
  for (let i = 0; i < from.length; i++) {
    const key = from[i]!
    const digit = (key >>> shift) & mask
    const place = places[digit]!
    to[place] = key
    places[digit] = place + 1
  }
}

/** The distinct keys of an ascending list, which is overwritten, and how often each occurs; for keys over 32 bits. */
export function countedWide(sorted: Float64Array): CountedKeys {
  const counts = new Uint32Array(sorted.length)
  let n = 0
  for (let i = 0; i < sorted.length; i++) {
    if (n === 0 || sorted[i] !== sorted[n - 1]) sorted[n++] = sorted[i]!
    counts[n - 1]!++
  }
  return { keys: sorted.slice(0, n), counts: counts.slice(0, n) }
}
