import { describe, expect, it } from 'vitest'
import { dice } from '../../testing/dice.ts'
import { buy, buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'
import { stillOpen } from './risk-sets.ts'
import type { Stages } from './stages.ts'

/** Views that all begin at 0, each a session of its own, on one device. */
function viewsOf(lengths: readonly number[]): Stages {
  return {
    journeys: {
      sessions: { device: new Float64Array(lengths.length).fill(1) },
      views: { atMs: new Float64Array(lengths.length) },
    },
    sessionOf: Uint32Array.from(lengths, (_, v) => v),
    endMs: Float64Array.from(lengths),
  } as unknown as Stages
}

describe('views that were still open', () => {
  it('stand for those of their length that met it before the end, by hand after Kaplan and Meier', () => {
    const stages = viewsOf([1000, 10_000, 10_000, 2500, 2600])
    // The last two meet it after 2 seconds, where four are still there: spared are 3/4 · 2/3 = 1/2.
    const cases = [3, 4].map((view) => ({ view, atMs: 2000 }))
    const drawn = stillOpen(stages, [0, 1, 2], cases)
    expect(drawn.every(({ view }) => view < 3)).toBe(true)
    // The first one had left by then and stands for itself; the two others for two each.
    const early = drawn.filter(({ view }) => view === 0).length
    expect(early / drawn.length).toBeGreaterThan(0.12)
    expect(early / drawn.length).toBeLessThan(0.28)
  })

  it('are as they are where nobody else met it', () => {
    const stages = viewsOf([1000, 10_000, 10_000, 20_000])
    const drawn = stillOpen(stages, [0, 1, 2], [{ view: 3, atMs: 15_000 }])
    expect(drawn).toEqual([])
    const before = stillOpen(stages, [0, 1, 2], [{ view: 3, atMs: 500 }])
    const early = before.filter(({ view }) => view === 0).length / before.length
    expect(Math.abs(early - 1 / 3)).toBeLessThan(0.1)
  })
})

it('who left before it could befall them does not make it look harmless', () => {
  let lost = 0
  const other = dice(77)
  const lines = world(8000, 41, (going) => {
    going.page('/product')
    // They leave at any moment; half of those who stay meet it on their way out, and many of these give up.
    for (let k = 0; k < 6; k++) {
      if (other() < 0.04) return going.leave()
      going.add('scroll', { depth: 0.1 * k })
    }
    const pays = other() < 0.75
    if (other() < 0.5) {
      going.click('div.shade', 'none')
      if (other() < 0.4) {
        if (pays) lost++
        return going.leave()
      }
      going.click('button.fine', 'change')
    }
    going.click('a.buy', 'navigate')
    return buyIf(going, pays)
  })
  const { candidates, days } = pricesIn(lines)
  const own = candidates.find(({ selector }) => selector === 'div.shade')
  expect(own?.design).toBe('page')
  expect(own!.price.value / ((lost * 30) / days)).toBeGreaterThan(0.72)
  expect(own!.price.low).toBeLessThan((lost * 30) / days)
  expect(own!.price.high).toBeGreaterThan((lost * 30) / days)
})

it('who met something else before is no measure for those who did not', () => {
  let lost = 0
  const lines = world(6000, 43, (going) => {
    going.page('/pay')
    going.add('scroll', { depth: 0.3 })
    // Half of those who press meet a failing request, stay on for it and mostly give up.
    const presses = going.roll() < 0.5
    if (presses) {
      going.click('button.pay', 'change')
      if (going.roll() < 0.5) {
        going.atOnce('request', { status: 500, path: '/pay' })
        for (let k = 0; k < 8; k++) going.add('scroll', { depth: 0.1 * k })
        if (going.roll() < 0.7) return going.leave()
      }
    } else if (going.roll() < 0.4) {
      // A code that does not come: asked for again, in vain.
      for (let k = 0; k < 3; k++) going.add('scroll', { depth: 0.1 * k })
      going.click('button.again', 'none')
      going.click('button.again', 'none')
      if (going.roll() < 0.3) {
        lost++
        return going.leave()
      }
    }
    return buy(going)
  })
  const { candidates, days } = pricesIn(lines)
  const own = candidates.find(({ selector }) => selector === 'button.again')
  expect(own?.design).toBe('page')
  // Of those who went on three of four would have paid.
  expect(own!.price.value / ((0.75 * lost * 30) / days)).toBeGreaterThan(0.75)
  expect(own!.price.value / ((0.75 * lost * 30) / days)).toBeLessThan(1.25)
})
