import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { findLoops, MOST_IN_LOOP } from '../../select/loops.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { loops } from './loops.ts'

const go = (pages: string, step = 1000): Line[] =>
  [...pages].map((page, k) => ({ visitor: 'v', t: k * step, kind: 'page', url: `/${page}` }))
const world = (sessions: readonly Line[][], goal = '') => {
  const { block, names } = blockOf(sessions)
  return {
    blocks: [{ block, sessions: SessionSet.all(sessions.length) }],
    context: about(names, { goal }),
  }
}
const codes = (text: string) => [...text].map((letter) => letter.charCodeAt(0))

describe('findLoops', () => {
  it.each([
    ['ab', []],
    ['aba', []],
    ['abab', [{ first: 0, last: 3, pages: 2 }]],
    ['xababay', [{ first: 1, last: 5, pages: 2 }]],
    ['abcabc', [{ first: 0, last: 5, pages: 3 }]],
    ['abcabcabx', [{ first: 0, last: 7, pages: 3 }]],
    // Two rounds of four that are four rounds of two.
    ['abababab', [{ first: 0, last: 7, pages: 2 }]],
  ])('in %s', (text, loopsOf) => {
    expect(findLoops(codes(text))).toEqual(loopsOf)
  })
  it('agrees with trying every stretch', () => {
    const texts = fc
      .string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 14 })
      .map((text) => text.replaceAll(/(.)\1+/g, '$1'))
    const periodic = (text: string, p: number) => [...text].every((one, k) => k < p || one === text[k - p])
    fc.assert(
      fc.property(texts, (text) => {
        const expected = []
        for (let first = 0; first < text.length; first++)
          for (let last = first + 3; last < text.length; last++)
            for (let pages = 2; pages <= MOST_IN_LOOP && 2 * pages <= last - first + 1; pages++) {
              const own = text.slice(first, last + 1)
              const wider = [text.slice(Math.max(0, first - 1), last + 1), text.slice(first, last + 2)]
              const isMaximal = wider.every((one) => one === own || !periodic(one, pages))
              const round = own.slice(0, pages)
              const isRound = ![1, 2].some((p) => pages % p === 0 && p < pages && periodic(round, p))
              if (periodic(own, pages) && isMaximal && isRound) expected.push({ first, last, pages })
            }
        expect(findLoops(codes(text))).toEqual(
          expected.sort((a, b) => a.first - b.first || a.pages - b.pages),
        )
      }),
    )
  })
})

describe('loops', () => {
  it('are one wherever they are entered, with the time they took and what became of them', () => {
    const { blocks, context } = world([go('abab'), go('xbabac'), go('ab'), go('abcabcd')], '/c')
    const answer = answerTo(loops, blocks, {}, context)
    expect(answer).toMatchObject({ sessions: 4, converted: { hits: 2 }, more: 0 })
    expect(answer.loops[0]).toEqual({
      pages: ['/a', '/b'],
      met: expect.objectContaining({ hits: 2, base: 4 }) as unknown,
      times: 2,
      rounds: 2,
      lostSeconds: { median: 1, sum: 2 },
      ended: expect.objectContaining({ hits: 1, base: 2 }) as unknown,
      converted: expect.objectContaining({ hits: 1, base: 2 }) as unknown,
    })
    expect(answer.loops[1]).toMatchObject({ pages: ['/a', '/b', '/c'], met: { hits: 1 }, ended: { hits: 0 } })
  })
  it('open just the sessions that they count', () => {
    fc.assert(
      fc.property(worlds, (sessions) => {
        const { blocks, context } = world(sessions)
        for (const { pages, met } of answerTo(loops, blocks, {}, context).loops)
          expect(answerTo(size, blocks, { selection: { type: 'loop', pages } }, context).hits).toBe(met.hits)
      }),
    )
  })
})
