import type { OtherWorld, Visit } from './visit.ts'

/**
 * Tickets: most who come do so in the hour in which a sale opens, are keen then, and meet what a crowd brings. Some dates are
 * sold out, which costs nothing that could be mended.
 */
export const tickets: OtherWorld = {
  name: 'tickets',
  groups: ['/', '/e/:event', '/e/:event/plan', '/hold', '/login', '/pay', '/wait', '/done'],
  goal: 'page /done',
  hazard: 0.006,
  faults: {
    waitSlow: ['/wait: slow page', '/wait: became slow'],
    planFreeze: ['/e/:event/plan: freeze'],
    seatLost: ['/e/:event/plan: failed request'],
    zoneDead: ['/e/:event/plan: dead click'],
    loginWrong: ['/login: refused form'],
    feeShock: ['/hold: site signal'],
    timeOut: ['/pay: failed request'],
    codeField: ['/hold: corrected field'],
    buyBelow: ['/e/:event: out of sight'],
    shareOver: ['/e/:event: dead click: .share'],
  },
  live,
}

/** A sale opens every fifth day: who comes then wants it more. */
const isRush = (v: Visit) => v.day % 5 < 1

function live(v: Visit): void {
  const rush = isRush(v)
  if (v.roll('land') < 0.4) {
    v.page('/')
    if (!v.stay(7, 'home', 0.3)) return
    v.click('main .tour a', 'navigate', 'a')
  }
  const event = 1 + Math.floor(20 * v.roll('event') ** 2)
  if (rush && !wait(v)) return
  v.page(`/e/${event}`)
  if (v.person.mobile && v.roll('share') < 0.4 && v.strength('shareOver')) {
    v.click('div.share', 'none', 'div', 600)
    if (v.quits(0.15 * v.strength('shareOver'), 'share')) return
    v.click('div.share .close', 'change')
  }
  const below = v.person.small ? v.strength('buyBelow') : 0
  if (!below) v.seen('a.buy')
  if (!v.stay(14, 'event')) return
  if (below) {
    if (v.quits(0.3 * below, 'below')) return
    v.seen('a.buy')
    if (!v.stay(4, 'further')) return
  }
  // Gone in minutes: they ask the calendar for another date, or leave.
  if (rush && v.roll('sold out') < 0.2) {
    v.click('ul.dates li', 'change', 'button')
    if (v.roll('other date') < 0.6) {
      v.stay(5, 'sold out', 1)
      return
    }
  }
  if (v.roll('wants') > 1 / (1 + Math.exp(1.2 - (rush ? 1.2 : 0) - 1.1 * v.person.want))) return
  v.click('a.buy', 'navigate', 'a')
  if (plan(v, `/e/${event}/plan`, rush) && hold(v)) pay(v, rush)
}

function wait(v: Visit): boolean {
  const slow = v.roll('crowd') < 0.5 ? v.strength('waitSlow') : 0
  v.page('/wait', slow ? { load: Math.round(7000 + 6000 * v.roll('slow')) } : {})
  if (slow && v.quits(0.2 * slow, 'wait')) return false
  v.pass(slow ? 8000 : 0)
  return v.stay(12, 'wait', -0.3)
}

function plan(v: Visit, url: string, rush: boolean): boolean {
  v.page(url)
  const frozen = v.person.browser === 'Firefox' ? v.strength('planFreeze') : 0
  if (frozen) {
    v.pass(1200)
    v.say('freeze', { ms: 3800 })
    v.pass(3800)
    if (v.quits(0.2 * frozen, 'freeze')) return false
  }
  if (!v.stay(8, 'plan')) return false
  const dead = v.roll('zone') < 0.35 ? v.strength('zoneDead') : 0
  if (dead) {
    for (let k = 0; k < 1 + Math.floor(2 * v.roll('again')); k++)
      v.click('svg .zone text', 'none', 'text', 700)
    if (v.quits(0.25 * dead, 'zone')) return false
  }
  v.click('svg .zone path', 'change', 'path')
  // In the crowd others are quicker: the oftener, the more there are.
  const lost = v.roll('lost') < (rush ? 0.3 : 0.05) ? v.strength('seatLost') : 0
  for (let k = 0; k < (lost ? 1 + Math.floor(2 * v.roll('times')) : 0); k++) {
    const target = { selector: 'svg .seat', tag: 'circle' }
    v.click('svg .seat', 'change', 'circle', 300)
    v.say('request', { method: 'POST', path: '/api/hold', status: 409, ms: 300, target })
    if (v.quits(0.25 * lost, `seat ${k}`)) return false
    v.pass(3000)
  }
  v.click('svg .seat', 'change', 'circle', 300)
  if (!v.stay(4, 'seat')) return false
  v.click('button.hold', 'navigate')
  return true
}

function hold(v: Visit): boolean {
  v.page('/hold')
  const shock = v.roll('fees') < 0.25 ? v.strength('feeShock') : 0
  if (shock) {
    v.pass(1500)
    v.say('signal', { name: 'Fee added', target: { selector: '.fees', tag: 'p' } })
    if (v.quits(0.25 * shock, 'fees')) return false
  }
  if (!v.stay(9, 'hold', -0.2)) return false
  if (v.roll('code') < 0.15) {
    const wrong = v.strength('codeField')
    v.fill('#code', wrong ? 14_000 : 4000, wrong ? 5 : 0)
    if (wrong && v.quits(0.3 * wrong, 'code')) return false
  }
  v.click('#go-on', 'navigate')
  if (v.roll('known') < 0.5) return true
  v.page('/login')
  if (!v.stay(5, 'login')) return false
  const most =
    v.roll('forgot') < 0.3 ? Math.ceil(2 * v.roll('tries') * Math.min(1, v.strength('loginWrong'))) : 0
  for (let k = 0; ; k++) {
    v.fill('#mail', 4000)
    v.fill('#word', 3000, k)
    v.click('#enter', k < most ? 'change' : 'navigate', 'button', 300)
    v.say('submit', { target: { selector: '#login', tag: 'form' }, button: '#enter', ok: k >= most })
    if (k >= most) return true
    if (v.quits(0.35 * v.strength('loginWrong'), `login ${k}`)) return false
    v.pass(5000)
  }
}

function pay(v: Visit, rush: boolean): void {
  v.page('/pay')
  for (const field of ['name', 'card', 'until', 'cvc'] as const) {
    if (!v.stay(5, field, -0.4)) return
    v.fill(`#${field}`, 4000, v.roll('slip', field) < 0.1 ? 1 : 0)
  }
  const late = v.roll('time out') < (rush ? 0.2 : 0.06) ? v.strength('timeOut') : 0
  for (let k = 0; k < (late ? 1 + Math.floor(1.5 * v.roll('outs')) : 0); k++) {
    const target = { selector: '#pay', tag: 'button' }
    v.click('#pay', 'change')
    v.say('request', { method: 'POST', path: '/api/pay', status: 504, ms: 9000, target })
    v.pass(9000)
    if (v.quits(0.35 * late, `out ${k}`)) return
    v.pass(3000)
  }
  v.click('#pay', 'navigate')
  v.page('/done')
  v.won = true
  v.pass(3000)
}
