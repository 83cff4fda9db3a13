import type { OtherWorld, Visit } from './visit.ts'

/** Evening courses: looked up by search, read at length, booked on one page; much of what goes wrong shows by how people look. */
export const courses: OtherWorld = {
  name: 'courses',
  groups: ['/', '/search', '/c/:course', '/login', '/book', '/terms'],
  goal: 'action enrolled',
  hazard: 0.004,
  faults: {
    searchLate: ['/: slow answer', '/search: slow answer'],
    smallTable: ['/c/:course: zoom'],
    datesHidden: ['/c/:course: combing'],
    videoFreeze: ['/c/:course: freeze'],
    placeTaken: ['/c/:course: site signal', '/book: site signal'],
    loggedOut: ['/book: shuttle', '/login: shuttle'],
    birthday: ['/book: corrected field', '/book: given up at field'],
    payLate: ['/book: slow answer', '/book: rage click'],
    bookBelow: ['/c/:course: out of sight'],
    termsBroken: ['/terms: not found', '/book: not found'],
  },
  live,
}

function live(v: Visit): void {
  if (v.roll('land') < 0.6) {
    v.page('/')
    v.fill('#what', 3000)
    if (!v.stay(6, 'home')) return
    if (!answered(v, '#find', 'home')) return
    if (!results(v)) return
  }
  const looks = 1 + Math.floor(3 * v.roll('looks') * Math.exp(0.2 * v.person.curious))
  for (let k = 0; k < looks; k++) {
    const end = course(v, k)
    if (end === 'gone') return
    if (end === 'books') return book(v)
    v.page('/search', { navigation: 'back_forward', results: 9 })
    if (!v.stay(5, `list ${k}`)) return
    if (v.roll('sift', k) < 0.3 && !answered(v, '#evening', `sift ${k}`)) return
  }
}

/** A search that is asked anew; whether they wait for the answer. */
function answered(v: Visit, selector: string, name: string): boolean {
  const late = v.person.mobile && v.roll('line') < 0.4 ? v.strength('searchLate') : 0
  const ms = late ? 5000 + 4000 * v.roll('ms', name) : 300 + 900 * v.roll('ms', name)
  const target = { selector, tag: 'button' }
  v.click(selector, 'change', 'button', 60)
  v.say('request', { method: 'GET', path: '/api/courses', status: 200, ms: Math.round(ms), target })
  v.pass(ms)
  return !(late && v.quits(0.15 * late, name))
}

function results(v: Visit): boolean {
  v.page('/search', { results: 3 + Math.floor(30 * v.roll('many')), navigation: 'history' })
  return v.stay(9, 'results')
}

function scrolled(v: Visit, turns: number): void {
  for (let k = 0; k < turns; k++) {
    const top = k % 2 ? 200 : 1400
    v.say('scroll', { depth: 0.8, top })
    v.pass(2500)
  }
}

function course(v: Visit, k: number): 'gone' | 'books' | 'back' {
  if (v.lines.length) v.click('ol.courses > li > a', 'navigate', 'a')
  v.page(`/c/${1 + Math.floor(120 * v.roll('course', k))}`)
  const below = v.person.small ? v.strength('bookBelow') : 0
  if (!below) v.seen('a.book')
  const frozen = v.person.browser === 'Safari' && v.roll('video') < 0.5 ? v.strength('videoFreeze') : 0
  if (frozen) {
    v.pass(1500)
    v.say('freeze', { ms: 4200 })
    v.pass(4200)
    if (v.quits(0.18 * frozen, `frozen ${k}`)) return 'gone'
  }
  if (!v.stay(9, `course ${k}`)) return 'gone'
  const small = v.person.mobile && v.roll('table', k) < 0.5 ? v.strength('smallTable') : 0
  if (small || v.roll('closer', k) < 0.05 + 0.03 * v.person.curious) {
    v.say('gesture', { name: 'zoom', props: { by: 2 }, x: 180, y: 700 })
    v.pass(2500)
    if (small && v.quits(0.18 * small, `small ${k}`)) return 'gone'
  }
  const hidden = v.roll('dates', k) < 0.3 ? v.strength('datesHidden') : 0
  if (hidden || v.roll('thorough', k) < 0.05 + 0.04 * v.person.curious) {
    scrolled(v, 6)
    if (hidden && v.quits(0.2 * hidden, `hidden ${k}`)) return 'gone'
  }
  if (below) {
    if (v.quits(0.25 * below, `below ${k}`)) return 'gone'
    v.seen('a.book')
  }
  if (!v.stay(9, `reads ${k}`)) return 'gone'
  if (v.roll('fits', k) > 1 / (1 + Math.exp(1.2 - 1.1 * v.person.want))) return 'back'
  v.click('a.book', 'navigate', 'a')
  return 'books'
}

const FIELDS = [
  ['name', 4],
  ['street', 5],
  ['town', 4],
] as const

function book(v: Visit): void {
  v.page('/book')
  const taken = v.roll('taken') < 0.15 ? v.strength('placeTaken') : 0
  if (taken) {
    v.pass(1000)
    v.say('signal', { name: 'waiting list only' })
    if (v.quits(0.3 * taken, 'taken')) return
  }
  for (const [field, seconds] of FIELDS) {
    if (!v.stay(seconds, field, 0.2)) return
    v.fill(`#${field}`, seconds * 900, v.roll('slip', field) < 0.12 ? 1 : 0)
  }
  const out = v.roll('ended') < 0.12 ? v.strength('loggedOut') : 0
  if (out) {
    v.pass(2000)
    v.page('/login')
    if (v.quits(0.3 * out, 'out')) return
    v.fill('#secret', 4000)
    v.click('#enter', 'navigate')
    v.page('/book')
    for (const [field, seconds] of FIELDS) v.fill(`#${field}`, seconds * 900)
  }
  const strict = v.roll('format') < 0.35 ? v.strength('birthday') : 0
  if (!v.stay(4, 'born', 0.2)) return
  if (strict && v.quits(0.3 * strict, 'born')) return
  v.fill('#born', strict ? 14_000 : 4000, strict ? 4 : 0)
  if (v.roll('terms') < 0.15 + 0.05 * v.person.curious) {
    const broken = v.strength('termsBroken')
    v.click('a.terms', 'navigate', 'a')
    v.page('/terms', broken ? { status: 404 } : {})
    if (broken ? v.quits(0.25 * broken, 'terms') : !v.stay(14, 'terms')) return
    v.page('/book', { navigation: 'back_forward' })
  }
  if (!v.stay(6, 'check')) return
  const late = v.roll('bank') < 0.25 ? v.strength('payLate') : 0
  const ms = late ? 8000 + 7000 * v.roll('bank ms') : 500 + 900 * v.roll('bank ms')
  const target = { selector: '#pay', tag: 'button' }
  v.click('#pay', 'change', 'button', 50)
  v.say('request', { method: 'POST', path: '/api/pay', status: 200, ms: Math.round(ms), target })
  if (late && v.quits(0.3 * late, 'pay')) return
  v.pass(ms)
  v.say('action', { name: 'enrolled' })
  v.won = true
  v.pass(3000)
}
