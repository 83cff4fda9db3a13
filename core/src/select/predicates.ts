import type { NumberTest, TextTest } from '../labels/event-condition.ts'

/** A text test as a function. The empty text stands for "not known". */
export function textTester(test: TextTest): (value: string) => boolean {
  switch (test.is) {
    case 'equal':
      return (value) => value === test.to
    case 'not equal':
      return (value) => value !== test.to
    case 'one of': {
      const wanted = new Set(test.to)
      return (value) => wanted.has(value)
    }
    case 'none of': {
      const wanted = new Set(test.to)
      return (value) => !wanted.has(value)
    }
    case 'containing':
      return (value) => value.includes(test.to)
    case 'not containing':
      return (value) => !value.includes(test.to)
    case 'starting with':
      return (value) => value.startsWith(test.to)
    case 'ending with':
      return (value) => value.endsWith(test.to)
    case 'matching':
      return (value) => matches(value, test.to)
    case 'known':
      return (value) => value !== ''
    case 'not known':
      return (value) => value === ''
  }
}

/** A number test as a function; NaN, "not known", passes none. */
export function numberTester(test: NumberTest): (value: number) => boolean {
  switch (test.is) {
    case 'equal':
      return (value) => value === test.to
    case 'not equal':
      return (value) => !Number.isNaN(value) && value !== test.to
    case 'at least':
      return (value) => value >= test.to
    case 'at most':
      return (value) => value <= test.to
    case 'more than':
      return (value) => value > test.to
    case 'less than':
      return (value) => value < test.to
    case 'between':
      return (value) => value >= test.from && value <= test.to
  }
}

/** What a number test lets pass as a range with both its ends, where it is one. */
export function rangeOf(test: NumberTest): [from: number, to: number] | undefined {
  switch (test.is) {
    case 'equal':
      return [test.to, test.to]
    case 'at least':
      return [test.to, Infinity]
    case 'at most':
      return [-Infinity, test.to]
    case 'between':
      return [test.from, test.to]
    default:
      return undefined
  }
}

/**
 * Whether a whole text fits a pattern: * any run of characters, ? any one, all else itself.
 * Complexity: length of the text times length of the pattern at worst, as only the last * is ever tried again.
 */
export function matches(text: string, pattern: string): boolean {
  let t = 0
  let p = 0
  let star = -1
  let resume = 0
  while (t < text.length) {
    // The star first: a text may hold one as well.
    if (pattern[p] === '*') {
      star = p++
      resume = t
    } else if (p < pattern.length && (pattern[p] === '?' || pattern[p] === text[t])) {
      t++
      p++
    } else if (star >= 0) {
      p = star + 1
      t = ++resume
    } else return false
  }
  while (pattern[p] === '*') p++
  return p === pattern.length
}
