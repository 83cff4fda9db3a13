import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { MiningOptions } from './prefix-span.ts'
import { closedPatterns, minePatterns } from './prefix-span.ts'

const sequencesOf = (texts: readonly string[]) => ({
  items: Uint32Array.from([...texts.join('')], (letter) => letter.charCodeAt(0)),
  first: Uint32Array.from([0, ...texts.map((_, k) => texts.slice(0, k + 1).join('').length)]),
})
const mine = (a: readonly string[], b: readonly string[], options: Partial<MiningOptions>) => {
  const { patterns } = minePatterns(
    sequencesOf([...a, ...b]),
    Uint8Array.from([...a.map(() => 1), ...b.map(() => 0)]),
    { least: [2, Infinity], longest: 10, gap: Infinity, most: 100_000, ...options },
  )
  return patterns
}
const written = (patterns: ReturnType<typeof mine>) =>
  Object.fromEntries(patterns.map(({ items, a }) => [String.fromCharCode(...items), a]))

/** Whether a text holds a pattern with at most so many letters between its neighbours; by trying all places. */
function holds(text: string, pattern: string, gap: number, from = 0, first = true): boolean {
  if (!pattern) return true
  const to = first ? text.length : Math.min(text.length, from + gap + 1)
  for (let at = from; at < to; at++)
    if (text[at] === pattern[0] && holds(text, pattern.slice(1), gap, at + 1, false)) return true
  return false
}

describe('minePatterns', () => {
  // Wang, Han (2004), BIDE, ICDE, Table 1 (from memory; verified with two brute-force programs).
  it('finds the 17 frequent sequences of the example of BIDE, 6 of them closed', () => {
    const found = mine(['CAABC', 'ABCB', 'CABC', 'ABBCA'], [], {})
    expect(written(found)).toEqual({
      ...{ A: 4, B: 4, C: 4, AA: 2, AB: 4, AC: 4, BB: 2, BC: 4, CA: 3, CB: 3, CC: 2 },
      ...{ ABB: 2, ABC: 4, CAB: 2, CAC: 2, CBC: 2, CABC: 2 },
    })
    expect(written(closedPatterns(found))).toEqual({ AA: 2, ABB: 2, ABC: 4, CA: 3, CABC: 2, CB: 3 })
  })
  // Made up, one letter a page; verified with two brute-force programs.
  it('finds the patterns of page paths', () => {
    expect(written(mine(['HPCB', 'HPHC', 'HSPC', 'SPB', 'HH'], [], {}))).toEqual({
      ...{ B: 2, C: 3, H: 4, P: 4, S: 2, HC: 3, HH: 2, HP: 3, PB: 2, PC: 3, SP: 2, HPC: 3 },
    })
  })
  it('counts neighbours alone where nothing may lie in between', () => {
    const pairs = mine(['HPCB', 'HPHC', 'HSPC', 'SPB', 'HH'], [], { least: [1, 1], longest: 2, gap: 0 })
    expect(written(pairs.filter(({ items }) => items.length === 2))).toEqual({
      ...{ CB: 1, HC: 1, HH: 1, HP: 2, HS: 1, PB: 1, PC: 2, PH: 1, SP: 2 },
    })
  })
  it('agrees with trying every pattern, whatever may lie in between, in two sets', () => {
    const texts = fc.array(fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 7 }), {
      maxLength: 6,
    })
    fc.assert(
      fc.property(
        texts,
        texts,
        fc.constantFrom(0, 1, 2, Infinity),
        fc.integer({ min: 1, max: 3 }),
        (a, b, gap, least) => {
          const found = mine(a, b, { gap, least: [least, least], longest: 3 })
          const all = ['a', 'b', 'c'].flatMap((x) => [
            x,
            ...['a', 'b', 'c'].flatMap((y) => [x + y, ...['a', 'b', 'c'].map((z) => x + y + z)]),
          ])
          const expected = all
            .map((pattern) => ({
              items: [...pattern].map((letter) => letter.charCodeAt(0)),
              a: a.filter((text) => holds(text, pattern, gap)).length,
              b: b.filter((text) => holds(text, pattern, gap)).length,
            }))
            // A pattern is looked for from beginnings that are frequent in the same set themselves.
            .filter((one) => one.a >= least || one.b >= least)
          const text = ({ items }: { items: number[] }) => items.join()
          expect([...found].sort((x, y) => (text(x) < text(y) ? -1 : 1))).toEqual(
            expected.sort((x, y) => (text(x) < text(y) ? -1 : 1)),
          )
        },
      ),
    )
  })
  it('says where there is more than it may give', () => {
    const mined = minePatterns(sequencesOf(['abc', 'abc']), new Uint8Array(2).fill(1), {
      ...{ least: [1, 1], longest: 3, gap: Infinity, most: 3 },
    })
    expect(mined.complete).toBe(false)
    expect(mined.patterns).toHaveLength(3)
  })
})
