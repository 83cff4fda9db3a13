import { describe, expect, it } from 'vitest'
import { buy, buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'

describe('designs', () => {
  it('a page that became slow is compared with itself before, whoever had a fast line', () => {
    let lost = 0
    const lines = world(6000, 21, (going, day) => {
      going.page('/', {})
      if (going.roll() < 0.2) return going.leave()
      going.click('a.start', 'navigate')
      const slow = day >= 30
      going.page('/product', { load: slow ? 5000 + going.roll() * 3000 : 500 + going.roll() * 400 })
      const would = going.roll() < 0.6
      const pays = would && going.roll() < 0.75
      if (slow && going.roll() < 0.3) {
        if (pays) lost++
        return going.leave()
      }
      if (!would) return going.leave()
      going.click('a.buy', 'navigate')
      return buyIf(going, pays)
    })
    const [first] = pricesIn(lines).candidates
    expect(first).toMatchObject({
      kind: 'became slow',
      design: 'change',
      page: '/product',
      confident: true,
      technical: true,
    })
    expect(first!.price.low).toBeLessThan(lost / 2)
    expect(first!.price.high).toBeGreaterThan(lost / 2)
    expect(first!.price.value / (lost / 2)).toBeGreaterThan(0.75)
    expect(first!.price.value / (lost / 2)).toBeLessThan(1.25)
  })

  it('a page that is slow for some, who are as the others are, is told by carrying on and by conversions together', () => {
    let lost = 0
    const lines = world(6000, 63, (going, _day, phone) => {
      // On phones alone, where fewer go on anyhow: that is accounted for, and no sign that they are other people.
      const slow = phone && going.roll() < 0.5
      going.page('/product', { load: slow ? 9000 : 700 })
      const [goesOn, pays] = [going.roll() < (phone ? 0.4 : 0.7), going.roll() < 0.75]
      if (slow && going.roll() < 0.25) {
        if (goesOn && pays) lost++
        return going.leave()
      }
      going.add('scroll', { depth: 0.5 })
      if (!goesOn) return going.leave()
      going.click('a.buy', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ kind: 'slow page', page: '/product', design: 'page' })
    const { low, value, high } = candidates[0]!.price
    const truth = (lost * 30) / days
    expect(low).toBeLessThan(truth)
    expect(high).toBeGreaterThan(truth)
    expect((value - low) / value).toBeLessThan(0.6)
  })

  it('a field at which a form is given up is compared with the other fields', () => {
    const fields = ['#name', '#mail', '#phone', '#street', '#tax', '#town', '#code']
    let lost = 0
    const lines = world(3000, 8, (going) => {
      going.page('/form')
      for (const field of fields) {
        if (going.roll() < 0.02) return going.leave()
        if (field === '#tax' && going.roll() < 0.3) {
          // Of those who would have filled in this and the two after it most would have paid.
          if (going.roll() < 0.98 ** 2 * 0.75) lost++
          return going.leave()
        }
        going.fill(field)
      }
      going.click('#form > button', 'navigate')
      return buy(going)
    })
    const [first] = pricesIn(lines).candidates
    expect(first).toMatchObject({
      kind: 'given up at field',
      selector: '#tax',
      design: 'fields',
      whether: 'clear',
    })
    expect(first!.price.low).toBeLessThan(lost / 2)
    expect(first!.price.high).toBeGreaterThan(lost / 2)
  })

  it('a link to a page that is not there is found at the link', () => {
    const lines = world(3000, 5, (going) => {
      going.page('/campaign')
      if (going.roll() < 0.4) return going.leave()
      going.click('a.offer', 'navigate')
      going.page('/offer', { status: 404 })
      if (going.roll() < 0.5) return going.leave()
      going.click('a.home', 'navigate')
      going.page('/product')
      if (going.roll() < 0.5) return going.leave()
      going.click('a.buy', 'navigate')
      return buy(going)
    })
    expect(pricesIn(lines).candidates[0]).toMatchObject({
      ...{ kind: 'not found', page: '/campaign', selector: 'a.offer', technical: true },
    })
  })

  it('clicks on what looks like the link beside it are compared with those who took the link', () => {
    let lost = 0
    const lines = world(5000, 17, (going) => {
      going.page('/list')
      const eager = going.roll()
      if (going.roll() > 0.3 + 0.6 * eager) return going.leave()
      const pays = going.roll() < 0.75
      // The eager click on pictures more, and go on more: a plain comparison is misled.
      if (going.roll() < 0.2 + 0.4 * eager) {
        going.click('ul > li:nth-of-type(3) > img', 'none')
        if (going.roll() < 0.3) {
          if (pays) lost++
          return going.leave()
        }
      }
      going.click('ul > li:nth-of-type(3) > a', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      kind: 'dead click',
      selector: 'ul > li > img',
      design: 'instead',
      confident: true,
    })
    expect(Math.abs(candidates[0]!.price.value / (lost / 2) - 1)).toBeLessThan(0.2)
  })

  it('who leaves at any second is compared with who was still there: staying brings trouble, and it costs nothing', () => {
    const lines = world(5000, 3, (going) => {
      going.page('/product')
      // Each second some leave; the longer one stays, the likelier a click on the text, and the purchase.
      for (let s = 0; s < 8; s++) {
        if (going.roll() < 0.12) return going.leave()
        if (going.roll() < 0.1) going.click('p.text', 'none')
      }
      going.click('a.buy', 'navigate')
      return buy(going)
    })
    expect(pricesIn(lines).candidates.filter(({ confident }) => confident)).toEqual([])
  })

  it('what befalls everybody stands apart, without a price', () => {
    const lines = world(1500, 9, (going) => {
      going.page('/product')
      going.add('error', { message: 'Oh' })
      if (going.roll() < 0.4) return going.leave()
      going.click('a.buy', 'navigate')
      return buy(going)
    })
    const { candidates, unpriced } = pricesIn(lines)
    expect(candidates).toEqual([])
    expect(unpriced[0]).toMatchObject({ kind: 'script error', page: '/product', sessions: 1500 })
  })

  it('a form that refuses in silence stays one cause where people leave before it can be told', () => {
    let lost = 0
    const lines = world(7000, 23, (going) => {
      going.page('/product')
      going.fill('#phone')
      if (going.roll() < 0.25) return going.leave()
      if (going.roll() < 0.4) {
        going.click('#order > button', 'none')
        const gives = going.roll() < 0.5
        if (gives) lost += 0.75
        // Half of those who give up are gone before the form says that it was refused.
        if (gives && going.roll() < 0.5) return going.leave()
        going.add('submit', { target: { selector: '#order' }, ok: false, explained: false })
        if (gives) return going.leave()
      }
      going.click('#order > button', 'navigate')
      return buy(going)
    })
    const { candidates, days } = pricesIn(lines)
    const at = candidates.filter(({ selector }) => selector === '#order > button')
    expect(at.map(({ kind }) => kind)).toEqual(['refused form'])
    expect(at[0]!.price.low).toBeLessThan((lost * 30) / days)
    expect(at[0]!.price.high).toBeGreaterThan((lost * 30) / days)
  })

  it('who leaves before it can be told is not taken for one whom an error befell that is there at once', () => {
    // Of those who give up over the form some would have met the error after it.
    const lost = { error: 0, refused: 0 }
    const lines = world(9000, 31, (going) => {
      going.page('/product')
      going.fill('#phone')
      if (going.roll() < 0.25) return going.leave()
      if (going.roll() < 0.2) {
        going.click('#order > button', 'none')
        const gives = going.roll() < 0.6
        if (gives) lost.refused += 0.7
        if (gives && going.roll() < 0.7) return going.leave()
        going.add('submit', { target: { selector: '#order' }, ok: false, explained: false })
        if (gives) return going.leave()
      }
      if (going.roll() < 0.35) {
        going.click('#order > button', 'none')
        going.atOnce('error', { message: 'It broke' })
        if (going.roll() < 0.2) {
          lost.error += 0.75
          return going.leave()
        }
      }
      going.click('#order > button', 'navigate')
      return buy(going)
    })
    const { candidates, days } = pricesIn(lines)
    const at = candidates.filter(({ selector }) => selector === '#order > button')
    expect(at.map(({ kind }) => kind).sort()).toEqual(['refused form', 'script error'])
    for (const { kind, price } of at) {
      const own = ((kind === 'script error' ? lost.error : lost.refused) * 30) / days
      expect(price.low, kind).toBeLessThan(own)
      expect(price.high, kind).toBeGreaterThan(own)
    }
  })

  it('of those who tried the same, who is left is no measure of who gave up: these were the less eager', () => {
    let lost = 0
    const lines = world(9000, 53, (going) => {
      going.page('/product')
      if (going.roll() < 0.3) return going.leave()
      const eager = going.roll() < 0.5
      // Nine of ten eager ones pay, and one of ten others.
      const pays = going.roll() < (eager ? 0.9 : 0.1)
      if (going.roll() < 0.4) {
        going.click('a.buy', 'none')
        if (going.roll() < (eager ? 0.05 : 0.6)) {
          if (pays) lost++
          return going.leave()
        }
      }
      going.click('a.buy', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ selector: 'a.buy', design: 'attempt' })
    const ratio = candidates[0]!.price.value / ((lost * 30) / days)
    expect(ratio).toBeGreaterThan(0.4)
    expect(ratio).toBeLessThan(2)
  })

  it('a field that is left empty is compared with those who fill it in, and is never certain: it may be optional', () => {
    let lost = 0
    const lines = world(4000, 57, (going) => {
      going.page('/form')
      going.fill('#name')
      if (going.roll() < 0.1) return going.leave()
      const pays = going.roll() < 0.75
      const unwilling = going.roll() < 0.3
      if (unwilling) {
        going.add('input', { target: { selector: '#phone', tag: 'input' }, length: 0, ms: 4000 })
        if (going.roll() < 0.4) {
          if (pays) lost++
          return going.leave()
        }
      }
      going.fill('#phone')
      going.click('#form > button', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      ...{ kind: 'given up at field', selector: '#phone', design: 'attempt', confident: false },
    })
    expect(candidates[0]!.compared).toContain('left it empty')
    expect(candidates[0]!.price.low).toBeLessThan((lost * 30) / days)
    expect(candidates[0]!.price.high).toBeGreaterThan((lost * 30) / days)
  })

  it('silence says that a call to action was not seen where a sender tells of nothing else', () => {
    const outOfSight = (isTold: boolean) => {
      let lost = 0
      const lines = world(5000, 67, (going, _day, phone) => {
        going.page('/plan')
        const seen = (selector: string) =>
          going.atOnce('seen', { target: { selector, tag: 'a', interactive: true }, y: 400 })
        // Some tell of the head of the page as well, and tell nothing at all for some views.
        if (isTold && going.roll() < 0.8) seen('header > a')
        const below = phone && going.roll() < 0.6
        const [goesOn, pays] = [going.roll() < 0.5, going.roll() < 0.75]
        if (!below) seen('a.begin')
        for (let k = 0; k < 4; k++) going.add('scroll', { depth: 0.2 * k })
        if (below) {
          if (going.roll() < 0.5) {
            if (goesOn && pays) lost++
            return going.leave()
          }
          seen('a.begin')
          going.add('scroll', { depth: 0.9 })
        }
        if (!goesOn) return going.leave()
        going.click('a.begin', 'navigate')
        return buyIf(going, pays)
      })
      const { candidates, days } = pricesIn(lines)
      return { truth: (lost * 30) / days, found: candidates.find(({ kind }) => kind === 'out of sight') }
    }
    const { truth, found } = outOfSight(false)
    expect(found).toMatchObject({ page: '/plan', selector: 'a.begin' })
    expect(found!.price.low).toBeLessThan(truth)
    expect(found!.price.high).toBeGreaterThan(truth)
    expect(found!.price.value / truth).toBeGreaterThan(0.6)
    expect(outOfSight(true).found).toMatchObject({ page: '/plan', selector: 'a.begin' })
  })

  it('a call to action that opens a form on the spot is one, too', () => {
    const lines = world(4000, 59, (going, _day, phone) => {
      going.page('/plans')
      const seen = (selector: string) =>
        going.atOnce('seen', { target: { selector, tag: 'a', interactive: true }, y: 400 })
      seen('header > a')
      const below = phone && going.roll() < 0.6
      if (!below) seen('a.begin')
      for (let k = 0; k < 4; k++) {
        if (going.roll() < 0.08) return going.leave()
        going.add('scroll', { depth: 0.2 * k })
      }
      if (below) {
        if (going.roll() < 0.6) return going.leave()
        seen('a.begin')
        for (let k = 0; k < 2; k++) going.add('scroll', { depth: 0.9 })
      }
      if (going.roll() < 0.4) return going.leave()
      going.click('a.begin', 'change')
      going.fill('#mail')
      going.click('#send', 'navigate')
      return buy(going)
    })
    expect(pricesIn(lines).candidates[0]).toMatchObject({
      ...{ kind: 'out of sight', page: '/plans', selector: 'a.begin' },
    })
  })

  it('where nothing is known of what clicks bring about, many quick ones tell that they brought nothing', () => {
    let lost = 0
    const lines = world(5000, 61, (going) => {
      going.page('/product')
      if (going.roll() < 0.3) return going.leave()
      const press = { target: { selector: 'a.buy', tag: 'a', interactive: true }, x: 100, y: 200 }
      const pays = going.roll() < 0.75
      if (going.roll() < 0.35) {
        for (let k = 0; k < 5; k++) going.atOnce('click', press)
        if (going.roll() < 0.4) {
          if (pays) lost++
          return going.leave()
        }
      }
      going.add('click', press)
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      ...{ kind: 'rage click', selector: 'a.buy', design: 'attempt', whether: 'clear', confident: false },
    })
    const ratio = candidates[0]!.price.value / ((lost * 30) / days)
    expect(ratio).toBeGreaterThan(0.8)
    expect(ratio).toBeLessThan(1.25)
  })
})
