import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { pageGoal } from '../../labels/goals.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { price } from '../price/price.ts'
import { rate } from '../../stats/rate.ts'
import { fallenValues } from './changed-values.ts'
import { goals } from './goals.ts'

const page = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
const action = (t: number, name: string, value?: number): Line => ({
  ...{ visitor: 'v', t, kind: 'action', name },
  ...(value !== undefined && { value }),
})
const BOOKED = { name: 'Booked', event: { action: 'book' }, value: 'event' as const }
const READ = {
  name: 'Read on',
  event: { kinds: ['page' as const], page: { is: 'equal' as const, to: '/b' } },
  value: 2,
}

const world = (sessions: Line[][], more = {}) => {
  const { block, names } = blockOf(sessions)
  const blocks = [{ block, sessions: SessionSet.all(sessions.length) }]
  return { blocks, context: about(names, more) }
}

describe('goals', () => {
  it('are reached by pages, actions or anything else, each worth what its events or its fixed value say', () => {
    const { blocks, context } = world(
      [
        [page(0, '/a'), action(10, 'book', 19.99), action(20, 'book', 0.01)],
        [page(0, '/a'), page(5, '/b'), page(9, '/b')],
        [page(0, '/a'), page(5, '/b'), action(10, 'book')],
        [page(0, '/a'), action(10, 'other', 100)],
      ],
      { goals: [BOOKED, READ] },
    )
    const answer = answerTo(goals, blocks, { by: 'device' }, context)
    expect(answer.goals).toMatchObject([
      { name: 'Booked', reached: { hits: 2, base: 4 }, times: 3, value: 20 },
      { name: 'Read on', reached: { hits: 2, base: 4 }, times: 3, value: 4 },
    ])
    // Sessions take turns on desktop and mobile: see testing/world.ts.
    expect(answer.values).toMatchObject([
      { value: 'desktop', reached: { hits: 2, base: 2 } },
      { value: 'mobile', reached: { hits: 0, base: 2 } },
    ])
  })
  it('are none where the site has none, and one where it names a page alone', () => {
    const { blocks, context } = world([[page(0, '/a')]])
    expect(answerTo(goals, blocks, {}, context).goals).toEqual([])
    expect(answerTo(goals, blocks, {}, { ...context, goal: '/a' }).goals).toMatchObject([
      { name: '/a', reached: { hits: 1, base: 1 } },
    ])
  })
  it('count a page the same whether it is named or a condition, here and in prices', () => {
    fc.assert(
      fc.property(worlds, fc.nat(12), (sessions, cut) => {
        const { blocks, context } = world(sessions)
        const [{ block }] = blocks as [(typeof blocks)[0]]
        const parts = [new SessionSet(sessions.length), new SessionSet(sessions.length)]
        sessions.forEach((_, s) => parts[s < cut ? 0 : 1]!.add(s))
        const cutBlocks = parts.map((some) => ({ block, sessions: some }))
        const byName = { ...context, goal: '/d' }
        const slow = { ...pageGoal('/d'), event: { all: [pageGoal('/d').event] } }
        const selection = { type: 'clicks' as const, page: '/a', which: 'dead' as const }
        for (const goal of [pageGoal('/d'), slow]) {
          const byGoal = { ...context, goals: [goal] }
          expect(answerTo(goals, cutBlocks, {}, byGoal)).toEqual(answerTo(goals, blocks, {}, byName))
          expect(answerTo(price, cutBlocks, { selection }, byGoal)).toEqual(
            answerTo(price, blocks, { selection }, byName),
          )
        }
        const reached = sessions.filter((lines) =>
          lines.some((line) => line.kind === 'page' && line.url === '/d'),
        )
        expect(answerTo(goals, blocks, {}, byName).goals[0]!.reached.hits).toBe(reached.length)
      }),
      { numRuns: 150 },
    )
  })
})

describe('fallenValues', () => {
  const of = (value: string, hits: number, base: number) => ({ value, reached: rate(hits, base) })
  it('are those that fell beyond noise, on enough sessions on both sides', () => {
    const now = [of('/a', 10, 400), of('/b', 40, 400), of('/c', 0, 20), of('/d', 0, 400)]
    const before = [of('/a', 60, 400), of('/b', 44, 400), of('/c', 20, 20)]
    expect(fallenValues(now, before)).toMatchObject([
      { value: '/a', now: { hits: 10 }, before: { hits: 60 }, difference: -0.125 },
    ])
  })
})
