import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf, rowsOf, worlds } from '../../testing/world.ts'
import { VISITOR_NUMBERS, visitors } from './visitors.ts'

const ask = (parts: readonly Line[][][], more: object = {}) => {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  return answerTo(
    visitors,
    blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    { selection: { type: 'everyone' }, ...more },
    about(blocks[blocks.length - 1]!.names, { goal: '/d' }),
  )
}

describe('visitors', () => {
  it('add up their sessions as plain lists do, in any blocks and any order', () => {
    fc.assert(
      fc.property(
        worlds,
        worlds,
        fc.constantFrom(...VISITOR_NUMBERS),
        fc.boolean(),
        (a, b, order, descending) => {
          fc.pre(a.length % 6 === 0)
          const world = [...a, ...b]
          const answer = ask([a, b], { order, descending })
          expect(answer).toEqual(ask([world], { order, descending }))
          const names = rowsOf(world).map(({ visitor }) => visitor)
          expect(answer.total).toBe(new Set(names).size)
          for (const one of answer.visitors) {
            const own = world.filter((_, s) => names[s] === one.visitor)
            expect(one).toMatchObject({
              sessions: own.length,
              selected: own.length,
              pages: own.flat().filter(({ kind }) => kind === 'page').length,
              conversions: own.filter((lines) => lines.some(({ url }) => url === '/d')).length,
              firstMs: 0,
            })
          }
          const sorted = answer.visitors.map(
            (one) => ({ ...one, first: one.firstMs, last: one.lastMs })[order] * (descending ? -1 : 1),
          )
          expect(sorted).toEqual([...sorted].sort((x, y) => x - y))
        },
      ),
    )
  })
  it('are those who have a selected session, and of whom all that is asked holds', () => {
    const action = (t: number, value: number): Line => ({
      visitor: 'v',
      t,
      kind: 'action',
      name: 'buy',
      value,
    })
    const page = (url: string): Line => ({ visitor: 'v', t: 0, kind: 'page', url })
    // rowsOf: visitors v0, v1, v2, v0, v1, v2.
    const world = [
      [page('/a')],
      [page('/b'), action(5, 0.1)],
      [page('/b'), action(5, 9)],
      [page('/b')],
      [page('/a'), action(5, 0.2)],
      [page('/c')],
    ]
    const answer = ask([world], { selection: { type: 'page', page: '/a' }, order: 'value' })
    expect(answer.visitors.map(({ visitor, value, selected }) => [visitor, value, selected])).toEqual([
      // Cents are summed exactly.
      ['v1', 0.3, 1],
      ['v0', 0, 1],
    ])
    const spent = ask([world], { having: [{ of: 'value', is: { is: 'at least', to: 1 } }] })
    expect(spent).toMatchObject({ total: 1, visitors: [{ visitor: 'v2', value: 9 }] })
    expect(ask([world], { limit: 1, offset: 1, order: 'value' }).visitors).toMatchObject([{ visitor: 'v1' }])
  })
})
