import type { OtherWorld, Visit } from './visit.ts'

/** An insurer: questions step by step, an offer that is compared, a contract. */
export const quote: OtherWorld = {
  name: 'quote',
  groups: ['/', '/cover/:kind', '/quote/car', '/quote/you', '/offer', '/contract', '/done', '/files/:name'],
  goal: 'page /done',
  hazard: 0.007,
  faults: {
    dateRefused: ['/quote/you: refused form'],
    plateFails: ['/quote/car: failed request'],
    infoDead: ['/quote/car: dead click'],
    termsGone: ['/contract: not found', '/files/:name: not found'],
    phoneGivenUp: ['/quote/you: given up at field', '/quote/you: corrected field'],
    offerSlow: ['/offer: slow page', '/offer: became slow'],
    signError: ['/contract: script error'],
    chooseHidden: ['/offer: out of sight'],
    answersLost: ['/quote/you: site signal'],
  },
  live,
}

const KINDS = ['car', 'van', 'bike']

function live(v: Visit): void {
  const lands = v.roll('land')
  if (lands < 0.5) {
    v.page('/')
    if (!v.stay(9, 'home', 0.5)) return
    v.click('main .tiles a', 'navigate', 'a')
  }
  if (lands < 0.85) {
    v.page(`/cover/${KINDS[Math.floor(3 * v.roll('kind'))]}`)
    if (!v.stay(18, 'cover', 0.3)) return
    // Opens and closes what is asked often: many clicks that mean nothing.
    if (v.roll('opens') < 0.3 + 0.1 * v.person.curious)
      for (let k = 0; k < 3; k++) v.click('.asked summary', 'change', 'summary', 900)
    if (v.roll('begins') > 1 / (1 + Math.exp(0.8 - 0.9 * v.person.want))) {
      v.stay(8, 'nothing', 1)
      return
    }
    v.click('a.get-quote', 'navigate', 'a')
  }
  car(v)
}

function car(v: Visit): void {
  v.page('/quote/car')
  if (!v.stay(5, 'car')) return
  v.fill('#plate', 5000, v.roll('plate') < 0.2 ? 1 : 0)
  const fails = v.roll('plate unknown') < 0.25 ? v.strength('plateFails') : 0
  v.click('#find', 'change', 'button', 700)
  const target = { selector: '#find', tag: 'button' }
  v.say('request', { method: 'GET', path: '/api/plates', status: fails ? 503 : 200, ms: 640, target })
  if (fails) {
    v.pass(2000)
    if (v.quits(0.3 * fails, 'plate')) return
    for (const field of ['#make', '#model', '#year']) {
      if (!v.stay(5, field)) return
      v.fill(field, 4000)
    }
  }
  if (v.roll('info') < 0.2 + 0.08 * v.person.curious) {
    const dead = v.strength('infoDead')
    v.click('.excess .hint', dead ? 'none' : 'change', 'span', 900)
    if (dead) {
      if (v.roll('info again') < 0.5) v.click('.excess .hint', 'none', 'span', 600)
      if (v.quits(0.25 * dead, 'info')) return
    } else if (!v.stay(4, 'info')) return
  }
  if (!v.stay(6, 'excess')) return
  v.fill('#excess', 3000)
  v.click('#next', 'navigate')
  you(v, false)
}

function you(v: Visit, again: boolean): void {
  v.page('/quote/you', again ? { navigation: 'back_forward' } : {})
  const name = again ? 'again' : 'once'
  if (again) v.say('signal', { name: 'Answers lost' })
  if (again && v.quits(0.4 * v.strength('answersLost'), 'lost')) return
  for (const [field, seconds] of [
    ['#first', 4],
    ['#last', 4],
    ['#born', 5],
  ] as const) {
    if (!v.stay(seconds, `${name} ${field}`)) return
    v.fill(field, seconds * 900, v.roll(name, 'slip', field) < 0.12 ? 1 : 0)
  }
  // Some do not want to be called.
  const unwilling = v.roll('unwilling') < 0.3 ? v.strength('phoneGivenUp') : 0
  if (unwilling) {
    v.pass(6000)
    v.say('input', { target: { selector: '#phone', tag: 'input' }, length: 0, corrections: 1, ms: 6000 })
    if (v.quits(0.3 * unwilling, `phone ${name}`)) return
  }
  v.fill('#phone', 4000)
  const wrong = v.person.browser === 'Safari' && !again ? v.strength('dateRefused') : 0
  const most = wrong && v.roll('date') < 0.7 ? 1 + Math.floor(2 * v.roll('tries')) : 0
  for (let k = 0; ; k++) {
    const refused = k < most
    v.click('#to-offer', refused ? 'change' : 'navigate')
    v.say('submit', {
      target: { selector: '#you', tag: 'form' },
      button: '#to-offer',
      ok: !refused,
      ...(refused && { explained: true }),
    })
    if (!refused) break
    if (v.quits(0.25 * wrong, `date ${k}`)) return
    v.pass(7000)
    v.fill('#born', 6000, 2)
  }
  offer(v, again)
}

function offer(v: Visit, again: boolean): void {
  const slow = v.day > 38 && v.roll('offer slow', again ? 2 : 1) < 0.8 ? v.strength('offerSlow') : 0
  v.page('/offer', slow ? { load: Math.round(6500 + 3000 * v.roll('offer ms')) } : {})
  if (slow) {
    if (v.quits(0.18 * slow, `offer ${again}`)) {
      v.say('leave', { ms: 4200, loaded: false })
      return
    }
    v.pass(6000)
  }
  const hidden = v.person.small ? v.strength('chooseHidden') : 0
  v.seen('h2.price', 'h2')
  if (!hidden) v.seen('#choose', 'button')
  if (!v.stay(25, `offer ${again}`, 0.2)) return
  if (hidden) {
    if (v.roll('scrolls') < Math.min(0.9, 0.4 * hidden)) return
    v.say('scroll', { depth: 0.8, top: 400 })
    v.seen('#choose', 'button')
  }
  if (v.person.mobile && v.roll('zooms') < 0.3)
    v.say('gesture', { name: 'zoom', target: { selector: 'table.offers', tag: 'table' } })
  // Goes back to change what was said.
  if (!again && v.roll('changes') < 0.25 + 0.1 * v.person.curious) {
    v.click('a.change', 'navigate', 'a')
    if (v.strength('answersLost')) return you(v, true)
    v.page('/quote/you', { navigation: 'back_forward' })
    if (!v.stay(9, 'changes')) return
    v.click('#to-offer', 'navigate')
    return offer(v, true)
  }
  if (v.roll('takes') > 1 / (1 + Math.exp(0.6 - 1.1 * v.person.want))) {
    v.stay(15, 'too dear', 1)
    return
  }
  v.click('#choose', 'navigate')
  contract(v)
}

function contract(v: Visit): void {
  v.page('/contract')
  if (!v.stay(14, 'contract')) return
  if (v.roll('terms') < 0.25 + 0.1 * v.person.curious) {
    const gone = v.strength('termsGone')
    v.click('a.terms', 'navigate', 'a')
    v.page('/files/terms', gone ? { status: 404 } : {})
    if (gone ? v.quits(0.3 * gone, 'terms') : !v.stay(20, 'terms')) return
    v.pass(3000)
    v.page('/contract', { navigation: 'back_forward' })
    if (!v.stay(5, 'back at it')) return
  }
  v.fill('#iban', 9000, v.roll('iban') < 0.3 ? 2 : 0)
  if (!v.stay(9, 'iban')) return
  const broken = v.person.browser === 'Firefox' && v.roll('sign') < 0.6 ? v.strength('signError') : 0
  const most = broken ? 1 + Math.floor(2 * v.roll('signs')) : 0
  for (let k = 0; k < most; k++) {
    v.click('#sign', 'none', 'button', 90)
    const target = { selector: '#sign', tag: 'button' }
    v.say('error', { message: 'canvas.toBlob is not a function', source: '/sign.js', line: 7, target })
    v.pass(2500)
    if (v.quits(0.35 * broken, `sign ${k}`)) return
  }
  v.click('#sign', 'navigate')
  v.page('/done')
  v.won = true
  v.pass(4000)
}
