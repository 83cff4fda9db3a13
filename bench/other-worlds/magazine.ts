import type { OtherWorld, Visit } from './visit.ts'

/** Thousands of articles, some of which only subscribers read; few subscribe. */
export const magazine: OtherWorld = {
  name: 'magazine',
  groups: [
    '/',
    '/subscribe',
    '/login',
    '/subscribe/card',
    '/subscribe/thanks',
    '/:section',
    '/:section/:article',
  ],
  goal: 'page /subscribe/thanks',
  hazard: 0.012,
  faults: {
    offerDead: ['/:section/:article: dead click: .wall'],
    articleSlow: ['/:section/:article: slow page', '/:section/:article: became slow'],
    banner: ['/:section/:article: dead click: .ask-first', '/: dead click: .ask-first'],
    mailTaken: ['/subscribe: refused form'],
    cardRefused: ['/subscribe/card: failed request', '/subscribe/card: refused form'],
    loginError: ['/login: script error'],
    monthlyHidden: ['/subscribe: out of sight'],
    freezeVideo: ['/:section/:article: freeze'],
  },
  live,
}

const SECTIONS = ['politics', 'science', 'sport', 'food', 'travel']

function live(v: Visit): void {
  if (v.roll('land') < 0.35) {
    v.page('/')
    if (!v.stay(15, 'front', 0.2) || !banner(v)) return
    v.click('main article a', 'navigate', 'a')
  }
  const articles = 1 + Math.floor(4 * v.roll('articles') ** 2 + Math.max(0, v.person.curious))
  for (let k = 0; k < articles; k++) {
    const end = article(v, k)
    if (end === 'gone') return
    if (end === 'offer') return subscribe(v)
    if (k + 1 < articles) v.click('aside.more a', 'navigate', 'a')
  }
}

function banner(v: Visit): boolean {
  const over = v.person.small && !v.consented ? v.strength('banner') : 0
  v.consented = true
  if (!over) return true
  for (let k = 0; k < 1 + Math.floor(2 * v.roll('over')); k++) v.click('.ask-first .veil', 'none', 'div', 700)
  if (v.quits(0.12 * over, 'banner')) return false
  v.click('.ask-first .fine', 'change')
  return true
}

function article(v: Visit, k: number): 'gone' | 'offer' | 'read' {
  const section = SECTIONS[Math.floor(5 * v.roll('section', k))]!
  const slow = section === 'travel' ? v.strength('articleSlow') : 0
  v.page(
    `/${section}/${2020 + Math.floor(7 * v.roll('year', k))}-${Math.floor(3000 * v.roll('article', k))}`,
    slow ? { load: Math.round(6000 + 5000 * v.roll('slow', k)) } : {},
  )
  if (slow) {
    if (v.quits(0.25 * slow, `slow ${k}`)) {
      v.say('leave', { ms: 4000, loaded: false })
      return 'gone'
    }
    v.pass(6000)
  }
  if (!v.stay(20, `article ${k}`) || !banner(v)) return 'gone'
  v.say('scroll', { depth: 0.4 + 0.5 * v.roll('depth', k), top: 900 })
  if (v.roll('video', k) < 0.15) {
    const frozen = v.person.browser === 'Firefox' ? v.strength('freezeVideo') : 0
    v.click('.player button', 'change', 'button', 70)
    if (frozen) {
      v.say('freeze', { ms: 5000, target: { selector: '.player button', tag: 'button' } })
      v.pass(5000)
      if (v.quits(0.35 * frozen, `video ${k}`)) return 'gone'
    }
    if (!v.stay(25, `video ${k}`)) return 'gone'
  }
  // A quiz: fast clicks that mean nothing.
  if (v.roll('quiz', k) < 0.1) for (let c = 0; c < 6; c++) v.click('.quiz button', 'change', 'button', 250)
  if (v.roll('wants', k) > 1 / (1 + Math.exp(2.2 - 1.3 * v.person.want))) return 'read'
  const dead = v.roll('offer dead', k) < 0.4 ? v.strength('offerDead') : 0
  if (dead) {
    for (let c = 0; c < 1 + Math.floor(3 * v.roll('times', k)); c++) v.click('.wall a', 'none', 'a', 600)
    if (v.quits(0.4 * dead, `offer ${k}`)) return 'gone'
    v.pass(2000)
  }
  v.click('.wall a', 'navigate', 'a')
  return 'offer'
}

function subscribe(v: Visit): void {
  v.page('/subscribe')
  if (v.roll('has account') < 0.2) {
    v.click('a.login', 'navigate', 'a')
    v.page('/login')
    if (!v.stay(8, 'login')) return
    v.fill('#mail', 5000)
    v.fill('#pass', 5000, v.roll('pass') < 0.4 ? 2 : 0)
    const broken = v.roll('login') < 0.5 ? v.strength('loginError') : 0
    v.click('#login', broken ? 'none' : 'navigate', 'button', 60)
    if (broken) {
      v.say('error', { message: 'token is null', source: '/login.js', line: 3 })
      v.pass(3000)
      if (v.quits(0.5 * broken, 'login')) return
      v.click('#login', 'navigate')
    }
    v.page('/subscribe')
  }
  const hidden = v.person.small ? v.strength('monthlyHidden') : 0
  v.seen('header a', 'a')
  if (!hidden) v.seen('.monthly a', 'a')
  if (!v.stay(15, 'offers', 0.3)) return
  if (hidden) {
    if (v.roll('scrolls') < Math.min(0.9, 0.5 * hidden)) return
    v.say('scroll', { depth: 0.9, top: 700 })
    v.seen('.monthly a', 'a')
  }
  if (v.roll('takes') > 1 / (1 + Math.exp(0.2 - 1.0 * v.person.want))) return
  v.click('.monthly a', 'change', 'a')
  if (!v.stay(8, 'mail')) return
  v.fill('#new-mail', 6000)
  const taken = v.roll('taken') < 0.2 ? v.strength('mailTaken') : 0
  v.click('#continue', taken ? 'change' : 'navigate')
  v.say('submit', { target: { selector: '#new', tag: 'form' }, button: '#continue', ok: !taken })
  if (taken) {
    if (v.quits(0.45 * taken, 'taken')) return
    v.pass(7000)
    v.fill('#new-mail', 6000, 4)
    v.click('#continue', 'navigate')
    v.say('submit', { target: { selector: '#new', tag: 'form' }, button: '#continue', ok: true })
  }
  card(v)
}

function card(v: Visit): void {
  v.page('/subscribe/card')
  for (const [field, seconds] of [
    ['#number', 12],
    ['#until', 4],
    ['#code', 5],
  ] as const) {
    if (!v.stay(seconds, field)) return
    v.fill(field, seconds * 900, v.roll('slip', field) < 0.2 ? 1 : 0)
  }
  const wrong = v.roll('kind of card') < 0.2 ? v.strength('cardRefused') : 0
  for (let k = 0; k < (wrong ? 1 + Math.floor(2 * v.roll('tries')) : 0); k++) {
    v.click('#pay', 'change')
    const target = { selector: '#pay', tag: 'button' }
    v.say('request', { method: 'POST', path: '/api/card', status: 422, ms: 700, target })
    if (v.quits(0.45 * wrong, `card ${k}`)) return
    v.pass(9000)
    v.fill('#number', 9000, 2)
  }
  v.click('#pay', 'navigate')
  v.page('/subscribe/thanks')
  v.won = true
  v.pass(4000)
}
