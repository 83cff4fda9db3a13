import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { twoProportions } from '../../stats/significance.ts'
import { about, answerTo, blockOf } from '../../testing/world.ts'
import { clickChanges } from './changes.ts'
import { clickHeat } from './click-heat.ts'

const heatOf = (clicks: readonly (readonly string[])[]) => {
  const sessions = clicks.map((selectors): Line[] => [
    { visitor: 'v', t: 0, kind: 'page', url: '/a' },
    ...selectors.map((selector, k): Line => ({
      ...{ visitor: 'v', t: 1000 * k, kind: 'click' },
      target: { selector, text: selector.slice(1) },
    })),
  ])
  const { block, names } = blockOf(sessions)
  const blocks = [{ block, sessions: SessionSet.all(sessions.length) }]
  return answerTo(clickHeat, blocks, { page: '/a', which: 'all' }, about(names))
}
const sessions = (n: number, ...selectors: string[]) => Array.from({ length: n }, () => selectors)

describe('changes between two click maps', () => {
  it('put what changed most surely first, with p adjusted for all elements, those of one side alone too', () => {
    const first = heatOf([...sessions(50, '#buy', '#more'), ...sessions(50)])
    const second = heatOf([...sessions(10, '#buy'), ...sessions(50, '#more', '#new'), ...sessions(40)])
    const changes = clickChanges(first, second)
    expect(changes.map(({ selector }) => selector)).toEqual(['#new', '#buy', '#more'])
    const [fresh, buy, more] = changes
    expect(fresh).toMatchObject({
      first: { hits: 0, base: 100 },
      second: { hits: 50, base: 100 },
      difference: 0.5,
    })
    expect(buy!.difference).toBeCloseTo(-0.4, 12)
    expect(buy!.interval[1]).toBeLessThan(0)
    expect(more!.difference).toBe(0)
    expect(more!.p).toBeCloseTo(1, 12)
    // The second smallest of three: p × 3 / 2.
    expect(buy!.p).toBeCloseTo((twoProportions(10, 100, 50, 100)! * 3) / 2, 12)
  })
  it('tell nothing where nobody saw the page on one side', () => {
    const [change] = clickChanges(heatOf([]), heatOf(sessions(3, '#buy')))
    expect(change).toMatchObject({ selector: '#buy', difference: null, p: null })
  })
})
