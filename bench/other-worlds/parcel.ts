import type { OtherWorld, Visit } from './visit.ts'

/**
 * Parcels to send: a price, two addresses, a payment. Much looks bad that is none: who has little money looks to and fro and
 * leaves over the price, who is on a slow line wants less, who is thorough corrects much.
 */
export const parcel: OtherWorld = {
  name: 'parcel',
  groups: ['/', '/price', '/from', '/to', '/abroad', '/pay', '/label', '/help/:topic'],
  goal: 'page /label',
  hazard: 0.007,
  faults: {
    sizeDead: ['/price: dead click: .sizes', '/price: rage click: .sizes'],
    unitError: ['/price: script error: #unit'],
    priceSlow: ['/price: became slow', '/price: slow page'],
    lookupFails: ['/from: failed request', '/to: failed request'],
    dateDead: ['/from: dead click: .calendar', '/from: rage click: .calendar'],
    customsField: ['/abroad: given up at field: #worth'],
    customsRefused: ['/abroad: refused form'],
    nextBelow: ['/to: out of sight'],
    cardLate: ['/pay: slow answer'],
    thrownOut: ['/pay: shuttle', '/from: shuttle', '/to: shuttle'],
    feeShown: ['/pay: site signal'],
  },
  live,
}

interface Sender {
  v: Visit
  /** 0 to 1: how little money they have, and whether they are on a slow line */
  poor: number
  slowLine: boolean
}

const loads = ({ v, slowLine }: Sender, url: string, more: { load?: number } = {}) =>
  v.page(url, {
    navigation: 'navigate',
    ...(slowLine && v.roll('line', url) < 0.7 && { load: 4300 + Math.round(2500 * v.roll('line ms', url)) }),
    ...more,
  })

function live(v: Visit): void {
  const poor = v.roll('poor')
  // Who is on a slow line wants it less, as it happens.
  const slowLine = v.roll('on a slow line') < 0.25 / (1 + Math.exp(1.2 * v.person.want))
  const sender = { v, poor, slowLine }
  if (v.roll('land') < 0.4) {
    loads(sender, '/')
    if (!v.stay(5, 'home')) return
    if (v.roll('helps') < 0.08) {
      v.click('a.help', 'navigate', 'a')
      loads(sender, '/help/sizes')
      if (!v.stay(20, 'help', -0.2)) return
    }
    v.click('a.send', 'navigate', 'a')
  }
  if (price(sender) && address(sender, 'from') && address(sender, 'to') && abroad(sender)) pay(sender)
}

function price(sender: Sender): boolean {
  const { v, poor } = sender
  const { person } = v
  const slow = v.day > 34 ? v.strength('priceSlow') : 0
  loads(sender, '/price', slow ? { load: 4600 + Math.round(2200 * v.roll('price ms')) } : {})
  if (slow && v.quits(0.08 * slow, 'price slow')) return false
  // Harmless: the browser tells an error on every page.
  if (person.browser === 'Firefox')
    v.say('error', { message: 'ping is not defined', source: '/p.js', line: 2 })
  if (!v.stay(6, 'sizes')) return false
  if (v.roll('picture') < 0.25) {
    const dead = v.strength('sizeDead')
    v.click('ul.sizes > li > img', dead ? 'none' : 'change', 'a', 900)
    if (dead && v.quits(0.14 * dead, 'picture')) return false
  }
  v.click('ul.sizes > li > button', 'change')
  if (v.roll('unit') < 0.3) {
    const error = person.browser === 'Safari' ? v.strength('unitError') : 0
    v.click('#unit', error ? 'none' : 'change', 'button', 30)
    if (error) {
      const target = { selector: '#unit', tag: 'button' }
      v.say('error', { message: 'units is null', source: '/price.js', line: 14, target })
      v.pass(1500)
      if (v.quits(0.3 * error, 'unit')) return false
    }
  }
  v.fill('#weight', 2500, v.roll('weight') < 0.1 + 0.12 * Math.exp(0.6 * person.curious) ? 3 : 0)
  if (!v.stay(5, 'weight')) return false
  // The price is there: who has little money looks whether it gets less, presses on the sum, and leaves over it.
  for (let k = 0; k < 3 && v.roll('less', k) < 0.7 * poor; k++) {
    v.click('ul.sizes > li > button', 'change', 'button', 1200)
    if (v.roll('sum', k) < 0.4) v.click('.sum', 'none', 'div', 500)
    if (v.roll('sum again', k) < 0.15) v.click('.sum', 'none', 'div', 500)
  }
  if (v.roll('too much') < poor ** 2 * 0.8 * Math.exp(-0.3 * person.want)) {
    v.pass(2000)
    return false
  }
  if (!v.stay(4, 'decides')) return false
  // Harmless: who is in a hurry presses more than once, and it works.
  const presses = v.roll('hurry') < 0.1 * Math.exp(0.5 * person.want) ? 4 : 1
  for (let k = 0; k < presses; k++) v.click('a.on', 'navigate', 'a', 250)
  return true
}

function address(sender: Sender, which: 'from' | 'to'): boolean {
  const { v } = sender
  const { person } = v
  loads(sender, `/${which}`)
  const below = which === 'to' && person.small ? v.strength('nextBelow') : 0
  v.seen('h1', 'h1')
  if (!below) v.seen('button.next')
  if (!v.stay(4, `${which}`, -0.3)) return false
  v.fill(`#${which}-name`, 4000)
  // The postcode is looked up, each time it is changed.
  const tries = 1 + (v.roll(which, 'once more') < 0.12 + 0.15 * Math.exp(0.6 * person.curious) ? 1 : 0)
  for (let k = 0; k < tries; k++) {
    v.fill(`#${which}-code`, 3000, k ? 3 : 0)
    const fails = v.roll(which, 'down', k) < 0.12 ? v.strength('lookupFails') : 0
    const target = { selector: 'button.find', tag: 'button' }
    v.click('button.find', fails ? 'none' : 'change', 'button', 350)
    v.say('request', { method: 'GET', path: '/api/code', status: fails ? 500 : 200, ms: 330, target })
    v.pass(1500)
    if (fails && v.quits(0.3 * fails, `${which} down ${k}`)) return false
  }
  if (!v.stay(5, `${which} street`, -0.4)) return false
  v.fill(`#${which}-street`, 6000, v.roll(which, 'slip') < 0.15 ? 2 : 0)
  if (which === 'from' && v.roll('picked up') < 0.5) {
    const dead = person.mobile ? v.strength('dateDead') : 0
    const times = dead ? 1 + Math.floor(3 * v.roll('date times')) : 1
    for (let k = 0; k < times; k++) v.click('.calendar', dead ? 'none' : 'change', 'button', 900)
    if (dead && v.quits(0.2 * dead, 'date')) return false
  }
  if (below) {
    if (v.quits(0.12 * below, 'below')) return false
    v.say('scroll', { depth: 1, top: 600 })
    v.pass(1500)
    v.seen('button.next')
    v.pass(2000)
  }
  if (!v.stay(3, `${which} done`, -0.4)) return false
  v.click('button.next', 'navigate')
  return true
}

function abroad(sender: Sender): boolean {
  const { v } = sender
  if (v.roll('abroad') > 0.3) return true
  loads(sender, '/abroad')
  const worth = v.strength('customsField')
  for (const field of ['what', 'weight', 'made-in', 'worth', 'phone'] as const) {
    if (field === 'worth' && worth && v.quits(0.18 * worth, 'worth')) return false
    if (!v.stay(5, `customs ${field}`, -0.5)) return false
    v.fill(`#${field}`, 4000, v.roll('slip', field) < 0.12 ? 2 : 0)
  }
  const refused = v.roll('customs') < 0.5 ? v.strength('customsRefused') : 0
  for (let k = 0; refused && k < 2; k++) {
    v.click('button.next', 'none', 'button', 20)
    v.say('submit', { target: { selector: 'form.customs', tag: 'form' }, button: 'button.next', ok: false })
    v.pass(3000)
    if (v.quits(0.2 * refused, `customs ${k}`)) return false
  }
  v.click('button.next', 'navigate')
  return true
}

function pay(sender: Sender): void {
  const { v, poor } = sender
  loads(sender, '/pay')
  const fee = v.roll('fee') < 0.4 ? v.strength('feeShown') : 0
  if (fee) {
    v.pass(400)
    v.say('signal', { name: 'Fee for fuel' })
    v.pass(1500)
    if (v.quits(0.16 * fee, 'fee')) return
  }
  if (!v.stay(6, 'sum', -0.3)) return
  // Harmless: who hunts for bargains tries codes that are none, and would have left without one.
  if (v.roll('code') < 0.4 * poor) {
    v.fill('#code', 3000)
    v.click('button.apply', 'change', 'button', 400)
    v.say('request', {
      method: 'POST',
      path: '/api/code',
      status: 404,
      ms: 200,
      target: { selector: 'button.apply', tag: 'button' },
    })
    v.pass(1500)
  }
  if (v.roll('no bargain') < 0.35 * poor ** 3) {
    v.pass(3000)
    return
  }
  const thrown = v.roll('thrown') < 0.1 ? v.strength('thrownOut') : 0
  if (thrown) {
    loads(sender, '/from')
    if (v.quits(0.5 * thrown, 'thrown')) return
    v.pass(3000)
    v.fill('#from-name', 4000)
    v.click('button.next', 'navigate')
    loads(sender, '/to')
    v.pass(4000)
    v.click('button.next', 'navigate')
    loads(sender, '/pay')
    v.pass(4000)
  }
  v.fill('#card', 9000, v.roll('card') < 0.15 ? 2 : 0)
  if (!v.stay(5, 'card', -0.4)) return
  const late = v.roll('bank') < 0.2 ? v.strength('cardLate') : 0
  v.click('#pay', 'change', 'button', 100)
  const ms = late ? 9000 : 700
  if (late) {
    v.pass(2000 + 5000 * v.roll('waits'))
    if (v.quits(0.3 * late, 'late')) return
    v.pass(2000)
  } else v.pass(600)
  v.say('request', {
    method: 'POST',
    path: '/api/pay',
    status: 200,
    ms,
    target: { selector: '#pay', tag: 'button' },
  })
  loads(sender, '/label')
  v.won = true
  v.pass(3000)
}
