import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { dice } from '../../testing/dice.ts'
import { pricesIn, visited } from '../../testing/priced.ts'
import { about, answerTo } from '../../testing/world.ts'
import { candidates } from './candidates.ts'

interface Shop {
  sessions: number
  seed: number
  /** share of those who press “buy” for whom it fails the first time, and of these who give up over it */
  fails: number
  givesUp: number
}

/**
 * A small shop: start, a product, a basket, done. The eager buy more and click on the text more often: a plain comparison
 * thinks that clicks on text help. Whoever gives up over the button is lost; how many that are is counted here.
 */
function shop({ sessions, seed, fails, givesUp }: Shop): { lines: Line[][]; lost: number } {
  const roll = dice(seed)
  let lost = 0
  const lines = Array.from({ length: sessions }, (_, i) => {
    const own: Line[] = []
    let t = i * 60_000
    const eager = roll()
    const add = (kind: Line['kind'], more: Partial<Line> = {}) => {
      t += 500 + Math.floor(roll() * 2500)
      own.push({ visitor: `v${i}`, t, kind, ...more })
    }
    const click = (selector: string, effect: 'none' | 'change' | 'navigate') =>
      add('click', { target: { selector, tag: 'a', interactive: selector !== 'p.text' }, effect })
    const textToo = roll() < 0.1 + 0.4 * eager
    add('page', { url: '/' })
    if (roll() > 0.8) return own
    click('a.start', 'navigate')
    add('page', { url: '/product' })
    if (textToo) click('p.text', 'none')
    if (roll() > 0.2 + 0.6 * eager) return own
    const wouldDo = roll() < 0.7
    if (roll() < fails) {
      click('button.buy', 'none')
      if (roll() < 0.5) click('button.buy', 'none')
      if (roll() < givesUp) {
        if (wouldDo) lost++
        return own
      }
    }
    click('button.buy', 'navigate')
    add('page', { url: '/basket' })
    if (!wouldDo) return own
    click('button.pay', 'navigate')
    add('page', { url: '/done' })
    return own
  })
  return { lines, lost }
}

describe('candidates', () => {
  it('finds a button that fails and what it costs, and is not misled by what the eager do', () => {
    const { lines, lost } = shop({ sessions: 6000, seed: 11, fails: 0.3, givesUp: 0.5 })
    const { candidates: found, conversions, days } = pricesIn(lines)
    expect(conversions).toBeGreaterThan(800)
    const [first] = found
    expect(first).toMatchObject({
      page: '/product',
      selector: 'button.buy',
      kind: 'dead click',
      design: 'attempt',
      confident: true,
      whether: 'clear',
      technical: false,
    })
    const per30 = (lost * 30) / days
    expect(first!.price.low).toBeLessThan(per30)
    expect(first!.price.high).toBeGreaterThan(per30)
    expect(first!.price.value / per30).toBeGreaterThan(0.8)
    expect(first!.price.value / per30).toBeLessThan(1.2)
    expect(found.filter(({ confident }) => confident)).toHaveLength(1)
    expect(found.some(({ selector }) => selector === 'p.text')).toBe(false)
  })

  it('knows what a button costs that fails for everybody at first', () => {
    const { lines, lost } = shop({ sessions: 5000, seed: 5, fails: 1, givesUp: 0.3 })
    const { candidates: found, days } = pricesIn(lines)
    expect(found[0]).toMatchObject({ selector: 'button.buy', confident: true })
    expect(Math.abs(found[0]!.price.value / ((lost * 30) / days) - 1)).toBeLessThan(0.2)
  })

  it('takes the days over which the sessions lie, whatever few stray ones there are', () => {
    const { lines } = shop({ sessions: 1000, seed: 4, fails: 0.4, givesUp: 0.6 })
    const spread = lines.map((own, i) => own.map((line) => ({ ...line, t: line.t + i * 3_600_000 })))
    const stray: Line[] = [{ visitor: 'old', t: -1000 * 86_400_000, kind: 'page', url: '/' }]
    const [alone, beside] = [pricesIn(spread).days, pricesIn([stray, ...spread]).days]
    expect(alone).toBeCloseTo((1000 * 3_660_000) / 86_400_000, 0)
    expect(beside).toBeCloseTo(alone, 0)
  })

  it('lists nothing where nothing costs anything', () => {
    const { lines } = shop({ sessions: 4000, seed: 3, fails: 0.3, givesUp: 0 })
    expect(pricesIn(lines).candidates.filter(({ confident }) => confident)).toEqual([])
  })

  it('says that there is nothing to price by without a goal, and without sessions', () => {
    const { lines } = shop({ sessions: 200, seed: 3, fails: 0.3, givesUp: 0.5 })
    expect(pricesIn(lines, '')).toMatchObject({ conversions: 0, candidates: [] })
    expect(pricesIn([])).toMatchObject({ sessions: 0, looked: 0, conversions: 0, candidates: [] })
  })

  it('answers the same however the sessions are cut into blocks, and in whatever order they come', () => {
    const { lines } = shop({ sessions: 1500, seed: 8, fails: 0.4, givesUp: 0.6 })
    const { block, names } = visited(lines)
    const asked = { ...about(names, { goal: '/done' }), sessions: lines.length } as never
    const some = (from: number, to: number) => ({
      block,
      sessions: SessionSet.where(block.sessions.count, (s) => s >= from && s < to),
    })
    const whole = answerTo(candidates, [some(0, 1500)], {}, asked)
    const parts = answerTo(candidates, [some(400, 1500), some(0, 400)], {}, asked)
    expect(parts).toEqual(whole)
  })
})
