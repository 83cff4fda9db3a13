import type { OtherWorld, Visit } from './visit.ts'

/** Meals to order, all in one page; most who come order, and the goal is an action. */
export const food: OtherWorld = {
  name: 'food',
  groups: ['/', '/near', '/r/:place', '/r/:place/dish/:id', '/cart', '/pay', '/order/:id'],
  goal: 'action Ordered',
  hazard: 0.004,
  faults: {
    addDead: ['/r/:place: dead click: button'],
    placeUnknown: ['/: no results', '/near: no results'],
    rateOver: ['/near: dead click: rate-us'],
    mapFreeze: ['/near: freeze'],
    voucher: ['/cart: site signal'],
    leastOrder: ['/cart: refused form'],
    codeLate: ['/pay: dead click'],
    payError: ['/pay: failed request'],
    dishSlow: ['/r/:place: slow page', '/r/:place: became slow'],
  },
  live,
}

function live(v: Visit): void {
  v.page('/')
  if (!v.stay(6, 'start')) return
  v.fill('#where', 5000, v.roll('where') < 0.3 ? 2 : 0)
  // Places in new streets are unknown.
  const unknown = v.roll('new street') < 0.15 ? v.strength('placeUnknown') : 0
  v.click('#go', 'navigate')
  v.page('/near', { navigation: 'history', results: unknown ? 0 : 5 + Math.floor(30 * v.roll('many')) })
  if (unknown) {
    if (v.quits(0.5 * unknown, 'unknown')) return
    v.pass(6000)
    v.page('/')
    v.fill('#where', 8000, 3)
    v.click('#go', 'navigate')
    v.page('/near', { navigation: 'history', results: 12 })
  }
  if (!near(v)) return
  if (v.roll('another') < 0.3) {
    if (!place(v, 'first', false)) return
    v.click('header .back', 'change', 'a')
    v.page('/near', { navigation: 'history', results: 12 })
    if (!v.stay(6, 'near again')) return
  }
  if (place(v, 'second', true)) cart(v)
}

function near(v: Visit): boolean {
  if (!v.stay(9, 'near', 0.3)) return false
  const over = v.person.mobile && v.roll('rate') < 0.5 ? v.strength('rateOver') : 0
  if (over) {
    for (let k = 0; k < 1 + Math.floor(2 * v.roll('shade')); k++) v.click('div.rate-us', 'none', 'div', 700)
    if (v.quits(0.1 * over, 'rate')) return false
    v.click('div.rate-us .later', 'change')
  }
  if (v.roll('map') < 0.25) {
    const frozen = v.roll('frozen') < 0.5 ? v.strength('mapFreeze') : 0
    v.click('button.map', 'change', 'button', 80)
    if (frozen) {
      v.say('freeze', { ms: 4200, target: { selector: 'button.map', tag: 'button' } })
      v.pass(4200)
      if (v.quits(0.25 * frozen, 'map')) return false
    }
    if (!v.stay(6, 'map')) return false
  }
  return true
}

function place(v: Visit, name: string, takes: boolean): boolean {
  const id = 1 + Math.floor(40 * v.roll('place', name) ** 2)
  const slow = id % 5 === 0 ? v.strength('dishSlow') : 0
  v.click(`ol.places > li:nth-child(${id}) a`, 'change', 'a')
  const more = { navigation: 'history' as const }
  v.page(`/r/${id}`, slow ? { ...more, load: Math.round(5500 + 4000 * v.roll('slow', name)) } : more)
  if (slow) {
    if (v.quits(0.15 * slow, `slow ${name}`)) return false
    v.pass(5000)
  }
  if (!v.stay(15, `place ${name}`)) return false
  // Pictures of dishes open nothing; who is hungry taps them all the same.
  if (v.roll('picture', name) < 0.3 + 0.1 * v.person.want)
    v.click(`ul.dishes > li:nth-child(${1 + Math.floor(9 * v.roll('which', name))}) img`, 'none', 'img')
  if (!takes) return true
  if (v.roll('hungry') > 1 / (1 + Math.exp(-0.9 - 1.0 * v.person.want))) {
    v.stay(8, 'no', 1)
    return false
  }
  const dishes = 1 + Math.floor(3 * v.roll('dishes'))
  for (let d = 0; d < dishes; d++) {
    const dead = v.person.browser === 'Chrome' && v.roll('dead', d) < 0.3 ? v.strength('addDead') : 0
    const button = `ul.dishes > li:nth-child(${1 + Math.floor(20 * v.roll('dish', d))}) button`
    if (dead) {
      for (let c = 0; c < 1 + Math.floor(2 * v.roll('again', d)); c++) v.click(button, 'none')
      if (v.quits(0.2 * dead, `dead ${d}`)) return false
      v.pass(2000)
    }
    v.click(button, 'change')
    if (!v.stay(7, `dish ${d}`)) return false
  }
  v.click('a.to-cart', 'change', 'a')
  return true
}

function cart(v: Visit): void {
  v.page('/cart', { navigation: 'history' })
  if (!v.stay(10, 'cart')) return
  // Two of it, and back to one.
  if (v.roll('more') < 0.35) for (let k = 0; k < 4; k++) v.click('button.plus', 'change', 'button', 300)
  if (v.roll('has voucher') < 0.2) {
    const wrong = v.roll('voucher') < 0.5 ? v.strength('voucher') : 0
    v.fill('#voucher', 4000)
    v.click('#apply', 'change')
    if (wrong) {
      v.say('signal', { name: 'Voucher refused', target: { selector: '#apply', tag: 'button' } })
      if (v.quits(0.3 * wrong, 'voucher')) return
      v.pass(3000)
    }
  }
  const little = v.roll('little') < 0.2 ? v.strength('leastOrder') : 0
  v.click('#order', 'change')
  v.say('submit', { target: { selector: '#cart', tag: 'form' }, button: '#order', ok: !little })
  if (little) {
    if (v.quits(0.35 * little, 'least')) return
    v.pass(8000)
    v.click('button.plus', 'change')
    v.click('#order', 'change')
    v.say('submit', { target: { selector: '#cart', tag: 'form' }, button: '#order', ok: true })
  }
  pay(v)
}

function pay(v: Visit): void {
  v.page('/pay', { navigation: 'history' })
  if (!v.stay(8, 'pay', -0.5)) return
  if (v.roll('code') < 0.4) {
    const late = v.roll('late') < 0.4 ? v.strength('codeLate') : 0
    v.click('#send-code', 'change', 'button', 900)
    if (late) {
      v.pass(12_000)
      for (let k = 0; k < 4 + Math.floor(3 * v.roll('resend')); k++) v.click('#again', 'none', 'button', 300)
      if (v.quits(0.4 * late, 'late')) return
      v.pass(15_000)
    }
    v.fill('#code', 6000)
  }
  const fails = v.roll('fails') < 0.1 ? v.strength('payError') : 0
  const most = fails ? 1 + Math.floor(2 * v.roll('times')) : 0
  for (let k = 0; ; k++) {
    const target = { selector: '#pay', tag: 'button' }
    v.click('#pay', 'change')
    v.say('request', { method: 'POST', path: '/api/charge', status: k < most ? 402 : 200, ms: 1200, target })
    if (k >= most) break
    if (v.quits(0.5 * fails, `pay ${k}`)) return
    v.pass(6000)
  }
  v.page(`/order/${Math.floor(1e6 * v.roll('order'))}`, { navigation: 'history' })
  v.say('action', { name: 'Ordered', value: 18 + 20 * v.roll('value'), currency: 'EUR' })
  v.won = true
  v.pass(4000)
}
