import { quantilesOf } from './quantile.ts'

/** Numbers, each under a code; of which one does not know beforehand how many there will be. */
export interface Pairs {
  codes: Uint32Array
  numbers: Float64Array
  length: number
}

export const noPairs = (): Pairs => ({
  codes: new Uint32Array(256),
  numbers: new Float64Array(256),
  length: 0,
})

/** Adds a number under a code. */
export function addPair(pairs: Pairs, code: number, number: number): void {
  if (pairs.length === pairs.codes.length) resize(pairs, 2 * pairs.length)
  pairs.codes[pairs.length] = code
  pairs.numbers[pairs.length++] = number
}

/** The same without room for more. */
export function packPairs(pairs: Pairs): Pairs {
  if (pairs.length < pairs.codes.length) resize(pairs, pairs.length)
  return pairs
}

/** All of both, put into the first. */
export function joinPairs(a: Pairs, b: Pairs): Pairs {
  const length = a.length + b.length
  if (length > a.codes.length) resize(a, Math.max(length, 2 * a.length))
  a.codes.set(b.codes.subarray(0, b.length), a.length)
  a.numbers.set(b.numbers.subarray(0, b.length), a.length)
  a.length = length
  return a
}

/** The numbers under each code below `codes`, in any order. Complexity: linear. */
export function byCode({ codes: of, numbers, length }: Pairs, codes: number): Float64Array[] {
  const first = new Uint32Array(codes + 1)
  for (let k = 0; k < length; k++) first[of[k]! + 1]!++
  for (let code = 0; code < codes; code++) first[code + 1]! += first[code]!
  const at = first.slice()
  const sorted = new Float64Array(length)
  for (let k = 0; k < length; k++) sorted[at[of[k]!]!++] = numbers[k]!
  return Array.from({ length: codes }, (_, code) => sorted.subarray(first[code], first[code + 1]))
}

/** One quantile of the numbers, of which so many more than are there are below all of them. Changes their order. */
export function quantileAbove(numbers: Float64Array, below: number, share: number): number | null {
  const n = numbers.length + below
  const place = (n - 1) * share
  if (!numbers.length || place < below) return null
  return quantilesOf(numbers, [numbers.length > 1 ? (place - below) / (numbers.length - 1) : 0])[0]!
}

function resize(pairs: Pairs, length: number): void {
  const codes = new Uint32Array(length)
  const numbers = new Float64Array(length)
  const kept = Math.min(length, pairs.length)
  codes.set(pairs.codes.subarray(0, kept))
  numbers.set(pairs.numbers.subarray(0, kept))
  pairs.codes = codes
  pairs.numbers = numbers
}
