import type { OtherWorld, Visit } from './visit.ts'

/**
 * Customers of a supplier who log in to tell what their meter says: nearly all want to, little is looked at, and what keeps
 * them is what fails. Clicks change the one page there is; few lines tell a leave.
 */
export const portal: OtherWorld = {
  name: 'portal',
  groups: ['/', '/login', '/my', '/my/reading', '/my/bills', '/my/move', '/help'],
  goal: 'action Reading sent',
  hazard: 0.003,
  faults: {
    loginFails: ['/login: not found', '/my: not found', '/login: failed request'],
    thrownOut: ['/my/reading: shuttle', '/login: shuttle', '/my: shuttle', '/my/reading: site signal'],
    numberRefused: ['/my/reading: refused form'],
    photoDead: ['/my/reading: dead click'],
    dateError: ['/my/reading: script error'],
    counterLong: ['/my/reading: given up at field', '/my/reading: corrected field'],
    tileBelow: ['/my: out of sight'],
    billsSlow: ['/my/bills: slow page', '/my/bills: became slow'],
    helpGone: ['/help: not found', '/my/reading: not found', '/my: not found'],
  },
  live,
}

function live(v: Visit): void {
  if (v.roll('land') < 0.7) {
    v.page('/')
    if (!v.stay(5, 'home')) return
    v.click('header a.log-in', 'navigate', 'a')
  }
  if (!login(v)) return
  v.page('/my')
  const below = v.person.mobile ? v.strength('tileBelow') : 0
  v.seen('nav a')
  if (!below) v.seen('a.tile-reading')
  if (!v.stay(6, 'my')) return
  if (v.roll('bills') < 0.3 + 0.1 * v.person.curious && !bills(v)) return
  if (below) {
    if (v.quits(0.15 * below, 'below')) return
    v.seen('a.tile-reading')
    if (!v.stay(3, 'further')) return
  }
  if (v.roll('wants') > 1 / (1 + Math.exp(-0.8 - 1.2 * v.person.want))) {
    if (v.roll('moves') < 0.3) {
      v.click('a.tile-move', 'change', 'a')
      v.page('/my/move', { navigation: 'history' })
      v.stay(30, 'move')
    }
    return
  }
  v.click('a.tile-reading', 'change', 'a')
  reading(v)
}

function login(v: Visit): boolean {
  v.page('/login')
  if (!v.stay(6, 'login')) return false
  v.fill('#number', 5000, v.roll('slip') < 0.2 ? 1 : 0)
  v.fill('#secret', 4000)
  const fails = v.roll('busy') < 0.12 ? v.strength('loginFails') : 0
  for (let k = 0; k < (fails ? 1 + Math.floor(2 * v.roll('times')) : 0); k++) {
    v.click('#log-in', 'navigate')
    v.page('/my', { status: 503 })
    if (v.quits(0.3 * fails, `busy ${k}`)) return false
    v.page('/login', { navigation: 'back_forward' })
    v.fill('#secret', 4000)
  }
  v.click('#log-in', 'navigate')
  return true
}

function bills(v: Visit): boolean {
  const slow = v.day >= 25 ? v.strength('billsSlow') : 0
  v.click('nav .bills', 'change', 'a')
  v.page('/my/bills', slow ? { load: Math.round(5500 + 4000 * v.roll('slow')) } : {})
  if (slow && v.quits(0.25 * slow, 'bills')) return false
  v.pass(slow * 4000)
  if (!v.stay(14, 'bills')) return false
  v.page('/my', { navigation: 'history' })
  v.seen('nav a')
  v.seen('a.tile-reading')
  return v.stay(3, 'my again')
}

function reading(v: Visit): void {
  v.page('/my/reading', { navigation: 'history' })
  if (!v.stay(5, 'reading')) return
  // Whose session has ended meanwhile is asked to log in again, and begins anew.
  const out = v.roll('ended') < 0.1 ? v.strength('thrownOut') : 0
  for (let k = 0; k < (out ? 1 + Math.floor(2 * v.roll('outs')) : 0); k++) {
    v.fill('#counter', 5000)
    v.page('/login', { navigation: 'navigate' })
    if (v.quits(0.25 * out, `out ${k}`)) return
    v.fill('#secret', 4000)
    v.click('#log-in', 'navigate')
    v.page('/my/reading')
  }
  if (v.roll('where') < 0.15) {
    const gone = v.strength('helpGone')
    v.click('a.where-is-it', 'navigate', 'a')
    v.page('/help', gone ? { status: 404 } : {})
    if (gone ? v.quits(0.25 * gone, 'help') : !v.stay(12, 'help')) return
    v.page('/my/reading', { navigation: 'back_forward' })
  }
  const dead = v.person.browser === 'Safari' && v.roll('photo') < 0.5 ? v.strength('photoDead') : 0
  if (v.roll('photo') < 0.5) {
    for (let k = 0; k < (dead ? 1 + Math.floor(3 * v.roll('again')) : 0); k++)
      v.click('#photo', 'none', 'button', 800)
    if (dead && v.quits(0.2 * dead, 'photo')) return
    if (!dead) v.click('#photo', 'change')
  }
  for (const [field, seconds] of [
    ['day', 3],
    ['place', 4],
    ['kind', 3],
  ] as const) {
    if (!v.stay(seconds, field)) return
    v.fill(`#${field}`, seconds * 900, v.roll('slip', field) < 0.1 ? 1 : 0)
  }
  const broken = v.person.browser === 'Firefox' && v.roll('date') < 0.4 ? v.strength('dateError') : 0
  for (let k = 0; k < (broken ? 1 + Math.floor(2 * v.roll('dates')) : 0); k++) {
    const target = { selector: '#calendar', tag: 'button' }
    v.click('#calendar', 'none', 'button', 30)
    v.say('error', { message: 'Invalid time value', source: '/calendar.js', line: 3, target })
    if (v.quits(0.25 * broken, `date ${k}`)) return
  }
  const long = v.roll('cellar') < 0.3 ? v.strength('counterLong') : 0
  if (long) {
    v.pass(9000)
    if (v.quits(0.3 * long, 'counter')) return
  }
  v.fill('#counter', 9000, long ? 2 : 0)
  if (!v.stay(3, 'sum')) return
  v.fill('#note', 2000)
  const wrong = v.roll('low') < 0.15 ? v.strength('numberRefused') : 0
  const most = wrong ? 1 + Math.floor(2 * v.roll('sends')) : 0
  for (let k = 0; ; k++) {
    v.click('#send', 'change', 'button', 250)
    v.say('submit', { target: { selector: 'form.reading', tag: 'form' }, button: '#send', ok: k >= most })
    if (k >= most) break
    if (v.quits(0.35 * wrong, `send ${k}`)) return
    v.pass(8000)
  }
  v.say('action', { name: 'Reading sent' })
  v.won = true
  v.pass(4000)
}
