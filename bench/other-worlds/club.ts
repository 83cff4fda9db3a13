import type { OtherWorld, Visit } from './visit.ts'

/** A sports club: who wants little clicks about and leaves all along; who meets a trouble tries again before they give up. */
export const club: OtherWorld = {
  name: 'club',
  groups: ['/', '/sports', '/s/:sport', '/trial', '/join', '/join/bank', '/welcome'],
  goal: 'page /welcome',
  hazard: 0.006,
  faults: {
    mapDead: ['/sports: dead click: .quarter', '/sports: rage click: .quarter'],
    timesError: ['/s/:sport: script error: #times'],
    chatOver: ['/s/:sport: dead click: .chat'],
    trialRefused: ['/trial: refused form'],
    ageField: ['/trial: corrected field', '/trial: given up at field'],
    joinSlow: ['/join: became slow', '/join: slow page'],
    familyError: ['/join: script error'],
    bankFails: ['/join/bank: failed request'],
    joinBelow: ['/s/:sport: out of sight'],
  },
  live,
}

/** Tries again, up to three times with some thought in between, and may give up after the last one. */
function triesAgain(v: Visit, weight: number, name: string, attempt: () => void): boolean {
  const times = 1 + Math.floor(3 * v.roll('times', name))
  for (let k = 0; k < times; k++) {
    attempt()
    v.pass(3000 + 6000 * v.roll('thinks', name, k))
  }
  return v.quits(weight, name)
}

/** Counts as it is left: a request that is cut off then. */
function cutOff(v: Visit): void {
  if (v.roll('cut', v.url) < 0.4) v.say('request', { method: 'POST', path: '/count', status: 0, ms: 12 })
}

function stays(v: Visit, seconds: number, name: string, push = 0): boolean {
  const stayed = v.stay(seconds, name, push)
  if (!stayed) cutOff(v)
  return stayed
}

/** Of those who want little: picture, words, and what is marked. */
function idles(v: Visit, name: string): void {
  const { want, curious } = v.person
  const chance = 0.25 / (1 + Math.exp(1.2 * want - 0.6 * curious))
  if (v.roll('idle', name) < chance) v.click('main > figure > img', 'none', 'img', 1500)
}

function live(v: Visit): void {
  if (v.roll('land') < 0.5) {
    v.page('/')
    if (!stays(v, 8, 'home')) return
    v.click('nav > a.sports', 'navigate', 'a')
    if (!sports(v)) return
  }
  const looks = 1 + Math.floor(2.5 * v.roll('looks') * Math.exp(0.25 * v.person.curious))
  for (let k = 0; k < looks; k++) {
    const end = sport(v, k)
    if (end === 'gone') return
    if (end === 'joins') return join(v)
    v.page('/sports', { navigation: 'back_forward' })
    if (!stays(v, 5, `back ${k}`)) return
  }
}

function sports(v: Visit): boolean {
  v.page('/sports')
  if (!stays(v, 9, 'list')) return false
  idles(v, 'list')
  const dead = v.strength('mapDead')
  if (v.roll('map') < 0.3) {
    const tap = () => v.click('svg.map .quarter', dead ? 'none' : 'change', 'g', 600)
    if (!dead) tap()
    else if (triesAgain(v, 0.22 * dead, 'map', tap)) return false
  }
  return stays(v, 6, 'list on')
}

function sport(v: Visit, k: number): 'gone' | 'joins' | 'back' {
  v.page(`/s/${1 + Math.floor(30 * v.roll('which', k))}`)
  const below = v.person.small ? v.strength('joinBelow') : 0
  if (!below) v.seen('a.join')
  v.seen('h1', 'h1')
  if (!stays(v, 10, `sport ${k}`)) return 'gone'
  idles(v, `sport ${k}`)
  const chat = v.person.mobile && v.roll('chat', k) < 0.4 ? v.strength('chatOver') : 0
  if (chat) {
    v.click('div.chat', 'none', 'div', 900)
    if (v.quits(0.15 * chat, `chat ${k}`)) return 'gone'
  }
  const error = v.strength('timesError')
  // Those who want it more look at the times.
  if (v.roll('times', k) < 0.5 / (1 + Math.exp(-v.person.want))) {
    const choose = () => {
      v.click('#times', error ? 'none' : 'change', 'select', 50)
      if (error)
        v.say('error', { message: 'times is undefined', target: { selector: '#times', tag: 'select' } })
    }
    if (!error) choose()
    else if (triesAgain(v, 0.25 * error, `times ${k}`, choose)) return 'gone'
  }
  if (below) {
    if (v.quits(0.22 * below, `below ${k}`)) return 'gone'
    v.seen('a.join')
  }
  if (!stays(v, 12, `reads ${k}`)) return 'gone'
  if (v.roll('trial', k) < 0.12) return trial(v)
  if (v.roll('fits', k) > 1 / (1 + Math.exp(1.4 - 1.1 * v.person.want))) return 'back'
  v.click('a.join', 'navigate', 'a')
  return 'joins'
}

/** A trial lesson: who had one is likely to join. */
function trial(v: Visit): 'gone' | 'joins' {
  v.page('/trial')
  if (!stays(v, 5, 'trial', -0.3)) return 'gone'
  v.fill('#name', 4000)
  v.pass(3000)
  const age = v.roll('age') < 0.35 ? v.strength('ageField') : 0
  v.fill('#born', age ? 13_000 : 4000, age ? 4 : v.roll('slip') < 0.1 ? 3 : 0)
  v.pass(age ? 9000 : 3000)
  if (age && v.quits(0.3 * age, 'age')) return 'gone'
  const refused = v.roll('phone') < 0.4 ? v.strength('trialRefused') : 0
  const send = () => {
    v.click('#send', refused ? 'none' : 'navigate', 'button', 40)
    if (refused) v.say('submit', { target: { selector: '#trial', tag: 'form' }, button: '#send', ok: false })
  }
  if (refused && triesAgain(v, 0.3 * refused, 'send', send)) return 'gone'
  v.click('#send', 'navigate')
  return 'joins'
}

function join(v: Visit): void {
  const slow = v.day > 35 && v.roll('slow') < 0.7 ? v.strength('joinSlow') : 0
  v.page('/join', slow ? { load: Math.round(6000 + 3000 * v.roll('join ms')) } : {})
  if (slow) {
    if (v.quits(0.2 * slow, 'slow')) return
    v.pass(5000)
  }
  for (const [field, seconds] of [
    ['name', 4],
    ['street', 6],
    ['mail', 5],
  ] as const) {
    if (!stays(v, seconds, field, -0.3)) return
    v.fill(`#${field}`, seconds * 900, v.roll('slip', field) < 0.12 ? 1 : 0)
  }
  const error = v.person.browser === 'Firefox' ? v.strength('familyError') : 0
  if (v.roll('family') < 0.35) {
    const add = () => {
      v.click('button.family', error ? 'none' : 'change', 'button', 60)
      if (error)
        v.say('error', { message: 'family is null', target: { selector: 'button.family', tag: 'button' } })
    }
    if (!error) add()
    else if (triesAgain(v, 0.3 * error, 'family', add)) return
  }
  if (!stays(v, 5, 'form', -0.3)) return
  v.click('#to-bank', 'navigate')
  v.page('/join/bank')
  if (!stays(v, 9, 'bank', -0.3)) return
  v.fill('#iban', 9000, v.roll('slip', 'iban') < 0.15 ? 1 : 0)
  v.pass(4000)
  const fails = v.roll('bank down') < 0.12 ? v.strength('bankFails') : 0
  const target = { selector: '#pay', tag: 'button' }
  const pay = () => {
    v.click('#pay', fails ? 'none' : 'navigate', 'button', 300)
    if (fails) v.say('request', { method: 'POST', path: '/api/debit', status: 503, ms: 280, target })
  }
  if (fails && triesAgain(v, 0.35 * fails, 'pay', pay)) return
  v.click('#pay', 'navigate')
  v.page('/welcome')
  v.won = true
  v.pass(2000)
}
