import type { OtherWorld, Visit } from './visit.ts'

/** Makers of machines who want to be called; their recorder does not know what clicks bring about. */
export const lead: OtherWorld = {
  name: 'lead',
  groups: ['/', '/machines', '/machines/:name', '/prices', '/stories/:name', '/contact', '/contact/sent'],
  goal: 'page /contact/sent',
  hazard: 0.009,
  faults: {
    askDead: ['/machines/:name: rage click'],
    sheetGone: ['/machines/:name: not found'],
    filterBroken: ['/machines: script error'],
    robotCheck: ['/contact: failed request'],
    countryRefused: ['/contact: refused form'],
    storiesSlow: ['/stories/:name: slow page', '/stories/:name: became slow'],
    phoneAsked: ['/contact: given up at field', '/contact: corrected field'],
    tableFreeze: ['/prices: freeze'],
  },
  live,
}

function live(v: Visit): void {
  const lands = v.roll('land')
  if (lands < 0.4) {
    v.page('/')
    if (!v.stay(10, 'home', 0.4)) return
    plain(v, 'nav .machines')
  } else if (lands < 0.6) {
    if (!story(v)) return
    plain(v, 'aside .machines')
  }
  if (lands < 0.85 && !machines(v)) return
  const looks = 1 + Math.floor(2 * v.roll('looks'))
  for (let k = 0; k < looks; k++) {
    const end = machine(v, k)
    if (end === 'gone') return
    if (end === 'asks') return contact(v)
  }
  if (v.roll('prices') < 0.5 && prices(v)) contact(v)
}

/** A click of which nothing is known but where it was. */
function plain(v: Visit, selector: string, afterMs = 500): void {
  v.say('click', { target: { selector, tag: 'a', interactive: true }, x: 100, y: 200 })
  v.pass(afterMs)
}

function story(v: Visit): boolean {
  const name = 1 + Math.floor(12 * v.roll('story'))
  const slow = name % 3 === 0 ? v.strength('storiesSlow') : 0
  v.page(`/stories/s${name}`, slow ? { load: Math.round(6000 + 4000 * v.roll('slow')) } : {})
  if (slow) {
    if (v.quits(0.2 * slow, 'story')) return false
    v.pass(5000)
  }
  return v.stay(30, 'story', 0.3) && v.roll('goes on') < 0.5
}

function machines(v: Visit): boolean {
  v.page('/machines')
  if (!v.stay(12, 'machines')) return false
  if (v.roll('filter') < 0.4) {
    const broken = v.person.browser === 'Safari' ? v.strength('filterBroken') : 0
    plain(v, '#size', 60)
    if (broken) {
      const target = { selector: '#size', tag: 'select' }
      v.say('error', { message: 'Intl is not ready', source: '/filter.js', line: 5, target })
      if (v.quits(0.25 * broken, 'filter')) return false
    }
    if (!v.stay(6, 'filtered')) return false
  }
  return true
}

function machine(v: Visit, k: number): 'gone' | 'asks' | 'back' {
  if (v.lines.length) plain(v, '.machines a')
  v.page(`/machines/m${1 + Math.floor(30 * v.roll('machine', k))}`)
  if (!v.stay(20, `machine ${k}`)) return 'gone'
  if (v.roll('sheet', k) < 0.2 + 0.1 * v.person.curious) {
    const gone = v.roll('which sheet', k) < 0.4 ? v.strength('sheetGone') : 0
    const here = v.url
    plain(v, 'a.data-sheet')
    v.page(`/sheets/${k}.pdf`, gone ? { status: 404 } : {})
    if (gone ? v.quits(0.35 * gone, `sheet ${k}`) : !v.stay(20, `sheet ${k}`)) return 'gone'
    v.page(here, { navigation: 'back_forward' })
    if (!v.stay(5, `after sheet ${k}`)) return 'gone'
  }
  if (v.roll('asks', k) > 1 / (1 + Math.exp(1.8 - 1.2 * v.person.want))) return 'back'
  const dead = v.person.mobile && v.roll('dead', k) < 0.5 ? v.strength('askDead') : 0
  if (dead) {
    // Four quick ones and more: nothing else tells that nothing happened.
    for (let c = 0; c < 4 + Math.floor(2 * v.roll('again', k)); c++) plain(v, '.ask-us', 250)
    if (v.quits(0.35 * dead, `ask ${k}`)) return 'gone'
    v.pass(3000)
  }
  plain(v, '.ask-us')
  return 'asks'
}

function prices(v: Visit): boolean {
  plain(v, 'nav .prices')
  v.page('/prices')
  const frozen = v.person.small ? v.strength('tableFreeze') : 0
  if (frozen) {
    v.pass(1500)
    v.say('freeze', { ms: 4500 })
    v.pass(4500)
    if (v.quits(0.2 * frozen, 'table')) return false
  }
  if (!v.stay(15, 'prices')) return false
  plain(v, '.prices .ask')
  return true
}

function contact(v: Visit): void {
  v.page('/contact')
  for (const [field, seconds] of [
    ['name', 4],
    ['firm', 4],
    ['mail', 6],
    ['country', 3],
  ] as const) {
    if (!v.stay(seconds, field, 0.3)) return
    v.fill(`#${field}`, seconds * 900, v.roll('slip', field) < 0.15 ? 1 : 0)
  }
  const asked = v.roll('would not') < 0.35 ? v.strength('phoneAsked') : 0
  if (asked) {
    v.pass(5000)
    if (v.quits(0.35 * asked, 'phone')) return
  }
  v.fill('#phone', 5000)
  if (!v.stay(15, 'words', 0.2)) return
  v.fill('#words', 20_000, v.roll('words') < 0.5 ? 2 : 0)
  const wrong = v.roll('country') < 0.12 ? v.strength('countryRefused') : 0
  const robot = v.roll('robot') < 0.15 ? v.strength('robotCheck') : 0
  for (let c = 0; robot && c < 1 + Math.floor(2 * v.roll('checks')); c++) {
    plain(v, '#send', 300)
    v.say('request', { method: 'POST', path: '/check', status: 403, ms: 400 })
    if (v.quits(0.35 * robot, `check ${c}`)) return
    v.pass(12_000)
  }
  const most = wrong ? 1 + Math.floor(2 * v.roll('times')) : 0
  for (let c = 0; ; c++) {
    plain(v, '#send', 300)
    v.say('submit', { target: { selector: '#ask', tag: 'form' }, button: '#send', ok: c >= most })
    if (c >= most) break
    if (v.quits(0.35 * wrong, `send ${c}`)) return
    v.pass(12_000)
  }
  v.page('/contact/sent')
  v.won = true
  v.pass(3000)
}
