import { expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf } from '../../testing/world.ts'
import { price } from './price.ts'

const page = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
const dead = (t: number): Line => ({
  visitor: 'v',
  t,
  kind: 'click',
  effect: 'none',
  target: { selector: '#x', tag: 'div' },
})
const times = <T>(n: number, value: T) => Array.from({ length: n }, () => value)

const ask = (sessions: Line[][]) => {
  const { block, names } = blockOf(sessions)
  return answerTo(
    price,
    [{ block, sessions: SessionSet.all(block.sessions.count) }],
    { selection: { type: 'signal', kind: 'dead click', page: '/a', selector: '#x' } },
    about(names, { goal: '/d' }),
  )
}

it('sets those who met it beside those who saw the page and did not', () => {
  const result = ask([
    ...times(1, [page(0, '/a'), dead(1), page(5, '/d')]),
    ...times(9, [page(0, '/a'), dead(1)]),
    ...times(6, [page(0, '/a'), page(5, '/d')]),
    ...times(14, [page(0, '/a')]),
    ...times(50, [page(0, '/b'), page(5, '/d')]),
  ])
  expect(result.met).toMatchObject({ hits: 1, base: 10, share: 0.1 })
  expect(result.others).toMatchObject({ hits: 6, base: 20, share: 0.3 })
  expect(result.difference).toBeCloseTo(0.2, 12)
  expect(result.lost).toBeCloseTo(2, 12)
  expect(result.lostInterval[0]).toBeCloseTo(10 * result.interval[0], 12)
})

it('does not count a conversion from before the problem was met', () => {
  expect(ask([[page(0, '/d'), page(5, '/a'), dead(9)]]).met).toMatchObject({ hits: 0, base: 1 })
})

it('has no price where there is nobody to compare with', () => {
  expect(ask([[page(0, '/a'), dead(1)]])).toMatchObject({ lost: null, difference: null })
})
