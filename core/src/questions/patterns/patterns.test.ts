import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { patterns } from './patterns.ts'

const FIRST_HALF = {
  type: 'where' as const,
  condition: { type: 'text' as const, of: 'device' as const, test: { is: 'equal' as const, to: 'mobile' } },
}

function world(parts: readonly Line[][][]) {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  const { names } = blocks[blocks.length - 1]!
  return {
    blocks: blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    context: about(names),
  }
}

describe('patterns', () => {
  it('open just the sessions that they count, at any level and with any gap, in any blocks', () => {
    fc.assert(
      fc.property(
        worlds,
        worlds,
        fc.constantFrom('page' as const, 'element' as const, 'kind' as const),
        fc.constantFrom(0, 1, null),
        (a, b, level, gap) => {
          const { blocks, context } = world([a, b])
          const asked = {
            selection: FIRST_HALF,
            level,
            gap,
            support: 0.3,
            shortest: 1,
            longest: 3,
            closed: false,
          }
          const found = answerTo(patterns, blocks, asked, context)
          expect(found.sessions + found.against).toBe(a.length + b.length)
          for (const { tokens, selected, against } of found.patterns) {
            const all = answerTo(
              size,
              blocks,
              { selection: { type: 'pattern', level, tokens, gap } },
              context,
            )
            expect(selected.hits + against.hits).toBe(all.hits)
          }
        },
      ),
      { numRuns: 60 },
    )
  })
  it('are the same mined in parts, whatever each thread has seen first', () => {
    fc.assert(
      fc.property(
        fc.tuple(worlds, worlds, worlds),
        fc.constantFrom('page' as const, 'element' as const, 'kind' as const),
        fc.constantFrom(0, 1, null),
        fc.integer({ min: 2, max: 4 }),
        (parts, level, gap, threads) => {
          const { blocks, context } = world(parts)
          const options = { level, gap, support: 0.2, shortest: 1, longest: 4, closed: false, most: 5000 }
          const asked = { selection: FIRST_HALF, ...options }
          const spec = { ...context, ...asked, against: undefined, order: 'support' as const }
          const found = blocks.map(({ block, sessions }) => patterns.scan(block, sessions, spec))
          const cuts = Array.from({ length: threads - 1 }, (_, k) => k + 1)
          const split = found.map((one) => patterns.parts!.split(one, cuts))
          const finished = Array.from({ length: threads }, (_, k) => {
            // A thread's own comes first.
            const own = split.map((of) => of[k]!)
            const inTurn = [...own.slice(k % 3), ...own.slice(0, k % 3)]
            return patterns.parts!.finishPart(
              inTurn.reduce((a, b) => patterns.merge(a, b)),
              spec,
            )
          })
          const whole = answerTo(patterns, blocks, asked, context)
          expect(patterns.finish(patterns.parts!.join(finished), spec)).toEqual(whole)
          expect(whole.patterns.length).toBeGreaterThan(parts.flat(2).length ? 0 : -1)
        },
      ),
      { numRuns: 100 },
    )
  })
  it('tell two sets apart, with an interval and corrected for all of them', () => {
    const go = (...urls: string[]): Line[] =>
      urls.map((url, k) => ({ visitor: 'v', t: k * 1000, kind: 'page', url }))
    // rowsOf makes every second session a mobile one.
    const sessions = Array.from({ length: 40 }, (_, k) => (k % 2 ? go('/a', '/b', '/d') : go('/a', '/c')))
    const { blocks, context } = world([sessions])
    const found = answerTo(patterns, blocks, { selection: FIRST_HALF, order: 'difference' }, context)
    expect(found).toMatchObject({ sessions: 20, against: 20, complete: true })
    expect(found.patterns.map(({ tokens }) => tokens.map(({ page }) => page))).toEqual([
      ['/a', '/b', '/d'],
      ['/a', '/c'],
    ])
    expect(found.patterns[0]).toMatchObject({
      ...{ selected: { hits: 20, base: 20 }, against: { hits: 0, base: 20 }, difference: 1 },
    })
    expect(found.patterns[0]!.p).toBeLessThan(0.001)
    expect(found.patterns[0]!.interval[0]).toBeGreaterThan(0.7)
  })
})
