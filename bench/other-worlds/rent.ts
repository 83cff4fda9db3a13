import type { OtherWorld, Visit } from './visit.ts'

/**
 * Flats to let: one page that changes its address without loading. Who looks for long looks at much, is thorough, and writes to
 * several; who is thorough also takes long over what they write, and some things fail who takes long.
 */
export const rent: OtherWorld = {
  name: 'rent',
  groups: ['/', '/flats', '/flat/:id', '/flat/:id/write', '/login', '/sent', '/guide/:name'],
  goal: 'page /sent',
  hazard: 0.005,
  faults: {
    sortError: ['/flats: script error: .sort'],
    placeJumps: ['/flats: combing'],
    flatGone: ['/flats: not found', '/flat/:id: not found'],
    planFreezes: ['/flat/:id: freeze'],
    heartLogin: ['/flat/:id: shuttle', '/login: shuttle'],
    phoneDead: ['/flat/:id: dead click: .phone', '/flat/:id: rage click: .phone'],
    writeBelow: ['/flat/:id: out of sight'],
    tooShort: ['/flat/:id/write: refused form'],
    timedOut: ['/flat/:id/write: failed request'],
    incomeField: ['/flat/:id/write: given up at field: #income'],
    dateField: ['/flat/:id/write: corrected field: #from', '/flat/:id/write: given up at field: #from'],
    flatSlow: ['/flat/:id: became slow', '/flat/:id: slow page'],
  },
  live,
}

/** The address changes, nothing is loaded. */
const goTo = (v: Visit, url: string, more: { load?: number; status?: number } = {}) =>
  v.page(url, { ...(v.lines.length ? { navigation: 'history' as const } : {}), ...more })

function live(v: Visit): void {
  if (v.roll('land') < 0.45) {
    goTo(v, '/')
    if (!v.stay(5, 'home')) return
    if (v.roll('guide') < 0.1) {
      v.click('a.guide', 'navigate', 'a')
      goTo(v, `/guide/${1 + Math.floor(5 * v.roll('which guide'))}`)
      if (!v.stay(30, 'guide', -0.2)) return
    }
    v.click('button.search', 'navigate')
  }
  const looks = 2 + Math.floor(5 * v.roll('looks') * Math.exp(0.35 * v.person.curious))
  for (let k = 0; k < looks; k++) {
    if (!list(v, k)) return
    const end = flat(v, k)
    if (end === 'gone') return
    if (end === 'writes') return write(v)
  }
}

function list(v: Visit, k: number): boolean {
  const { person } = v
  goTo(v, '/flats')
  if (!v.stay(7, `list ${k}`)) return false
  if (k > 0) {
    // Back in the list they begin at its top again and look for where they were.
    const jumps = person.mobile ? v.strength('placeJumps') : 0
    const looks = jumps ? 0.5 : 0.04 * Math.exp(0.5 * person.curious)
    if (v.roll('combs', k) < looks) {
      for (let n = 0; n < 6; n++) {
        v.say('scroll', { depth: 0.7, top: n % 2 ? 200 : 2600 })
        v.pass(900)
      }
      if (jumps && v.quits(0.12 * jumps, `jumps ${k}`)) return false
    }
  }
  if (v.roll('sorts', k) < 0.15 + 0.1 * v.roll('keen') * Math.exp(0.4 * person.curious)) {
    const error = person.browser === 'Firefox' ? v.strength('sortError') : 0
    v.click('button.sort', error ? 'none' : 'change', 'button', 40)
    if (error) {
      const target = { selector: 'button.sort', tag: 'button' }
      v.say('error', { message: 'compare is not a function', source: '/list.js', line: 7, target })
      v.pass(2000)
      if (v.quits(0.2 * error, `sort ${k}`)) return false
    }
  }
  // Harmless: photos in the list are swiped and clicked by who looks closely.
  if (v.roll('photos', k) < 0.2 * Math.exp(0.5 * person.curious)) v.click('.card .dots', 'none', 'div', 600)
  const gone = v.roll('gone', k) < 0.12 ? v.strength('flatGone') : 0
  v.click('a.card', 'navigate', 'a')
  if (gone) {
    goTo(v, `/flat/${400 + k}`, { status: 404 })
    v.pass(2500)
    if (v.quits(0.25 * gone, `gone ${k}`)) return false
    goTo(v, '/flats')
    if (!v.stay(4, `again ${k}`)) return false
    v.click('a.card', 'navigate', 'a')
  }
  return true
}

function flat(v: Visit, k: number): 'gone' | 'writes' | 'list' {
  const { person } = v
  const slow = v.day > 30 && v.roll('line') < 0.6 ? v.strength('flatSlow') : 0
  goTo(
    v,
    `/flat/${1 + Math.floor(200 * v.roll('which', k))}`,
    slow ? { load: 4800 + Math.round(2500 * v.roll('ms', k)) } : {},
  )
  if (slow && v.quits(0.09 * slow, `slow ${k}`)) return 'gone'
  v.seen('h1', 'h1')
  const below = person.small ? v.strength('writeBelow') : 0
  if (!below) v.seen('a.write')
  // Harmless: the map of an outside service fails now and then.
  if (v.roll('map', k) < 0.1) v.say('request', { method: 'GET', path: '/map', status: 503, ms: 150 })
  if (!v.stay(12, `looks ${k}`)) return 'gone'
  const photos = Math.floor(4 * v.roll('turns', k) * Math.exp(0.3 * person.curious))
  for (let n = 0; n < photos; n++) v.click('button.next', 'change', 'button', 1100)
  if (v.roll('plan', k) < 0.25) {
    const frozen = !person.mobile && person.browser === 'Chrome' ? v.strength('planFreezes') : 0
    v.click('button.plan', 'change', 'button', 200)
    if (frozen) {
      v.say('freeze', { ms: 5200, target: { selector: 'button.plan', tag: 'button' } })
      v.pass(5200)
      if (v.quits(0.2 * frozen, `plan ${k}`)) return 'gone'
    }
    if (!v.stay(10, `plan on ${k}`, -0.2)) return 'gone'
  }
  if (v.roll('heart', k) < 0.1 * Math.exp(0.4 * person.want)) {
    const login = v.strength('heartLogin')
    v.click('button.heart', login ? 'navigate' : 'change')
    if (login) {
      goTo(v, '/login')
      v.pass(4000)
      if (v.quits(0.25 * login, `login ${k}`)) return 'gone'
      goTo(v, v.lines.findLast(({ url }) => url?.startsWith('/flat/'))!.url!)
      v.pass(1500)
    }
  }
  if (below) {
    if (v.quits(0.1 * below, `below ${k}`)) return 'gone'
    v.say('scroll', { depth: 0.95, top: 1700 })
    v.seen('a.write')
  }
  if (!v.stay(9, `on ${k}`)) return 'gone'
  // Who would rather call presses the number; where that does nothing most write after all.
  if (v.roll('calls', k) < 0.08) {
    const dead = v.strength('phoneDead')
    v.click('span.phone', dead ? 'none' : 'change', 'a', 700)
    if (dead && v.roll('calls again', k) < 0.5) v.click('span.phone', 'none', 'a', 700)
    if (dead && v.quits(0.5 * dead, `calls ${k}`)) return 'gone'
  }
  if (v.roll('fits', k) > 1 / (1 + Math.exp(1.9 - person.want))) return 'list'
  v.click('a.write', 'navigate', 'a')
  return 'writes'
}

function write(v: Visit): void {
  const { person } = v
  goTo(v, `${v.url}/write`)
  if (!v.stay(4, 'form', -0.3)) return
  let tookS = 0
  const fields = [
    ['name', 4, 1],
    ['mail', 6, 1],
    ['from', 5, 1],
    ['income', 5, 1],
    ['text', 40, 0.3],
  ] as const
  for (const [field, seconds, push] of fields) {
    const thought = seconds * (0.5 + v.roll('writes', field)) * Math.exp(0.35 * person.curious)
    const date = field === 'from' && person.browser === 'Safari' ? v.strength('dateField') : 0
    if (
      field === 'income' &&
      v.strength('incomeField') &&
      v.quits(0.12 * v.strength('incomeField'), 'income')
    )
      return
    if (!v.stay(seconds * push * 0.5, field, -0.5)) return
    v.pass(thought * 1000)
    tookS += thought
    v.fill(`#${field}`, Math.round(thought * 900), date ? 4 : v.roll('slip', field) < 0.15 ? 2 : 0)
    if (date && v.quits(0.22 * date, 'date')) return
  }
  const short = v.roll('short') < 0.3 ? v.strength('tooShort') : 0
  const target = { selector: '#send', tag: 'button' }
  if (short) {
    v.click('#send', 'none', 'button', 30)
    v.say('submit', { target: { selector: 'form.write', tag: 'form' }, button: '#send', ok: false })
    v.pass(2500)
    if (v.quits(0.2 * short, 'short')) return
    v.fill('#text', 9000, 1)
    tookS += 9
  }
  // What was begun so long ago is no longer known to the site.
  const timedOut = tookS > 80 ? v.strength('timedOut') : 0
  if (timedOut) {
    v.click('#send', 'none', 'button', 300)
    v.say('request', { method: 'POST', path: '/api/write', status: 401, ms: 280, target })
    v.pass(3000)
    if (v.quits(0.45 * timedOut, 'timed out')) return
  }
  v.click('#send', 'navigate', 'button', 300)
  v.say('request', { method: 'POST', path: '/api/write', status: 200, ms: 290, target })
  goTo(v, '/sent')
  v.won = true
  v.pass(2000)
}
