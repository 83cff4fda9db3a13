import { describe, expect, it } from 'vitest'
import { buy, buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'

const expectInside = ({ low, high }: { low: number; high: number }, truth: number) => {
  expect(low).toBeLessThan(truth)
  expect(high).toBeGreaterThan(truth)
}

describe('what befalls some', () => {
  it('in one browser is priced beside another fault that befalls the others of the page', () => {
    const lost = { photo: 0, date: 0 }
    const lines = world(6000, 71, (going, _day, phone) => {
      const browser = going.roll() < 0.4 ? 'Safari' : 'Firefox'
      going.page('/form', { device: { class: phone ? 'mobile' : 'desktop', browser } })
      const pays = going.roll() < 0.75
      if (going.roll() < 0.1) return going.leave()
      const dead = browser === 'Safari' && going.roll() < 0.7
      going.click('#photo', dead ? 'none' : 'change')
      if (dead && going.roll() < 0.25) {
        if (pays) lost.photo++
        return going.leave()
      }
      if (browser === 'Firefox') {
        going.click('#day', 'none')
        going.atOnce('error', { message: 'day is undefined', target: { selector: '#day', tag: 'a' } })
        if (going.roll() < 0.35) {
          if (pays) lost.date++
          return going.leave()
        }
      } else going.click('#day', 'change')
      going.click('#send', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    const found = (selector: string) => candidates.find((one) => one.selector === selector)!
    expectInside(found('#photo').price, (lost.photo * 30) / days)
    expectInside(found('#day').price, (lost.date * 30) / days)
    // Without the other fault those who are compared would look half as eager.
    expect(found('#photo').price.value / ((lost.photo * 30) / days)).toBeGreaterThan(0.75)
  })

  it('in one browser is worth what it is in that browser, where another one has trouble further on', () => {
    let lost = 0
    const lines = world(6000, 103, (going, _day, phone) => {
      const browser = going.roll() < 0.4 ? 'Safari' : 'Firefox'
      going.page('/form', { device: { class: phone ? 'mobile' : 'desktop', browser } })
      const [goesOn, pays] = [going.roll() < 0.5, going.roll() < (browser === 'Firefox' ? 0.4 : 0.9)]
      if (going.roll() < 0.1) return going.leave()
      const fails = phone && browser === 'Safari'
      going.click('#months', fails ? 'none' : 'change')
      if (fails) {
        going.atOnce('error', { message: 'no rate', target: { selector: '#months', tag: 'a' } })
        if (going.roll() < 0.3) {
          if (goesOn && pays) lost++
          return going.leave()
        }
      }
      if (!goesOn) return going.leave()
      going.click('#send', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    const own = candidates.find(({ selector }) => selector === '#months')!
    expect(own).toMatchObject({ kind: 'script error', design: 'attempt' })
    // Beside all others alike it would seem to cost nothing.
    expect(own.price.value / ((lost * 30) / days)).toBeGreaterThan(0.85)
    expect(own.price.value / ((lost * 30) / days)).toBeLessThan(1.15)
  })

  it('is a way on which they are sent without a click, named by where it leads', () => {
    let lost = 0
    const lines = world(5000, 73, (going) => {
      going.page('/form')
      going.fill('#name')
      const pays = going.roll() < 0.75
      if (going.roll() < 0.15) {
        going.page('/login')
        if (going.roll() < 0.5) {
          if (pays) lost++
          return going.leave()
        }
        going.click('#enter', 'navigate')
        going.page('/form')
        going.fill('#name')
      }
      going.fill('#mail')
      if (going.roll() < 0.1) return going.leave()
      going.click('#send', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    const [first] = candidates
    expect(first).toMatchObject({ kind: 'shuttle', page: '/form', selector: '', name: '/login' })
    expectInside(first!.price, (lost * 30) / days)
    expect(JSON.stringify(first!.met)).toContain('/login')
  })

  it('is an answer that comes late, compared with those who were answered in time', () => {
    let lost = 0
    const lines = world(5000, 75, (going) => {
      going.page('/search')
      if (going.roll() < 0.2) return going.leave()
      going.click('#find', 'change')
      const [late, pays] = [going.roll() < 0.3, going.roll() < 0.75]
      const target = { selector: '#find', tag: 'button' }
      going.atOnce('request', {
        method: 'GET',
        path: '/api/find',
        status: 200,
        ms: late ? 7000 : 300,
        target,
      })
      if (late && going.roll() < 0.3) {
        if (pays) lost++
        return going.leave()
      }
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      ...{ kind: 'slow answer', page: '/search', selector: '#find', design: 'attempt', technical: true },
    })
    expectInside(candidates[0]!.price, (lost * 30) / days)
  })

  it('is an answer that comes late, also to those who left before it came and of whom none is told', () => {
    let [lost, waiting] = [0, 0]
    const lines = world(6000, 91, (going) => {
      going.page('/search')
      if (going.roll() < 0.2) return going.leave()
      going.click('#find', 'change')
      const [late, pays] = [going.roll() < 0.3, going.roll() < 0.75]
      const target = { selector: '#find', tag: 'button' }
      const answer = (ms: number) =>
        going.atOnce('request', { method: 'GET', path: '/api/find', status: 200, ms, target })
      if (!late) answer(300)
      // Some leave who were answered, and some who were not.
      else if (going.roll() < 0.3) {
        if (pays) lost++
        waiting++
        return going.leave()
      } else {
        for (let k = 0; k < 3; k++) going.add('scroll', { depth: 0.2 })
        answer(6000)
      }
      if (going.roll() < 0.2) return going.leave()
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ kind: 'slow answer', page: '/search', selector: '#find' })
    expect(waiting).toBeGreaterThan(100)
    expectInside(candidates[0]!.price, (0.8 * lost * 30) / days)
  })

  it('tells of nobody who leaves without an answer that it would have been late, where many are never told', () => {
    const lines = world(6000, 93, (going) => {
      going.page('/search')
      if (going.roll() < 0.2) return going.leave()
      going.click('#find', 'change')
      const late = going.roll() < 0.2
      const target = { selector: '#find', tag: 'button' }
      if (going.roll() < 0.9)
        going.atOnce('request', {
          ...{ method: 'GET', path: '/api/find', status: 200, ms: late ? 6000 : 300, target },
        })
      if (going.roll() < 0.3) return going.leave()
      return buyIf(going, going.roll() < 0.75)
    })
    expect(pricesIn(lines).candidates).toEqual([])
  })

  it.each([
    ['loaded anew', { navigation: 'navigate' as const }, ['shuttle']],
    ['come back to', { navigation: 'back_forward' as const }, []],
    ['of which nothing is told', {}, []],
  ])('is being sent back to the page before, where that is %s', (_, how, expected) => {
    let lost = 0
    const loaded = { navigation: 'navigate' as const }
    const lines = world(5000, 95, (going) => {
      going.page('/form', loaded)
      const [sent, pays] = [going.roll() < 0.2, going.roll() < 0.75]
      if (going.roll() < 0.1) return going.leave()
      going.click('#pay', 'navigate')
      going.page('/pay', loaded)
      for (let k = 0; sent && k < 2; k++) {
        going.page('/form', how)
        if (going.roll() < 0.3) {
          if (pays) lost++
          return going.leave()
        }
        going.click('#pay', 'navigate')
        going.page('/pay', loaded)
      }
      if (going.roll() < 0.1) return going.leave()
      going.click('#agree', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    const ways = candidates.filter(({ kind, selector }) => kind === 'shuttle' && !selector)
    expect(ways.map(({ kind }) => kind)).toEqual(expected)
    if (!ways.length) return
    expect(ways[0]).toMatchObject({ page: '/pay', name: '/form' })
    expectInside(ways[0]!.price, (0.9 * lost * 30) / days)
  })

  it('is being sent back to an earlier step, from where the whole way has to be gone once more', () => {
    let lost = 0
    const lines = world(5000, 99, (going) => {
      const go = (url: string) => going.page(url, { navigation: 'navigate' })
      const fillIn = () => {
        for (const depth of [0.3, 0.5, 0.7]) going.add('scroll', { depth })
        return going.roll() < 0.1
      }
      const [sent, pays] = [going.roll() < 0.2, going.roll() < 0.75]
      for (const step of ['/from', '/to']) {
        go(step)
        if (fillIn()) return going.leave()
        going.click('#next', 'navigate')
      }
      go('/pay')
      if (sent) {
        go('/from')
        if (going.roll() < 0.4) {
          if (pays) lost++
          return going.leave()
        }
        for (const step of ['/to', '/pay']) {
          going.click('#next', 'navigate')
          go(step)
        }
      }
      if (fillIn()) return going.leave()
      going.click('#next', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ kind: 'shuttle', page: '/pay', selector: '', name: '/from' })
    expectInside(candidates[0]!.price, (0.9 * lost * 30) / days)
  })

  it('is a page that stands still in one browser; other troubles of the page are listed beside it', () => {
    let lost = 0
    const lines = world(8000, 77, (going, _day, phone) => {
      const browser = going.roll() < 0.3 ? 'Safari' : 'Firefox'
      going.page('/', { device: { class: phone ? 'mobile' : 'desktop', browser } })
      if (going.roll() < 0.3) return going.leave()
      going.page('/list')
      if (going.roll() < 0.3) return going.leave()
      going.page('/product')
      const pays = going.roll() < 0.75
      if (browser === 'Safari') {
        going.add('freeze', { ms: 4000 })
        if (going.roll() < 0.4) {
          if (pays && going.roll() < 0.7) lost++
          return going.leave()
        }
      }
      for (const depth of [0.2, 0.4]) going.add('scroll', { depth })
      if (going.roll() < 0.3) return going.leave()
      going.click('a.buy', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({ kind: 'freeze', page: '/product', selector: '', confident: false })
    expectInside(candidates[0]!.price, (lost * 30) / days)
    for (const { price, likely } of candidates)
      expect([price.value, likely].every(Number.isFinite)).toBe(true)
  })

  it('costs nothing where the people of a browser carry on less on every page', () => {
    const lines = world(8000, 79, (going, _day, phone) => {
      const old = going.roll() < 0.3
      const stays = () => going.roll() < (old ? 0.55 : 0.75)
      const device = {
        class: phone ? ('mobile' as const) : ('desktop' as const),
        browser: old ? 'Old' : 'New',
      }
      going.page('/', { device })
      if (!stays()) return going.leave()
      going.page('/list')
      if (!stays()) return going.leave()
      going.page('/product')
      if (old) going.add('error', { message: 'ads is undefined' })
      for (const depth of [0.2, 0.4]) going.add('scroll', { depth })
      if (!stays()) return going.leave()
      return buy(going)
    })
    const error = pricesIn(lines).candidates.find(({ kind }) => kind === 'script error')
    expect(error === undefined || error.price.low < 0).toBe(true)
  })

  it('is a call to action below the fold of low screens, beside high ones of the same device', () => {
    let lost = 0
    const lines = world(8000, 81, (going, _day, phone) => {
      const low = phone && going.roll() < 0.5
      const device = { class: phone ? ('mobile' as const) : ('desktop' as const), height: low ? 560 : 820 }
      going.page('/', { device })
      if (going.roll() < 0.2) return going.leave()
      going.page('/list')
      if (going.roll() < 0.2) return going.leave()
      going.page('/plan')
      const seen = (selector: string) =>
        going.atOnce('seen', { target: { selector, tag: 'a', interactive: true }, y: 400 })
      seen('header > a')
      if (!low) seen('a.begin')
      const [goesOn, pays] = [going.roll() < 0.6, going.roll() < 0.75]
      going.add('scroll', { depth: 0.3 })
      if (low) {
        if (going.roll() < 0.5) {
          if (goesOn && pays) lost++
          return going.leave()
        }
        going.add('scroll', { depth: 0.8 })
        seen('a.begin')
        going.add('scroll', { depth: 0.9 })
      }
      if (!goesOn) return going.leave()
      going.click('a.begin', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      ...{ kind: 'out of sight', page: '/plan', selector: 'a.begin', design: 'heights', confident: true },
    })
    expectInside(candidates[0]!.price, (lost * 30) / days)
    expect(candidates[0]!.compared).toContain('too low')
  })

  it('shows in how a page is looked at: enlarged, or gone through up and down, at the end of it', () => {
    const lines = world(5000, 83, (going) => {
      going.page('/table')
      const [small, hidden] = [going.roll() < 0.3, going.roll() < 0.3]
      if (small) going.add('gesture', { name: 'zoom', props: { by: 2 }, x: 100, y: 500 })
      if (hidden) for (let k = 0; k < 6; k++) going.add('scroll', { depth: 0.8, top: k % 2 ? 100 : 1500 })
      if ((small && going.roll() < 0.6) || (hidden && going.roll() < 0.6)) return going.leave()
      for (const depth of [0.2, 0.4]) going.add('scroll', { depth })
      if (going.roll() < 0.2) return going.leave()
      going.click('a.buy', 'navigate')
      return buy(going)
    })
    const kinds = pricesIn(lines).candidates.map(({ kind, selector, confident }) => [
      kind,
      selector,
      confident,
    ])
    expect(kinds).toContainEqual(['zoom', '', false])
    expect(kinds).toContainEqual(['combing', '', false])
  })

  it('is what the site reports before anything is done, to whoever comes', () => {
    let lost = 0
    const lines = world(6000, 85, (going) => {
      going.page('/')
      if (going.roll() < 0.3) return going.leave()
      going.page('/book')
      const pays = going.roll() < 0.75
      if (going.roll() < 0.2) {
        going.add('signal', { name: 'waiting list only' })
        if (going.roll() < 0.3) {
          if (pays) lost++
          return going.leave()
        }
      }
      for (const field of ['#name', '#mail']) going.fill(field)
      if (going.roll() < 0.2) return going.leave()
      going.click('#send', 'navigate')
      return buyIf(going, pays)
    })
    const { candidates, days } = pricesIn(lines)
    expect(candidates[0]).toMatchObject({
      kind: 'site signal',
      page: '/book',
      selector: '',
      confident: false,
    })
    // Of those who gave up a fifth would have left the form later on anyhow.
    expectInside(candidates[0]!.price, (0.8 * lost * 30) / days)
  })

  it.each([
    ['request', { method: 'POST', path: '/count', status: 0, ms: 20 }],
    ['error', { message: 'gone is undefined' }],
  ] as const)('is no trouble where the page reports it as it is left: %s', (kind, told) => {
    const lines = world(5000, 91, (going) => {
      going.page('/')
      if (going.roll() < 0.3) return going.leave()
      going.page('/form')
      for (const field of ['#name', '#mail']) going.fill(field)
      if (going.roll() < 0.3) {
        if (going.roll() < 0.6) going.add(kind, told)
        going.atOnce('leave', { ms: 1000 })
        return going.lines
      }
      going.click('#send', 'navigate')
      return buy(going)
    })
    const { candidates } = pricesIn(lines)
    expect(candidates.filter(({ page }) => page === '/form')).toEqual([])
  })

  it('is no trouble of the button before it where a request is cut off as they leave', () => {
    const lines = world(5000, 92, (going) => {
      going.page('/')
      if (going.roll() < 0.3) return going.leave()
      going.page('/form')
      for (const field of ['#name', '#mail']) going.fill(field)
      if (going.roll() < 0.5) going.click('#more', 'change')
      if (going.roll() < 0.3) {
        going.atOnce('request', { method: 'POST', path: '/count', status: 0, ms: 20 })
        going.atOnce('leave', { ms: 1000 })
        return going.lines
      }
      going.click('#send', 'navigate')
      return buy(going)
    })
    expect(pricesIn(lines).candidates.filter(({ page }) => page === '/form')).toEqual([])
  })

  it('costs nothing where it befalls those who come again and again sooner or later', () => {
    const lines = world(6000, 87, (going) => {
      going.page('/')
      for (let k = 0; k < 6; k++) {
        going.page('/product', { load: going.roll() < 0.3 ? 9000 : 700 })
        for (const depth of [0.2, 0.4]) going.add('scroll', { depth })
        if (going.roll() < 0.25) return going.leave()
        if (going.roll() < 0.2) return buy(going)
      }
      return going.leave()
    })
    const slow = pricesIn(lines).candidates.find(({ kind }) => kind === 'slow page')
    expect(slow === undefined || slow.price.low < 0).toBe(true)
  })
})
