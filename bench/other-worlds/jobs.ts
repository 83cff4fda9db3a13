import type { OtherWorld, Visit } from './visit.ts'

/** Vacancies: many are looked at in one visit, to and fro from the list; who applies fills in a long form and adds papers. */
export const jobs: OtherWorld = {
  name: 'jobs',
  groups: ['/', '/jobs', '/jobs/:id', '/jobs/:id/apply', '/account', '/applied'],
  goal: 'page /applied',
  hazard: 0.007,
  faults: {
    moreDead: ['/jobs: dead click'],
    placeNone: ['/jobs: no results'],
    jobGone: ['/jobs: not found', '/jobs/:id: not found'],
    alertOver: ['/jobs/:id: dead click: .alert'],
    applyBelow: ['/jobs/:id: out of sight'],
    paperRefused: ['/jobs/:id/apply: failed request', '/jobs/:id/apply: refused form'],
    salary: ['/jobs/:id/apply: given up at field', '/jobs/:id/apply: corrected field'],
    stepsError: ['/jobs/:id/apply: script error'],
    accountFirst: ['/account: refused form'],
    logoSlow: ['/jobs/:id: slow page', '/jobs/:id: became slow'],
  },
  live,
}

function live(v: Visit): void {
  if (v.roll('land') < 0.5) {
    v.page('/')
    v.fill('#what', 3000)
    v.fill('#near', 3000)
    if (!v.stay(5, 'home', 0.3)) return
    v.click('#find', 'navigate')
    if (!list(v)) return
  } else if (v.roll('land') < 0.6) {
    if (!list(v)) return
  }
  const looks = 1 + Math.floor(4 * v.roll('looks') * Math.exp(0.2 * v.person.curious))
  for (let k = 0; k < looks; k++) {
    const end = job(v, k)
    if (end === 'gone') return
    if (end === 'applies') return apply(v)
    v.page('/jobs', { navigation: 'back_forward', results: 25 })
    if (!v.stay(5, `list ${k}`)) return
    if (v.roll('more', k) < 0.3) {
      const dead = v.person.browser === 'Safari' && v.roll('dead', k) < 0.6 ? v.strength('moreDead') : 0
      if (dead) {
        for (let c = 0; c < 1 + Math.floor(3 * v.roll('again', k)); c++) v.click('button.more', 'none')
        if (v.quits(0.3 * dead, `more ${k}`)) return
      } else v.click('button.more', 'change')
    }
  }
}

function list(v: Visit): boolean {
  const none = v.roll('village') < 0.2 ? v.strength('placeNone') : 0
  v.page('/jobs', { results: none ? 0 : 5 + Math.floor(60 * v.roll('many')) })
  if (none) {
    if (v.quits(0.4 * none, 'none')) return false
    v.fill('#near', 5000, 2)
    v.click('#find', 'navigate')
    v.page('/jobs', { results: 12 })
  }
  return v.stay(10, 'list', 0.2)
}

function job(v: Visit, k: number): 'gone' | 'applies' | 'back' {
  const at = 1 + Math.floor(400 * v.roll('job', k))
  const gone = v.lines.length && v.roll('filled', k) < 0.08 ? v.strength('jobGone') : 0
  if (v.lines.length) v.click('ul.jobs > li > a', 'navigate', 'a')
  if (gone) {
    v.page(`/jobs/${at}`, { status: 410 })
    return v.quits(0.25 * gone, `filled ${k}`) ? 'gone' : 'back'
  }
  const slow = at % 6 === 0 ? v.strength('logoSlow') : 0
  v.page(`/jobs/${at}`, slow ? { load: Math.round(5000 + 5000 * v.roll('slow', k)) } : {})
  if (slow) {
    if (v.quits(0.15 * slow, `slow ${k}`)) return 'gone'
    v.pass(4000)
  }
  if (v.person.mobile && k === 0 && v.roll('alert') < 0.5 && v.strength('alertOver')) {
    v.click('div.alert-me', 'none', 'div', 700)
    if (v.quits(0.12 * v.strength('alertOver'), 'alert')) return 'gone'
    v.click('div.alert-me .no', 'change')
  }
  const below = v.person.small ? v.strength('applyBelow') : 0
  if (!below) v.seen('a.apply')
  if (!v.stay(16, `job ${k}`)) return 'gone'
  if (below) {
    if (v.quits(0.25 * below, `below ${k}`)) return 'gone'
    v.seen('a.apply')
    if (!v.stay(4, `further ${k}`)) return 'gone'
  }
  // Who is thorough looks at the firm as well, which opens nothing.
  if (v.roll('firm', k) < 0.15 + 0.1 * v.person.curious) v.click('div.firm img', 'none', 'img')
  if (v.roll('fits', k) > 1 / (1 + Math.exp(1.9 - 1.1 * v.person.want))) return 'back'
  v.click('a.apply', 'navigate', 'a')
  return 'applies'
}

const FIELDS = [
  ['name', 4],
  ['mail', 5],
  ['phone', 5],
  ['start', 4],
] as const

function apply(v: Visit): void {
  const { url } = v
  if (v.roll('account') < 0.4) {
    v.page('/account')
    if (!v.stay(6, 'account')) return
    const most = v.roll('rules') < 0.4 ? v.strength('accountFirst') && 1 + Math.floor(2 * v.roll('words')) : 0
    for (let k = 0; ; k++) {
      v.fill('#word', 5000, k)
      v.click('#make', k < most ? 'change' : 'navigate', 'button', 300)
      v.say('submit', { target: { selector: '#account', tag: 'form' }, button: '#make', ok: k >= most })
      if (k >= most) break
      if (v.quits(0.3 * v.strength('accountFirst'), `account ${k}`)) return
      v.pass(6000)
    }
  }
  v.page(`${url}/apply`)
  for (const [field, seconds] of FIELDS) {
    if (!v.stay(seconds, field, 0.2)) return
    v.fill(`#${field}`, seconds * 900, v.roll('slip', field) < 0.15 ? 1 : 0)
  }
  const asked = v.roll('would not say') < 0.3 ? v.strength('salary') : 0
  if (asked) {
    v.pass(6000)
    if (v.quits(0.35 * asked, 'salary')) return
  }
  v.fill('#salary', 6000, asked ? 2 : 0)
  const broken = v.person.mobile ? (v.roll('steps') < 0.3 ? v.strength('stepsError') : 0) : 0
  for (let k = 0; k < (broken ? 1 + Math.floor(2 * v.roll('next')) : 0); k++) {
    const target = { selector: 'button.next', tag: 'button' }
    v.click('button.next', 'none', 'button', 40)
    v.say('error', { message: 'steps is undefined', source: '/apply.js', line: 77, target })
    if (v.quits(0.3 * broken, `steps ${k}`)) return
    v.pass(3000)
  }
  v.click('button.next', 'change')
  if (!v.stay(14, 'papers', 0.3)) return
  const refused = v.roll('heavy') < 0.2 ? v.strength('paperRefused') : 0
  for (let k = 0; k < (refused ? 1 + Math.floor(2 * v.roll('papers')) : 0); k++) {
    const target = { selector: '#paper', tag: 'input' }
    v.fill('#paper', 8000)
    v.say('request', { method: 'POST', path: '/api/paper', status: 413, ms: 2500, target })
    if (v.quits(0.3 * refused, `paper ${k}`)) return
    v.pass(9000)
  }
  v.fill('#paper', 8000)
  if (!v.stay(6, 'check')) return
  v.click('#send', 'navigate')
  v.page('/applied')
  v.won = true
  v.pass(3000)
}
