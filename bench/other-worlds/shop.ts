import type { OtherWorld, Visit } from './visit.ts'

/** Lists, products, a basket, an address and a payment. */
export const shop: OtherWorld = {
  name: 'shop',
  groups: [
    ...['/', '/list/:kind', '/product/:id', '/basket', '/checkout', '/checkout/pay'],
    ...['/thanks', '/delivery'],
  ],
  goal: 'page /thanks',
  hazard: 0.006,
  faults: {
    deadAdd: ['/product/:id: dead click'],
    filterError: ['/list/:kind: script error'],
    phoneRefused: ['/checkout: refused form'],
    slowProduct: ['/product/:id: slow page', '/product/:id: became slow'],
    promo: ['/basket: corrected field', '/basket: given up at field'],
    brokenLink: ['/: not found', '/product/:id: not found', '/basket: not found'],
    payFails: ['/checkout/pay: failed request'],
  },
  live,
}

/** Of the address, with the seconds that each takes. */
const FIELDS = [
  ['input#name', 5],
  ['input#street', 8],
  ['input#town', 4],
  ['input#phone', 6],
] as const
const KINDS = ['shoes', 'coats', 'hats', 'bags']

function live(v: Visit): void {
  if (v.roll('land') < 0.6) {
    v.page('/')
    // Always there, and harmless.
    v.say('error', { message: 'ResizeObserver loop limit exceeded', source: '/app.js', line: 1 })
    if (!v.stay(10, 'home', 0.6) || !footer(v, 'home')) return
    v.click('a.list', 'navigate', 'a')
  }
  const list = `/list/${KINDS[Math.floor(4 * v.roll('kind'))]}`
  v.page(list)
  if (!v.stay(14, 'list', 0.4) || !filter(v)) return
  const looks = 1 + Math.floor(3 * v.roll('looks') + Math.max(0, 0.5 * v.person.curious))
  for (let k = 0; k < looks; k++) {
    if (!product(v, k)) return
    if (v.roll('buy', k) < 1 / (1 + Math.exp(1.6 - 1.1 * v.person.want))) {
      if (add(v, k)) basket(v)
      return
    }
    v.page(list)
    if (!v.stay(8, `list ${k}`, 0.3)) return
  }
}

/** A link of the frame of the site; says whether they are still there. */
function footer(v: Visit, name: string): boolean {
  const { want, curious } = v.person
  if (v.roll('footer', name) > 0.02 * Math.exp(0.3 * want + 0.3 * curious)) return true
  const back = v.url
  v.click('footer a.delivery', 'navigate', 'a')
  const broken = v.strength('brokenLink')
  v.page('/delivery', broken ? { status: 404 } : {})
  if (broken ? v.quits(0.35 * broken, `link ${name}`) : !v.stay(15, `delivery ${name}`)) return false
  v.pass(4000)
  v.page(back)
  return true
}

function filter(v: Visit): boolean {
  if (v.roll('filter') > 0.3 + 0.05 * v.person.curious) return true
  const broken = v.strength('filterError')
  const target = { selector: 'select#size', tag: 'select' }
  v.click(target.selector, broken ? 'none' : 'change', target.tag, 80)
  if (broken) {
    v.say('error', { message: 'size is undefined', source: '/list.js', line: 42, target })
    v.pass(1500)
    if (v.quits(0.14 * broken, 'filter')) return false
  } else v.fill(target.selector, 2000)
  return v.stay(8, 'filtered')
}

function product(v: Visit, k: number): boolean {
  const id = 1 + Math.floor(24 * v.roll('product', k))
  const slow = v.person.mobile && id % 4 === 0 ? v.strength('slowProduct') : 0
  v.click(`a.card:nth-child(${id})`, 'navigate', 'a')
  v.page(`/product/${id}`, slow ? { load: Math.round(6000 + 4000 * v.roll('slow', k)) } : {})
  if (slow) {
    if (v.quits(0.12 * slow, `slow ${k}`)) {
      v.say('leave', { ms: 4000, loaded: false })
      return false
    }
    v.pass(7000)
  }
  if (!v.stay(15, `product ${k}`)) return false
  // Nobody is kept by a picture that does nothing.
  if (v.roll('picture', k) < 0.25 + 0.1 * v.person.curious) v.click('img.photo', 'none', 'img')
  return footer(v, `product ${k}`)
}

function add(v: Visit, k: number): boolean {
  const dead = v.person.browser === 'Safari' && v.roll('dead', k) < 0.6 ? v.strength('deadAdd') : 0
  if (dead) {
    for (let c = 0; c < 1 + Math.floor(3 * v.roll('again', k)); c++) v.click('button.add', 'none')
    if (v.quits(0.35 * dead, `dead ${k}`)) return false
    v.pass(2500)
  }
  v.click('button.add', 'change')
  if (!v.stay(4, `added ${k}`)) return false
  v.click('a.basket', 'navigate', 'a')
  return true
}

function basket(v: Visit): void {
  v.page('/basket')
  if (!v.stay(12, 'basket')) return
  // Three of it: no rage.
  if (v.roll('more') < 0.3) for (let k = 0; k < 3; k++) v.click('button.plus', 'change')
  if (v.roll('promo') < 0.3) {
    const wrong = v.strength('promo')
    const ms = wrong ? 15_000 : 5000
    v.fill('input#promo', ms, wrong ? 3 + Math.floor(3 * v.roll('corrected')) : 0)
    v.pass(ms)
    if (wrong && v.quits(0.3 * wrong, 'promo')) return
  }
  if (!footer(v, 'basket')) return
  v.click('a.checkout', 'navigate', 'a')
  address(v)
}

function address(v: Visit): void {
  v.page('/checkout')
  for (const [field, seconds] of FIELDS) {
    if (!v.stay(seconds, field)) return
    v.fill(field, seconds * 900, v.roll('corrected', field) < 0.2 ? 1 : 0)
  }
  const wrong = v.roll('spaces') < 0.35 ? v.strength('phoneRefused') : 0
  const most = wrong ? 1 + Math.floor(2 * v.roll('tries')) : 0
  for (let tries = 0; ; tries++) {
    const refused = tries < most || v.roll('slip', tries) < 0.03
    v.click('button#go', refused ? 'change' : 'navigate')
    v.say('submit', { target: { selector: 'form#address', tag: 'form' }, button: 'button#go', ok: !refused })
    if (!refused) break
    if (wrong && v.quits(0.3 * wrong, `phone ${tries}`)) return
    v.pass(6000)
    v.fill('input#phone', 5000, 2)
  }
  pay(v)
}

function pay(v: Visit): void {
  v.page('/checkout/pay')
  if (!v.stay(20, 'pay', -0.5)) return
  const wrong = v.roll('fails') < 0.12 ? v.strength('payFails') : 0
  const most = wrong ? 1 + Math.floor(2 * v.roll('times')) : 0
  for (let k = 0; ; k++) {
    const fails = k < most
    v.click('button#pay', fails ? 'change' : 'navigate')
    const target = { selector: 'button#pay', tag: 'button' }
    v.say('request', { method: 'POST', path: '/api/pay', status: fails ? 500 : 200, ms: 850, target })
    if (!fails) break
    if (v.quits(0.5 * wrong, `pay ${k}`)) return
    v.pass(5000)
  }
  v.page('/thanks')
  v.won = true
  v.pass(5000)
}
