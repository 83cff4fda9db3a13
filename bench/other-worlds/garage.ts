import type { OtherWorld, Visit } from './visit.ts'

/**
 * A garage where a time for one's car is booked: services and times stand in boxes of which each has much in it that does
 * nothing, and some of it looks as if it did. Who is curious clicks on words while reading; who is in a hurry on the largest.
 */
export const garage: OtherWorld = {
  name: 'garage',
  groups: ['/', '/services', '/prices', '/book/time', '/book/car', '/book/confirm', '/booked'],
  goal: 'page /booked',
  hazard: 0.008,
  faults: {
    cardPicture: ['/services: dead click: .pic', '/services: rage click: .pic'],
    filterError: ['/services: script error: .filter'],
    servicesSlow: ['/services: became slow', '/services: slow page'],
    dayName: ['/book/time: dead click: .day-name', '/book/time: rage click: .day-name'],
    timeTaken: ['/book/time: failed request: .time'],
    timesLate: ['/book/time: slow answer: .week'],
    plateRefused: ['/book/car: refused form', '/book/car: corrected field: #plate'],
    mileField: ['/book/car: given up at field: #miles'],
    extraTiny: ['/book/confirm: dead click: .extra'],
    confirmBelow: ['/book/confirm: out of sight'],
    confirmError: ['/book/confirm: script error: #confirm'],
  },
  live,
}

const CARDS = 6
const DAYS_SHOWN = 5

function live(v: Visit): void {
  if (v.roll('land') < 0.5) {
    v.page('/')
    v.seen('h1', 'h1')
    if (!v.stay(7, 'home')) return
    if (v.roll('prices') < 0.15) {
      v.click('a.prices', 'navigate', 'a')
      v.page('/prices')
      if (!v.stay(20, 'prices', v.person.want < 0 ? 0.4 : 0)) return
    }
    v.click('a.services', 'navigate', 'a')
  }
  if (!services(v) || !time(v) || !car(v)) return
  confirm(v)
}

function services(v: Visit): boolean {
  const { person } = v
  const slow = v.day > 36 ? v.strength('servicesSlow') : 0
  v.page('/services', slow ? { load: 4600 + Math.round(2000 * v.roll('slow')) } : {})
  if (slow && v.quits(0.12 * slow, 'slow')) return false
  v.seen('h1', 'h1')
  const card = (k: number) => `main > div.grid > div.card:nth-of-type(${k})`
  const wanted = 1 + Math.floor(CARDS * v.roll('service') ** 1.5)
  for (let k = 1; k <= 4; k++) {
    if (!v.stay(5, `reads ${k}`)) return false
    // Harmless: words that are clicked on while they are read.
    if (v.roll('words', k) < 0.09 * Math.exp(0.5 * person.curious))
      v.click(`${card(k)} > p.words`, 'none', 'div')
    v.say('scroll', { depth: 0.2 * k, top: 250 * k })
  }
  if (v.roll('filters') < 0.2 * Math.exp(0.3 * person.curious)) {
    const error = person.browser === 'Safari' ? v.strength('filterError') : 0
    v.click('button.filter', error ? 'none' : 'change', 'button', 40)
    if (error) {
      const target = { selector: 'button.filter', tag: 'button' }
      v.say('error', { message: 'filter is undefined', source: '/services.js', line: 3, target })
      v.pass(1500)
      if (v.quits(0.25 * error, 'filter')) return false
    }
  }
  if (v.roll('likes') > 1 / (1 + Math.exp(-0.4 - person.want))) return v.stay(30, 'doubts', 1) && false
  const picture = v.strength('cardPicture')
  if (picture && v.roll('picture') < 0.25) {
    const times = v.roll('picture again') < 0.45 ? 2 + Math.floor(2 * v.roll('how often')) : 1
    for (let n = 0; n < times; n++) v.click(`${card(wanted)} > div.pic`, 'none', 'div', 700)
    if (v.quits(0.18 * picture, 'picture')) return false
  }
  v.click(`${card(wanted)} > div.foot > a.choose`, 'navigate', 'a')
  return true
}

function time(v: Visit): boolean {
  const { person } = v
  v.page('/book/time')
  v.seen('h1', 'h1')
  const late = person.mobile && v.roll('line') < 0.5 ? v.strength('timesLate') : 0
  const day = (k: number) => `#times > div.day:nth-of-type(${k})`
  const weeks = Math.floor(3 * v.roll('weeks') * Math.exp(0.2 * person.curious))
  for (let k = 0; k <= weeks; k++) {
    if (!v.stay(4, `week ${k}`, -0.2)) return false
    // Harmless: words and signs that explain the colours.
    if (v.roll('legend', k) < 0.08 * Math.exp(0.5 * person.curious))
      v.click('#times > p.legend', 'none', 'div')
    if (k === weeks) break
    v.click('button.week', 'change', 'button', 60)
    const ms = late ? 4300 + Math.round(2500 * v.roll('late', k)) : 300
    const target = { selector: 'button.week', tag: 'button' }
    if (late && v.quits(0.1 * late, `late ${k}`)) return false
    v.pass(ms)
    v.say('request', { method: 'GET', path: '/api/times', status: 200, ms, target })
  }
  const wanted = 1 + Math.floor(DAYS_SHOWN * v.roll('day'))
  const name = v.strength('dayName')
  if (name && v.roll('names') < (person.mobile ? 0.3 : 0.15) * Math.exp(-0.2 * person.patience)) {
    const times = v.roll('name again') < 0.4 ? 2 : 1
    for (let n = 0; n < times; n++) v.click(`${day(wanted)} > div.day-name`, 'none', 'div', 900)
    if (v.quits(0.25 * name, 'name')) return false
  }
  const button = (n: number) =>
    `${day(wanted)} > button.time:nth-of-type(${1 + Math.floor(6 * v.roll('time', n))})`
  const taken = v.roll('taken') < 0.12 ? v.strength('timeTaken') : 0
  const request = (n: number, status: number) =>
    v.say('request', {
      ...{ method: 'POST', path: '/api/hold', status, ms: 240 },
      target: { selector: button(n), tag: 'button' },
    })
  if (taken) {
    v.click(button(0), 'none', 'button', 300)
    request(0, 409)
    v.pass(1500)
    if (v.quits(0.3 * taken, 'taken')) return false
  }
  v.click(button(1), 'navigate', 'button', 300)
  request(1, 200)
  return true
}

function car(v: Visit): boolean {
  const { person } = v
  v.page('/book/car')
  if (!v.stay(3, 'form', -0.3)) return false
  for (const [field, seconds] of [
    ['plate', 5],
    ['model', 5],
    ['miles', 4],
    ['phone', 5],
    ['mail', 6],
  ] as const) {
    const miles = field === 'miles' ? v.strength('mileField') : 0
    if (miles && v.quits(0.1 * miles, 'miles')) return false
    if (!v.stay(seconds * 0.4, field, -0.5)) return false
    v.pass(seconds * 600)
    v.fill(`#${field}`, seconds * 700, v.roll('slip', field) < 0.12 ? 2 : 0)
  }
  const refused = v.roll('plate') < 0.25 ? v.strength('plateRefused') : 0
  const send = (ok: boolean) =>
    v.say('submit', { target: { selector: 'form.car', tag: 'form' }, button: '#next', ok })
  if (refused) {
    v.click('#next', 'none', 'button', 40)
    send(false)
    v.pass(2500)
    if (v.quits(0.25 * refused, 'plate')) return false
    v.fill('#plate', 5000, 2)
    if (person.patience < -1 && v.quits(0.2 * refused, 'plate again')) return false
  }
  v.click('#next', 'navigate', 'button', 40)
  send(true)
  return true
}

function confirm(v: Visit): void {
  const { person } = v
  v.page('/book/confirm')
  v.seen('h1', 'h1')
  const below = person.small ? v.strength('confirmBelow') : 0
  if (!below) v.seen('#confirm', 'button')
  if (!v.stay(8, 'sum', person.want < 0 ? 0.5 : 0)) return
  if (v.roll('extra') < 0.18) {
    const tiny = person.mobile ? v.strength('extraTiny') : 0
    if (tiny) {
      const times = 1 + Math.floor(3 * v.roll('misses'))
      for (let n = 0; n < times; n++) v.click('#extras > div.extra', 'none', 'div', 600)
      if (v.quits(0.3 * tiny, 'extra')) return
    }
    v.click('#extras > div.extra > input', 'change', 'input')
  }
  if (below) {
    if (v.quits(0.15 * below, 'below')) return
    v.say('scroll', { depth: 1, top: 900 })
    v.seen('#confirm', 'button')
  }
  const error = person.browser === 'Firefox' ? v.strength('confirmError') : 0
  if (error) {
    v.click('#confirm', 'none', 'button', 50)
    v.say('error', {
      message: 'no token',
      source: '/confirm.js',
      line: 9,
      target: { selector: '#confirm', tag: 'button' },
    })
    v.pass(2000)
    if (v.quits(0.3 * error, 'confirm')) return
  }
  v.click('#confirm', 'navigate')
  v.page('/booked')
  v.won = true
  v.pass(2000)
}
