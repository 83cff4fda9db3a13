import type { OtherWorld, Visit } from './visit.ts'

/** Trips to search, compare and book, in many small steps with ids in the addresses. */
export const travel: OtherWorld = {
  name: 'travel',
  groups: [
    '/',
    '/search',
    '/trip/:id',
    '/trip/:id/seats',
    '/trip/:id/people',
    '/trip/:id/pay',
    '/booked/:id',
    '/help/:topic',
  ],
  goal: 'page /booked/:id',
  hazard: 0.006,
  faults: {
    calendarDead: ['/: dead click: .month'],
    sortFreeze: ['/search: freeze'],
    priceChanged: ['/trip/:id/pay: site signal'],
    seatError: ['/trip/:id/seats: script error'],
    nameRefused: ['/trip/:id/people: refused form'],
    seatsSlow: ['/trip/:id/seats: became slow', '/trip/:id/seats: slow page'],
    helpGone: ['/trip/:id: not found', '/trip/:id/pay: not found', '/help/:topic: not found'],
    bookBelow: ['/trip/:id: out of sight'],
    passport: ['/trip/:id/people: given up at field', '/trip/:id/people: corrected field'],
    noTrips: ['/search: no results'],
  },
  live,
}

const DATES_MS = 4000

function live(v: Visit): void {
  if (v.roll('land') < 0.7) {
    v.page('/')
    if (!v.stay(8, 'home', 0.4)) return
    v.fill('[name=from]', 3000)
    v.fill('[name=to]', 3000, v.roll('to') < 0.15 ? 1 : 0)
    const dead = v.person.browser === 'Firefox' && v.person.mobile ? v.strength('calendarDead') : 0
    if (dead) {
      for (let k = 0; k < 1 + Math.floor(3 * v.roll('months')); k++) v.click('.calendar .month', 'none')
      if (v.quits(0.3 * dead, 'calendar')) return
      v.pass(DATES_MS)
    }
    v.click('.calendar .month', 'change')
    v.pass(DATES_MS)
    v.click('form.search button', 'navigate')
    v.say('submit', {
      target: { selector: 'form.search', tag: 'form' },
      button: 'form.search button',
      ok: true,
    })
  }
  if (!search(v)) return
  const looks = 1 + Math.floor(2.5 * v.roll('looks') + Math.max(0, 0.6 * v.person.curious))
  for (let k = 0; k < looks; k++) {
    const end = trip(v, k)
    if (end === 'gone') return
    if (end === 'books') return book(v, k)
    v.click('a.all-trips', 'navigate', 'a')
    v.page('/search?back', { navigation: 'back_forward', results: 20 })
    if (!v.stay(9, `search ${k}`, 0.3)) return
  }
}

function search(v: Visit): boolean {
  const none = v.roll('none') < 0.18 ? v.strength('noTrips') : 0
  v.page('/search?q', { results: none ? 0 : 3 + Math.floor(40 * v.roll('many')) })
  if (none) {
    if (v.quits(0.4 * none, 'none')) return false
    v.pass(5000)
    v.click('.other-days a', 'navigate', 'a')
    v.page('/search?days', { results: 9 })
  }
  if (!v.stay(14, 'search', 0.2)) return false
  if (v.roll('sorts') < 0.35) {
    const frozen = v.roll('frozen') < 0.6 ? v.strength('sortFreeze') : 0
    v.click('.sort button', 'change', 'button', 50)
    if (frozen) {
      v.say('freeze', { ms: 2800, target: { selector: '.sort button', tag: 'button' } })
      v.pass(2800)
      if (v.quits(0.15 * frozen, 'sort')) return false
    }
    if (!v.stay(6, 'sorted')) return false
  }
  return true
}

function help(v: Visit, topic: string, back: string): boolean {
  if (v.roll('help', topic, back) > 0.06 * Math.exp(0.4 * v.person.curious)) return true
  const gone = topic === 'bags' ? v.strength('helpGone') : 0
  v.click(`a.help-${topic}`, 'navigate', 'a')
  v.page(`/help/${topic}`, gone ? { status: 404 } : {})
  if (gone ? v.quits(0.25 * gone, `help ${back}`) : !v.stay(15, `help ${back}`)) return false
  v.pass(3000)
  v.page(back, { navigation: 'back_forward' })
  return v.stay(4, `after help ${back}`)
}

function trip(v: Visit, k: number): 'gone' | 'books' | 'back' {
  const id = 1 + Math.floor(3000 * v.roll('trip', k))
  v.click('.results > article a', 'navigate', 'a')
  v.page(`/trip/${id}`)
  const below = v.person.small ? v.strength('bookBelow') : 0
  v.seen('header nav a')
  if (!below) v.seen('button.book', 'button')
  if (!v.stay(16, `trip ${k}`)) return 'gone'
  // Turns through pictures, which mean nothing.
  if (v.roll('turns', k) < 0.4)
    for (let c = 0; c < 5; c++) v.click('.pictures button', 'change', 'button', 400)
  if (!help(v, 'bags', `/trip/${id}`)) return 'gone'
  if (below) {
    if (v.roll('scrolls', k) < Math.min(0.9, 0.35 * below)) return 'gone'
    v.say('scroll', { depth: 0.7, top: 300 })
    v.seen('button.book', 'button')
  }
  if (v.roll('books', k) > 1 / (1 + Math.exp(1.5 - 1.0 * v.person.want))) return 'back'
  v.click('button.book', 'navigate')
  return 'books'
}

function book(v: Visit, k: number): void {
  const of = `/trip/${1 + Math.floor(3000 * v.roll('trip', k))}`
  const slow = v.day > 22 && v.day < 47 ? v.strength('seatsSlow') : 0
  v.page(`${of}/seats`, slow ? { load: Math.round(5200 + 2500 * v.roll('seats')) } : {})
  if (slow) {
    if (v.quits(0.15 * slow, 'seats')) {
      v.say('leave', { ms: 3600, loaded: false })
      return
    }
    v.pass(4500)
  }
  if (!v.stay(12, 'seats')) return
  const broken = v.person.browser === 'Chrome' && v.roll('seat') < 0.25 ? v.strength('seatError') : 0
  for (let c = 0; c < (broken ? 1 + Math.floor(2 * v.roll('tries')) : 0); c++) {
    v.click('svg .seat', 'none', 'rect', 70)
    const target = { selector: 'svg .seat', tag: 'rect' }
    v.say('error', { message: 'Cannot read properties of null', source: '/seats.js', line: 12, target })
    v.pass(2200)
    if (v.quits(0.3 * broken, `seat ${c}`)) return
  }
  v.click('svg .seat', 'change', 'rect')
  if (!v.stay(5, 'seat')) return
  v.click('a.go-on', 'navigate', 'a')
  people(v, of)
}

function people(v: Visit, of: string): void {
  v.page(`${of}/people`)
  const count = 1 + Math.floor(2 * v.roll('people'))
  for (let p = 0; p < count; p++)
    for (const [field, seconds] of [
      ['given', 4],
      ['family', 5],
      ['birth', 6],
    ] as const) {
      if (!v.stay(seconds, `${field} ${p}`, 0.2)) return
      v.fill(
        `.person:nth-of-type(${p + 1}) .${field}`,
        seconds * 900,
        v.roll('slip', field, p) < 0.15 ? 1 : 0,
      )
    }
  // Who has no passport at hand.
  const asked = v.roll('at hand') < 0.25 ? v.strength('passport') : 0
  if (asked) {
    v.pass(12_000)
    if (v.quits(0.35 * asked, 'passport')) return
  }
  v.fill('.passport', asked ? 15_000 : 6000, asked ? 2 : 0)
  if (!v.stay(4, 'phone')) return
  v.fill('.phone', 4000)
  const wrong = v.roll('umlaut') < 0.15 ? v.strength('nameRefused') : 0
  const most = wrong ? 1 + Math.floor(3 * v.roll('names')) : 0
  for (let c = 0; ; c++) {
    v.click('button.to-pay', c < most ? 'none' : 'navigate')
    v.say('submit', {
      target: { selector: 'form.people', tag: 'form' },
      button: 'button.to-pay',
      ok: c >= most,
    })
    if (c >= most) break
    if (v.quits(0.3 * wrong, `name ${c}`)) return
    v.pass(6000)
    v.fill('.person:nth-of-type(1) .family', 5000, 2)
  }
  pay(v, of)
}

function pay(v: Visit, of: string): void {
  v.page(`${of}/pay`)
  if (!v.stay(14, 'pay', -0.3) || !help(v, 'bags', `${of}/pay`)) return
  v.fill('.card', 9000, v.roll('card') < 0.25 ? 1 : 0)
  const changed = v.roll('changed') < 0.12 ? v.strength('priceChanged') : 0
  v.click('button.pay', changed ? 'change' : 'navigate', 'button', 900)
  if (changed) {
    v.say('signal', { name: 'Price changed', target: { selector: 'button.pay', tag: 'button' } })
    if (v.quits(0.5 * changed, 'changed')) return
    v.pass(8000)
    v.click('button.pay', 'navigate')
  }
  v.page(`/booked/${Math.floor(1e6 * v.roll('booking'))}`)
  v.won = true
  v.pass(4000)
}
