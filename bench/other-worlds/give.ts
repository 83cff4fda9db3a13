import type { OtherWorld, Visit } from './visit.ts'

/**
 * A charity: many come for a story and go, few give, and giving is one page whose steps change it. Who was moved by what they
 * read gives more readily, whatever they wanted when they came.
 */
export const give: OtherWorld = {
  name: 'give',
  groups: ['/', '/story/:name', '/give', '/wallet', '/about', '/tax'],
  goal: 'action Given',
  hazard: 0.012,
  faults: {
    amountDead: ['/give: dead click: .amount', '/give: rage click: .amount'],
    barOver: ['/story/:name: dead click: .consent', '/story/:name: rage click: .consent'],
    ibanRefused: ['/give: refused form'],
    walletFails: ['/give: failed request', '/wallet: failed request'],
    storySlow: ['/story/:name: became slow', '/story/:name: slow page'],
    giveBelow: ['/story/:name: out of sight'],
    birthField: ['/give: given up at field: #born'],
    puzzleLate: ['/give: slow answer'],
    thrownBack: ['/wallet: shuttle', '/give: shuttle'],
    filmFreezes: ['/story/:name: freeze'],
    startError: ['/give: script error'],
  },
  live,
}

/** Pages are loaded, and it is told that they were not come back to. */
const loads = (v: Visit, url: string, more: { load?: number } = {}) =>
  v.page(url, { navigation: 'navigate', ...more })

/** How far what they have read moved them, beside what they wanted. */
function moved(v: Visit, k: number): number {
  return 1.2 * v.roll('moved', k) - 0.5
}

function live(v: Visit): void {
  let heart = 0
  if (v.roll('land') < 0.25) {
    loads(v, '/')
    if (!v.stay(6, 'home')) return
    // Harmless: the picture at the head looks like a link.
    if (v.roll('hero') < 0.12) v.click('header > img.hero', 'none', 'img', 900)
    if (v.roll('straight') < 0.1 * Math.exp(0.7 * v.person.want)) {
      v.click('a.give', 'navigate', 'a')
      return giving(v, 0)
    }
    v.click('article a', 'navigate', 'a')
  }
  const stories = 1 + Math.floor(2 * v.roll('stories') * Math.exp(0.35 * v.person.curious))
  for (let k = 0; k < stories; k++) {
    const end = story(v, k, heart)
    if (end === 'gone') return
    heart += moved(v, k)
    if (end === 'gives') return giving(v, heart)
  }
  if (v.roll('about') < 0.2) {
    loads(v, '/about')
    v.stay(20, 'about', -0.3)
  }
}

function story(v: Visit, k: number, heart: number): 'gone' | 'gives' | 'next' {
  const { person } = v
  const slow = v.day > 28 && v.day < 46 ? v.strength('storySlow') : 0
  loads(
    v,
    `/story/${1 + Math.floor(12 * v.roll('name', k))}`,
    slow ? { load: 5200 + Math.round(2500 * v.roll('ms', k)) } : {},
  )
  if (slow && v.quits(0.14 * slow, `slow ${k}`)) return 'gone'
  v.seen('h1', 'h1')
  const below = person.mobile ? v.strength('giveBelow') : 0
  if (!below) v.seen('a.give')
  // Harmless: told on every fourth view, and nothing comes of it.
  if (v.roll('count', k) < 0.25) v.say('request', { method: 'POST', path: '/count', status: 500, ms: 90 })
  const bar = person.small && k === 0 ? v.strength('barOver') : 0
  if (bar && v.roll('bar') < 0.6) {
    const times = 1 + Math.floor(4 * v.roll('bar times'))
    for (let n = 0; n < times; n++) v.click('div.consent', 'none', 'div', 450)
    if (v.quits(0.16 * bar, 'bar')) return 'gone'
  }
  if (!v.stay(18, `reads ${k}`)) return 'gone'
  if (v.roll('film', k) < 0.3 / (1 + Math.exp(-0.8 * person.curious))) {
    v.click('.film button', 'change')
    const frozen = person.browser === 'Chrome' ? v.strength('filmFreezes') : 0
    if (frozen && v.roll('frozen', k) < 0.6) {
      v.say('freeze', { ms: 4600, target: { selector: '.film button', tag: 'button' } })
      if (v.quits(0.3 * frozen, `film ${k}`)) return 'gone'
    }
    if (!v.stay(25, `film on ${k}`, -0.4)) return 'gone'
  }
  // Pictures of the story are looked at closely by whom it moves.
  if (v.roll('close', k) < 0.12 + 0.15 * moved(v, k)) v.click('figure img', 'none', 'img', 700)
  if (below) {
    v.say('scroll', { depth: 0.9, top: 2400 })
    if (v.quits(0.1 * below, `below ${k}`)) return 'gone'
    v.seen('a.give')
  }
  if (!v.stay(14, `on ${k}`, -0.2)) return 'gone'
  const gives = 1 / (1 + Math.exp(2.6 - 0.9 * person.want - heart - moved(v, k)))
  if (v.roll('gives', k) < gives) {
    v.click('a.give', 'navigate', 'a')
    return 'gives'
  }
  v.click('aside a', 'navigate', 'a')
  return 'next'
}

function giving(v: Visit, heart: number): void {
  const { person } = v
  const at = (weight: number, name: string) => v.quits(weight * Math.exp(-0.4 * heart), name)
  loads(v, '/give')
  if (v.roll('loads') < 0.5) v.say('error', { message: 'fonts is undefined', source: '/f.js', line: 1 })
  const error = v.roll('lost') < 0.15 ? v.strength('startError') : 0
  if (error) {
    v.pass(500)
    v.say('error', { message: 'amounts of undefined', source: '/give.js', line: 9 })
    if (at(0.4 * error, 'start')) return
  }
  if (!v.stay(5, 'form', -0.5)) return
  const dead = person.browser === 'Safari' ? v.strength('amountDead') : 0
  if (v.roll('tile') < 0.7) {
    const times = dead ? 1 + Math.floor(3 * v.roll('tiles')) : 1
    for (let k = 0; k < times; k++) v.click('button.amount', dead ? 'none' : 'change', 'button', 600)
    if (dead) {
      if (at(0.25 * dead, 'tile')) return
      // What they want to give can be typed as well.
      v.pass(2500)
      v.fill('#other', 2600)
    }
  } else v.fill('#other', 2600, v.roll('other') < 0.2 ? 1 : 0)
  v.click('#monthly', 'change', 'label')
  if (!v.stay(4, 'how often', -0.5)) return
  v.click('button.next', 'change')
  if (v.roll('way') < 0.35) return wallet(v, at)
  for (const [field, seconds] of [
    ['name', 4],
    ['mail', 5],
  ] as const) {
    v.fill(`#${field}`, seconds * 900, v.roll('slip', field) < 0.1 ? 1 : 0)
    if (!v.stay(seconds, field, -0.5)) return
  }
  const born = v.strength('birthField')
  if (born && at(0.16 * born, 'born')) return
  v.fill('#born', 4000)
  if (!v.stay(4, 'born', -0.5)) return
  v.fill('#iban', 9000, v.roll('slip', 'iban') < 0.2 ? 1 : 0)
  v.pass(3000)
  const refused = v.roll('spaces') < 0.4 ? v.strength('ibanRefused') : 0
  const sent = { selector: '#send', tag: 'button' }
  const send = (ok: boolean) => {
    v.click('#send', ok ? 'change' : 'none', 'button', 30)
    v.say('submit', { target: { selector: 'form.give', tag: 'form' }, button: '#send', ok })
    v.pass(ok ? 400 : 2500)
    if (ok) v.say('request', { method: 'POST', path: '/api/give', status: 200, ms: 400, target: sent })
  }
  if (refused) {
    send(false)
    if (at(0.35 * refused, 'iban')) return
    if (v.roll('again') < 0.5) send(false)
    v.fill('#iban', 7000, 3)
  }
  const late = v.roll('late') < 0.3 ? v.strength('puzzleLate') : 0
  if (late) {
    v.click('#send', 'change', 'button', 100)
    v.pass(7000)
    if (at(0.3 * late, 'late')) return
    v.say('request', { method: 'POST', path: '/api/give', status: 200, ms: 7100, target: sent })
  } else send(true)
  given(v)
}

function wallet(v: Visit, at: (weight: number, name: string) => boolean): void {
  const thrown = v.roll('thrown') < 0.3 ? v.strength('thrownBack') : 0
  const target = { selector: '#agree', tag: 'button' }
  v.click('#wallet', 'navigate')
  loads(v, '/wallet')
  if (thrown) {
    v.pass(1500)
    loads(v, '/give')
    if (at(0.2 * thrown, 'thrown')) return
    v.pass(3000)
    v.click('#wallet', 'navigate')
    loads(v, '/wallet')
    v.pass(1500)
    loads(v, '/give')
    if (at(0.3 * thrown, 'thrown again')) return
    v.pass(4000)
    v.click('#wallet', 'navigate')
    loads(v, '/wallet')
  }
  if (!v.stay(7, 'wallet', -0.6)) return
  const fails = v.roll('down') < 0.2 ? v.strength('walletFails') : 0
  if (fails) {
    v.click('#agree', 'none', 'button', 400)
    v.say('request', { method: 'POST', path: '/api/agree', status: 502, ms: 380, target })
    if (at(0.4 * fails, 'down')) return
    v.pass(4000)
  }
  v.click('#agree', 'change')
  given(v)
}

function given(v: Visit): void {
  v.pass(600)
  v.say('action', { name: 'Given', value: 10 + 90 * v.roll('amount') ** 3, currency: 'EUR' })
  v.won = true
  v.pass(2000)
}
