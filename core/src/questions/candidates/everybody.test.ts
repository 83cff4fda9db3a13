import { describe, expect, it } from 'vitest'
import type { Going } from '../../testing/going.ts'
import { buy, buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'
import { sessionsThatMet } from './words.ts'

/** Looks at the page for some seconds, as people do before they go on or leave. */
function look(going: Going): void {
  for (const depth of [0.3, 0.5, 0.7, 0.9]) going.add('scroll', { depth })
}

/** What befalls all who try it: there is nobody for whom it worked. */
describe('what everybody meets who tries it', () => {
  it('at a link of the frame of the site is compared with others on the page: it would have led nowhere near the goal', () => {
    let lost = 0
    const footer = (going: Going, url: string, pays: boolean): boolean => {
      if (going.roll() > 0.15) {
        look(going)
        return true
      }
      going.click('footer > a.delivery', 'navigate')
      going.page('/delivery', { status: 404 })
      if (going.roll() < 0.25) {
        if (pays) lost++
        return false
      }
      going.page(url)
      look(going)
      return true
    }
    const lines = world(8000, 31, (going) => {
      // Drawn at first, so that what would have been without the link is known.
      const [starts, likes, pays] = [going.roll() < 0.8, going.roll() < 0.4, going.roll() < 0.75]
      going.page('/')
      if (!footer(going, '/', starts && likes && pays) || !starts) return going.leave()
      going.click('a.start', 'navigate')
      going.page('/product')
      if (!footer(going, '/product', likes && pays) || !likes) return going.leave()
      going.click('a.buy', 'navigate')
      going.page('/basket')
      if (!footer(going, '/basket', pays) || !pays) return going.leave()
      going.click('a.pay', 'navigate')
      going.page('/done')
      return going.leave()
    })
    const { candidates, days } = pricesIn(lines)
    const own = candidates.filter(({ kind }) => kind === 'not found')
    expect(new Set(own.map(({ selector, design }) => `${selector} ${design}`))).toEqual(
      new Set(['footer > a.delivery page']),
    )
    const sum = own.reduce((all, { price }) => all + price.value, 0)
    expect(sum / ((lost * 30) / days)).toBeGreaterThan(0.6)
    expect(sum / ((lost * 30) / days)).toBeLessThan(1.6)
  })

  it('at a link aside is compared with others on the page, of whom most go on by something else', () => {
    let lost = 0
    const lines = world(6000, 39, (going) => {
      going.page('/contract')
      const pays = going.roll() < 0.7
      look(going)
      if (going.roll() < 0.12) {
        going.click('a.terms', 'navigate')
        going.page('/terms', { status: 404 })
        if (going.roll() < 0.4) {
          if (pays) lost++
          return going.leave()
        }
        going.page('/contract')
        look(going)
      }
      if (!pays) return going.leave()
      going.click('a.sign', 'navigate')
      going.atOnce('page', { url: '/done' })
      return going.leave()
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ kind: 'not found', selector: 'a.terms', design: 'page' })
    const ratio = candidates[0]!.price.value / ((lost * 30) / days)
    // As a lost step it would be priced at more than twice its cost.
    expect(ratio).toBeGreaterThan(0.4)
    expect(ratio).toBeLessThan(1.33)
    expect(candidates[0]!.price.high).toBeGreaterThan((lost * 30) / days)
  })

  it('in a field is compared with those who leave it alone, and is never certain', () => {
    let lost = 0
    const lines = world(4000, 33, (going) => {
      going.page('/basket')
      const goesOn = going.roll() < 0.8
      const pays = going.roll() < 0.75
      if (going.roll() < 0.4) {
        going.add('input', {
          target: { selector: '#code', tag: 'input' },
          length: 8,
          corrections: 4,
          ms: 9000,
        })
        if (going.roll() < 0.3) {
          if (goesOn && pays) lost++
          return going.leave()
        }
      }
      look(going)
      if (!goesOn) return going.leave()
      going.click('a.pay', 'navigate')
      going.page('/pay')
      if (!pays) return going.leave()
      going.click('a.now', 'navigate')
      going.page('/done')
      return going.leave()
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      ...{ kind: 'corrected field', selector: '#code', design: 'page', confident: false },
    })
    expect(candidates[0]!.price.low).toBeLessThan((lost * 30) / days)
    expect(candidates[0]!.price.high).toBeGreaterThan((lost * 30) / days)
  })

  it('on phones, where it lies over what they want, is compared with others who used that', () => {
    let lost = 0
    const lines = world(6000, 37, (going, _day, phone) => {
      going.page('/product')
      look(going)
      // Only who wants to go on meets it: beside all viewers of the page it would seem to help.
      if (going.roll() < 0.6) return going.leave()
      const pays = going.roll() < 0.75
      if (phone) {
        for (let k = 0; k < 1 + 2 * going.roll(); k++) going.click('div.shade', 'none')
        if (going.roll() < 0.3) {
          if (pays) lost++
          return going.leave()
        }
        going.click('button.fine', 'change')
      }
      going.click('a.buy', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ kind: 'dead click', selector: 'div.shade', design: 'instead' })
    expect(candidates[0]!.price.low).toBeLessThan((lost * 30) / days)
    expect(candidates[0]!.price.high).toBeGreaterThan((lost * 30) / days)
    expect(candidates[0]!.price.value / ((lost * 30) / days)).toBeGreaterThan(0.6)
  })

  it('is told with its reach where it is broken and other people are all there is to compare with', () => {
    const lines = world(3000, 35, (going) => {
      going.page('/list')
      const eager = going.roll() < 0.4
      if (eager) {
        going.click('select.size', 'none')
        // The field itself takes no click; the error names it.
        going.atOnce('error', {
          ...{ message: 'size is undefined', target: { selector: 'select.size', tag: 'select' } },
        })
      }
      if (going.roll() < (eager ? 0.2 : 0.6)) return going.leave()
      going.click('a.buy', 'navigate')
      return buy(going)
    })
    const { candidates, unpriced } = pricesIn(lines)
    expect(candidates.filter(({ confident }) => confident)).toEqual([])
    expect(unpriced).toContainEqual(
      expect.objectContaining({ kind: 'script error', page: '/list', selector: 'select.size' }),
    )
  })
})

it('the links of a list that are taken to and fro are one, and picked by any of them', () => {
  const cards = [1, 2, 3].map((n) => `a.card:nth-child(${n})`)
  const { condition } = sessionsThatMet('shuttle', '/list', 'a.card', cards) as {
    condition: { of: { of: { event: { element: { to: string } } }[] }[] }
  }
  expect(condition.of[0]!.of.map(({ event }) => event.element.to)).toEqual(cards)
  expect(sessionsThatMet('shuttle', '/list', 'a.back', ['a.back'])).toMatchObject({ type: 'clicks' })
})
