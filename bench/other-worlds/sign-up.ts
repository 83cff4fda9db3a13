import type { OtherWorld, Visit } from './visit.ts'

/** A service with documentation and plans, in one page; the goal is an action. */
export const signUp: OtherWorld = {
  name: 'sign-up',
  groups: ['/', '/docs/:page', '/search', '/plans', '/account', '/welcome'],
  goal: 'action Signed up',
  hazard: 0.008,
  faults: {
    cover: ['/: dead click', '/plans: dead click'],
    plusMail: ['/account: refused form'],
    toggleError: ['/plans: script error'],
    slowDocs: ['/docs/:page: became slow', '/docs/:page: slow page'],
    freezeSend: ['/account: freeze'],
    coupon: ['/plans: site signal'],
    noResults: ['/search: no results'],
    belowFold: ['/plans: out of sight'],
  },
  live,
}

const FIELDS = [
  ['input#mail', 7],
  ['input#firm', 6],
  ['input#pass', 9],
] as const
const PAGES = ['start', 'calls', 'limits', 'bills']
const SLOW_FROM_DAY = 30
/** What goes wrong in the wake of a click is there as soon as this. */
const SOON_MS = 60

function live(v: Visit): void {
  const lands = v.roll('land')
  if (lands < 0.45) {
    v.page('/')
    // An error of something that visitors have installed.
    if (v.roll('installed') < 0.1)
      v.say('error', { message: 'context invalidated', source: 'moz-extension://x' })
    if (!v.stay(12, 'home', 0.5)) return
    if (!uncovered(v)) return
    v.click('nav a.plans', 'change', 'a')
    if (v.roll('docs first') < 0.3 && !docs(v)) return
    plans(v)
  } else if (lands >= 0.8 || (docs(v) && v.roll('on') < 0.45)) plans(v)
}

function docs(v: Visit): boolean {
  const slow = v.day > SLOW_FROM_DAY ? v.strength('slowDocs') : 0
  const load = Math.round(5000 + 4000 * v.roll('slow'))
  v.page(`/docs/${PAGES[Math.floor(4 * v.roll('doc'))]}`, slow ? { load } : {})
  if (slow) {
    if (v.quits(0.2 * slow, 'slow')) {
      v.say('leave', { ms: 3500, loaded: false })
      return false
    }
    v.pass(5000)
  }
  if (!v.stay(25, 'docs', -0.3)) return false
  if (v.roll('search') < 0.4) {
    v.click('button.search', 'change')
    const none = v.roll('none') < 0.5 ? v.strength('noResults') : 0
    v.page('/search?q=x', { results: none ? 0 : 4 })
    if ((none && v.quits(0.25 * none, 'none')) || !v.stay(8, 'search')) return false
  }
  v.click('nav a.plans', 'change', 'a')
  return true
}

function plans(v: Visit): void {
  v.page('/plans')
  v.seen('nav a.home')
  const below = v.person.small ? v.strength('belowFold') : 0
  if (!below) v.seen('a.begin')
  if (!v.stay(14, 'plans', 0.3)) return
  if (below) {
    if (v.roll('scrolls') < Math.min(0.9, 0.5 * below)) return
    v.say('scroll', { depth: 0.9, top: 500 })
    v.seen('a.begin')
  }
  if (!yearly(v) || !coupon(v)) return
  if (v.roll('begins') > 1 / (1 + Math.exp(1.3 - 1.2 * v.person.want))) {
    v.stay(10, 'nothing for them', 1)
    return
  }
  if (!uncovered(v)) return
  v.click('a.begin', 'change', 'a')
  account(v)
}

/** On phones a question about consent lies over the page, and takes the clicks that are meant for what is below. */
function uncovered(v: Visit): boolean {
  const covered = v.person.mobile && !v.consented ? v.strength('cover') : 0
  v.consented = true
  if (!covered) return true
  for (let k = 0; k < 1 + Math.floor(3 * v.roll('shade')); k++) v.click('div#consent-shade', 'none', 'div')
  if (v.quits(0.12 * covered, 'cover')) return false
  v.click('button#consent-ok', 'change')
  return true
}

function yearly(v: Visit): boolean {
  if (v.roll('yearly') < 0.35) {
    const wrong = v.person.browser === 'Firefox' ? v.strength('toggleError') : 0
    v.click('button.yearly', wrong ? 'none' : 'change', 'button', SOON_MS)
    if (wrong) {
      v.say('error', { message: 'plan is not ready', source: '/plans.js', line: 88 })
      v.pass(1500)
      if (v.quits(0.3 * wrong, 'yearly')) return false
    }
    v.pass(2500)
  }
  // Turned through fast: no rage.
  if (v.roll('turns') < 0.25) for (let k = 0; k < 4; k++) v.click('button.turn', 'change')
  return true
}

function coupon(v: Visit): boolean {
  if (v.roll('coupon') > 0.12) return true
  const wrong = v.roll('refused') < 0.6 ? v.strength('coupon') : 0
  v.fill('input#coupon', 4000)
  v.pass(4000)
  v.click('button#apply', 'change')
  if (!wrong) return true
  v.say('signal', { name: 'Coupon rejected', target: { selector: 'button#apply', tag: 'button' } })
  if (v.quits(0.5 * wrong, 'coupon')) return false
  v.pass(3000)
  return true
}

function account(v: Visit): void {
  v.page('/account', { navigation: 'history' })
  v.seen('button#send', 'button')
  for (const [field, seconds] of FIELDS) {
    if (!v.stay(seconds, field, 0.2)) return
    // The thorough correct more, and are kept by nothing.
    v.fill(field, seconds * 900, v.roll('corrected', field) < 0.15 + 0.1 * v.person.curious ? 3 : 0)
  }
  const wrong = v.roll('plus') < 0.2 ? v.strength('plusMail') : 0
  const most = wrong ? 1 + Math.floor(2 * v.roll('tries')) : 0
  for (let k = 0; ; k++) {
    const frozen = v.person.mobile && v.roll('frozen', k) < 0.35 ? v.strength('freezeSend') : 0
    v.click('button#send', k < most || frozen ? 'none' : 'change', 'button', SOON_MS)
    if (frozen) {
      v.say('freeze', { ms: 3500, target: { selector: 'button#send', tag: 'button' } })
      v.pass(3500)
      if (v.quits(0.18 * frozen, `frozen ${k}`)) return
    }
    v.say('submit', { target: { selector: 'form#new', tag: 'form' }, button: 'button#send', ok: k >= most })
    if (k >= most) break
    if (v.quits(0.3 * wrong, `mail ${k}`)) return
    v.pass(8000)
    v.fill('input#mail', 7000, 3)
  }
  v.page('/welcome', { navigation: 'history' })
  v.say('action', { name: 'Signed up' })
  v.won = true
  v.pass(4000)
}
