import type { OtherWorld, Visit } from './visit.ts'

/**
 * An account to open: offers that are compared, a long form over two days, an identity to prove, or an appointment at a branch
 * in its place. Who is old takes longer and goes to a branch; who lacks a document looks for help and leaves whatever the site does.
 */
export const bank: OtherWorld = {
  name: 'bank',
  groups: [
    ...['/', '/compare', '/account/:name', '/apply/person', '/apply/tax', '/apply/identity', '/apply/code'],
    ...['/apply/sign', '/branch', '/branch/day', '/opened', '/terms/:name'],
  ],
  goal: 'page /opened',
  hazard: 0.005,
  faults: {
    sliderDead: ['/compare: dead click: .amount', '/compare: rage click: .amount'],
    calcError: ['/compare: script error: #months'],
    draftLost: ['/apply/person: site signal'],
    passwordRules: ['/apply/person: corrected field: #password', '/apply/person: refused form'],
    taxNumber: ['/apply/tax: given up at field: #tax-number'],
    uploadFails: ['/apply/identity: failed request'],
    identitySlow: ['/apply/identity: slow page', '/apply/identity: became slow'],
    codeLate: ['/apply/code: slow answer'],
    timedOut: [
      '/apply/sign: shuttle',
      '/apply/person: shuttle',
      '/apply/tax: shuttle',
      '/apply/code: shuttle',
    ],
    termsGone: ['/apply/sign: not found', '/terms/:name: not found'],
    signBelow: ['/apply/sign: out of sight'],
    mapDead: ['/branch: dead click: .map', '/branch: rage click: .map'],
    noDays: ['/branch/day: failed request', '/branch/day: shuttle', '/branch: shuttle'],
  },
  live,
}

interface Customer {
  v: Visit
  /** 0 to 1 */
  age: number
  /** has all that is asked for at hand */
  prepared: boolean
}

const loads = (v: Visit, url: string, load?: number) =>
  v.page(url, { navigation: 'navigate', ...(load !== undefined && { load: Math.round(load) }) })

function live(v: Visit): void {
  const { person } = v
  // The same on both days, since traits are: patience and curiosity tell it.
  const age = 1 / (1 + Math.exp(-0.8 * person.patience - 0.8 * person.curious))
  const customer: Customer = { v, age, prepared: v.roll('prepared') < 0.75 }
  // Who comes for the second time goes on where they were.
  if (v.roll('goes on') < 0.3) return apply(customer, true)
  if (v.roll('land') < 0.5) {
    loads(v, '/')
    if (!v.stay(6, 'home', 0.4)) return
    v.click('a.accounts', 'navigate', 'a')
  }
  if (!compare(customer)) return
  loads(v, `/account/${v.roll('which') < 0.6 ? 'plain' : 'plus'}`)
  if (!v.stay(12, 'account', 0.2)) return
  if (v.roll('branch') < 0.15 + 0.35 * age) {
    v.click('a.branch', 'navigate', 'a')
    return branch(customer)
  }
  v.click('a.apply', 'navigate', 'a')
  apply(customer, false)
}

function compare({ v, age }: Customer): boolean {
  const { person } = v
  loads(v, '/compare')
  v.seen('a.more')
  if (!v.stay(7, 'compare', 0.2)) return false
  // Harmless: who reads all of the table presses on its rows, which do nothing.
  const reads = v.roll('reads') < 0.2 + 0.3 * age
  for (let k = 0; reads && k < 1 + Math.floor(3 * v.roll('rows')); k++) {
    v.click('table.offers td', 'none', 'td', 1500)
    v.pass(2000 * Math.exp(0.3 * person.curious))
  }
  if (v.roll('slides') < 0.35) {
    const dead = person.mobile ? v.strength('sliderDead') : 0
    const times = dead ? 1 + Math.floor(4 * v.roll('slide times')) : 2
    for (let k = 0; k < times; k++) v.click('.amount', dead ? 'none' : 'change', 'div', dead ? 300 : 900)
    if (dead && v.quits(0.16 * dead, 'slider')) return false
  }
  if (v.roll('months') < 0.3) {
    const error = person.browser === 'Chrome' && person.mobile ? v.strength('calcError') : 0
    v.click('#months', error ? 'none' : 'change', 'select', 60)
    if (error) {
      const target = { selector: '#months', tag: 'select' }
      v.say('error', { message: 'rate is not a number', source: '/calc.js', line: 81, target })
      v.pass(1200)
      if (v.quits(0.28 * error, 'months')) return false
    }
  }
  if (!v.stay(6, 'chooses', 0.2)) return false
  v.click('a.more', 'navigate', 'a')
  return true
}

function apply(customer: Customer, again: boolean): void {
  if (aboutThem(customer, again) && tax(customer) && identity(customer) && code(customer)) sign(customer)
}

function aboutThem({ v, age }: Customer, again: boolean): boolean {
  loads(v, '/apply/person')
  const lost = again && v.roll('draft') < 0.5 ? v.strength('draftLost') : 0
  if (lost) {
    v.pass(300)
    v.say('signal', { name: 'Draft not found' })
    v.pass(2500)
    if (v.quits(0.3 * lost, 'draft')) return false
  }
  // Harmless: old machines stand still for a while, and their people are used to it.
  if (v.roll('machine') < 0.05 + 0.2 * age) {
    v.pass(900)
    v.say('freeze', { ms: 1400 })
  }
  for (const field of ['name', 'born', 'street', 'city', 'mail'] as const) {
    if (!v.stay(3 + 4 * age, field, -0.7)) return false
    v.fill(`#${field}`, 4000, v.roll('slip', field) < 0.1 ? 2 : 0)
  }
  const rules = v.strength('passwordRules')
  const times = rules && v.roll('weak') < 0.45 ? 2 + Math.floor(2 * v.roll('weaker')) : 1
  for (let k = 0; k < times; k++) {
    if (!v.stay(4, `password ${k}`, -0.7)) return false
    v.fill('#password', 5000, times > 1 ? 3 + k : 0)
    if (k < times - 1 && v.quits(0.13 * rules, `password ${k}`)) return false
  }
  v.click('button.next', 'navigate')
  return true
}

function tax({ v, prepared }: Customer): boolean {
  loads(v, '/apply/tax')
  if (!v.stay(3, 'tax', -0.6)) return false
  v.click('#country', 'change', 'select', 800)
  const number = v.strength('taxNumber')
  if (number && !prepared && v.quits(0.55 * number, 'tax number')) return false
  if (!v.stay(6, 'number', -0.6)) return false
  v.fill('#tax-number', 7000, v.roll('slip tax') < 0.2 ? 2 : 0)
  v.click('button.next', 'navigate')
  return true
}

function identity({ v, age, prepared }: Customer): boolean {
  const { person } = v
  const slow = person.browser === 'Firefox' ? v.strength('identitySlow') : 0
  loads(v, '/apply/identity', slow ? 4500 + 2500 * v.roll('identity ms') : undefined)
  if (slow && v.quits(0.14 * slow, 'identity slow')) return false
  if (!v.stay(4, 'identity', -0.4)) return false
  // Harmless: who has no passport at hand presses on the sign that says what is needed, and leaves.
  const lacks = !prepared && v.roll('lacks') < 0.6
  if (lacks || v.roll('asks') < 0.06) {
    v.click('div.needed', 'none', 'div', 900)
    if (v.roll('asks twice') < 0.5) v.click('div.needed', 'none', 'div', 900)
    v.pass(2000)
  }
  if (lacks && v.roll('goes') < 0.7) return false
  const big = person.mobile ? 0.35 : 0.1
  for (let k = 0; k < 4; k++) {
    const fails = v.roll('photo', k) < big ? v.strength('uploadFails') : 0
    const target = { selector: 'button.photo', tag: 'button' }
    v.click('button.photo', fails ? 'none' : 'change', 'button', 900)
    v.say('request', { method: 'POST', path: '/api/photo', status: fails ? 413 : 201, ms: 900, target })
    v.pass(2000)
    if (!fails) break
    if (v.quits(0.22 * fails, `photo ${k}`)) return false
    if (!v.stay(5 + 5 * age, `photo ${k}`, -0.4)) return false
  }
  v.click('button.next', 'navigate')
  return true
}

function code({ v }: Customer): boolean {
  loads(v, '/apply/code')
  if (!v.stay(3, 'phone', -0.7)) return false
  v.fill('#phone', 4000)
  const late = v.roll('network') < 0.25 ? v.strength('codeLate') : 0
  v.click('button.send', 'change', 'button', 100)
  const ms = late ? 11_000 : 900
  if (late) {
    v.pass(3000 + 6000 * v.roll('waits'))
    if (v.quits(0.26 * late, 'code late')) return false
    v.pass(2500)
  } else v.pass(800)
  const target = { selector: 'button.send', tag: 'button' }
  v.say('request', { method: 'POST', path: '/api/code', status: 200, ms, target })
  if (!v.stay(5, 'code', -0.7)) return false
  v.fill('#code', 3000)
  v.click('button.next', 'navigate')
  return true
}

function sign({ v, age }: Customer): void {
  const { person } = v
  loads(v, '/apply/sign')
  const below = person.small ? v.strength('signBelow') : 0
  v.seen('h1', 'h1')
  if (!below) v.seen('button.sign')
  if (!v.stay(4, 'sign', -0.5)) return
  if (v.roll('terms') < 0.1 + 0.25 * age) {
    v.click('a.terms', 'navigate', 'a')
    const gone = v.strength('termsGone')
    v.page('/terms/account', { navigation: 'navigate', ...(gone && { status: 404 }) })
    if (gone && v.quits(0.2 * gone, 'terms')) return
    if (!v.stay(gone ? 2 : 25, 'terms', -0.5)) return
    v.page('/apply/sign', { navigation: 'back_forward' })
    if (!v.stay(3, 'sign on', -0.5)) return
  }
  // Who takes long is sent back to the beginning.
  const out = v.roll('long') < 0.05 + 0.25 * age ? v.strength('timedOut') : 0
  if (out) {
    loads(v, '/apply/person')
    v.pass(1500)
    if (v.quits(0.4 * out, 'timed out')) return
    if (!v.stay(15, 'once more', -0.7)) return
    for (const url of ['/apply/tax', '/apply/identity', '/apply/code', '/apply/sign']) {
      v.click('button.next', 'navigate')
      loads(v, url)
      v.pass(4000)
    }
  }
  if (below) {
    if (v.quits(0.14 * below, 'below')) return
    v.say('scroll', { depth: 1, top: 700 })
    v.pass(1500)
    v.seen('button.sign')
    v.pass(2000)
  }
  if (!v.stay(5, 'signs', -0.5)) return
  v.click('button.sign', 'navigate')
  loads(v, '/opened')
  v.won = true
  v.pass(3000)
}

function branch({ v }: Customer): void {
  for (let again = 0; again < 3; again++) {
    loads(v, '/branch')
    if (!v.stay(6, `branch ${again}`)) return
    if (v.roll('map', again) < 0.5) {
      const dead = v.person.browser === 'Safari' ? v.strength('mapDead') : 0
      const times = dead ? 1 + Math.floor(4 * v.roll('map times', again)) : 1
      for (let k = 0; k < times; k++) v.click('.map', dead ? 'none' : 'change', 'div', dead ? 280 : 900)
      if (dead && v.quits(0.25 * dead, `map ${again}`)) return
    }
    if (!v.stay(4, `branch chosen ${again}`)) return
    v.click('a.choose', 'navigate', 'a')
    loads(v, '/branch/day')
    const none = v.roll('no days', again) < 0.25 ? v.strength('noDays') : 0
    v.say('request', { method: 'GET', path: '/api/days', status: none ? 502 : 200, ms: 420 })
    if (!none) break
    v.pass(2500)
    if (v.quits(0.3 * none, `no days ${again}`)) return
    if (again === 2) return
    v.click('a.other', 'navigate', 'a')
  }
  if (!v.stay(7, 'day', -0.3)) return
  v.click('button.day', 'change', 'button', 900)
  if (!v.stay(4, 'branch sure', -0.3)) return
  v.click('button.book', 'navigate')
  loads(v, '/opened')
  v.won = true
  v.pass(3000)
}
