import type { MeasuredElement } from '../layout.ts'
import { nightBySlug } from '../site/content/nights.ts'
import type { Next, Stay } from './stay.ts'
import { decoy, givesUp, leaning, likely, ponders, pressInVain, trouble, wavers } from './stay.ts'

const MISTYPED = [
  [0, 6],
  [1, 3],
  [2, 1],
] as const

export function atParty(stay: Stay): Next {
  const { visit, mind } = stay
  const { dice } = visit
  const variant = visit.visitor.party
  visit.report('variant', { experiment: 'party step', variant })
  visit.wait(dice.time('look-party', 2500))
  if (variant === 'steps') setGuests(stay)
  if (!chooseSeats(stay)) return undefined
  if (variant === 'map') setGuests(stay)
  if (
    !dice.chance(
      'party-on',
      likely(
        1.5 +
          0.5 * mind.eager +
          (variant === 'map' ? 0.25 : 0) +
          leaning(stay, { urgent: -0.4, thorough: 0.2 }),
      ),
    )
  )
    return undefined
  if (!sendForm(stay, '#party', 'party')) return undefined
  return visit.path.replace(/party$/, 'details')
}

function setGuests(stay: Stay): void {
  const { visit, guests } = stay
  const { dice } = visit
  const adults = dice.pick('adults', [
    [2, 52],
    [1, 14],
    [3, 10],
    [4, 14],
    [5, 4],
    [6, 6],
  ])
  const children = dice.pick('children', [
    [0, 70],
    [1, 12],
    [2, 14],
    [3, 4],
  ])
  const quick = decoy(stay, 'stepperTaps')
  const price = nightBySlug(visit.path.split('/')[2]!)!.price
  const tap = (index: number, less: boolean, times: number, change: () => void) => {
    if (!times) return
    const buttons = visit.all(({ selector }) => selector.includes(less ? 'button.less' : 'button.more'))
    const button = buttons[index]!
    const at = visit.aim(button)
    if (times > 2 && quick) visit.met.add('stepperTaps')
    for (let i = 0; i < times; i++) {
      visit.click(button, at, 'change')
      change()
      const total = price * (guests.adults + guests.children / 2)
      visit.play('guests', [
        String(guests.adults),
        String(guests.children),
        `€ ${Number.isInteger(total) ? total : total.toFixed(2)}`,
      ])
      visit.wait(dice.time('tap', quick ? 230 / quick ** 0.3 : 900, 0.25))
    }
  }
  tap(0, adults < guests.adults, Math.abs(adults - guests.adults), () => {
    guests.adults += Math.sign(adults - guests.adults)
  })
  tap(1, false, Math.max(0, children - guests.children), () => guests.children++)
}

function chooseSeats(stay: Stay): boolean {
  const { visit, mind, guests } = stay
  const { dice } = visit
  const strength = trouble(stay, 'seatZone', 'party')
  const touch = visit.visitor.device !== 'desktop'
  if (
    strength &&
    dice.chance('tries-zone', likely(-0.9 + (touch ? 0.5 : 0) - 0.4 * mind.skill + 0.3 * mind.habit))
  ) {
    visit.met.add('seatZone')
    const zones = visit.all(({ selector }) => /div\.(zone-name|dome)\S*$/.test(selector))
    pressInVain(stay, 'zone', zones[Math.floor(dice.roll('which-zone') * zones.length)]!)
    if (givesUp(stay, 'seatZone', strength, -1.9)) return false
  }
  const free = visit.all(({ selector, w }) => selector.includes('button.seat') && w > 0)
  const wanted = Math.min(3, guests.adults)
  const from = Math.floor(dice.roll('seats-from') * Math.max(1, free.length - wanted))
  for (let i = 0; i < wanted; i++) {
    const seat = free[from + i]
    if (!seat) break
    visit.press(seat, 'change')
    visit.change(seat, 'aria-pressed', 'true')
    visit.wait(dice.time('next-seat', 500, 0.4))
  }
  return true
}

export function atDetails(stay: Stay): Next {
  const { visit, mind } = stay
  const { dice } = visit
  const phone = visit.visitor.device === 'mobile'
  visit.wait(dice.time('look-form', 3000))
  const fields: [name: string, length: number][] = [
    ['name', dice.whole('name-length', 8, 19)],
    ['mail', dice.whole('mail-length', 14, 27)],
    ['phone', dice.whole('phone-length', 9, 14)],
    ['street', dice.whole('street-length', 8, 22)],
    ['town', dice.whole('town-length', 4, 13)],
    ['postcode', dice.whole('postcode-length', 4, 8)],
    ['birth', 4],
    ['car', dice.whole('car-length', 6, 8)],
  ]
  for (const [name, length] of fields) {
    const selector = `#guest-${name}`
    const strength = trouble(stay, 'longForm', name)
    if (strength) {
      visit.met.add('longForm')
      visit.aim(visit.element(selector))
      visit.wait(dice.time('ponders', 5000, 0.7))
      if (givesUp(stay, 'longForm', strength, -1.3 + (phone ? 0.3 : 0))) return undefined
    }
    if (
      dice.chance(
        'stops',
        likely(-4 - 0.4 * mind.eager + (phone ? 0.4 : 0) - leaning(stay, { thorough: 0.3 })),
      )
    )
      return undefined
    visit.type(selector, length, dice.pick('corrections', MISTYPED) + (ponders(stay) ? 3 : 0))
  }
  if (dice.chance('leaves-note', 0.12)) visit.type('#guest-note', dice.whole('note-length', 20, 70), 1)
  const button = buttonOf(stay)
  if (dice.chance('mistypes-mail', likely(-2.6 - 0.4 * mind.skill))) {
    visit.press(button, 'change')
    visit.submit('#details', button)
    visit.change(visit.element('#guest-mail-problem'), 'class', 'problem shown')
    visit.wait(dice.time('sees-problem', 2500))
    visit.type('#guest-mail', fields[1]![1] + 1, 1)
    visit.change(visit.element('#guest-mail-problem'), 'class', 'problem')
  }
  if (!phoneWithSpaces(stay, '#details', '#guest-phone', 'details')) return undefined
  if (!sendForm(stay, '#details', 'details')) return undefined
  return visit.path.replace(/details$/, 'payment')
}

/** Sends a form with a phone number that it does not take. False where the visitor gives up over it. */
export function phoneWithSpaces(stay: Stay, form: string, field: string, spot: string): boolean {
  const { visit } = stay
  const { dice } = visit
  const spaced = dice.chance('phone with spaces', 0.34)
  const strength = trouble(stay, 'silentPhone', spot)
  if (!spaced || !strength) return true
  visit.met.add('silentPhone')
  const button = buttonOf(stay)
  pressInVain(stay, 'silent form', button)
  visit.submit(form, button, { ok: false, explained: false })
  if (givesUp(stay, 'silentPhone', strength, -0.1)) return false
  visit.wait(dice.time('finds out', 12_000, 0.7))
  visit.type(field, dice.whole('phone-again', 9, 12), 3)
  return true
}

/** Presses the button of a form, against a script that may fail. False where the visitor gives up over it. */
export function sendForm(stay: Stay, form: string, spot: string): boolean {
  const { visit } = stay
  const button = buttonOf(stay)
  const strength = trouble(stay, 'scriptError', spot)
  if (strength) {
    visit.met.add('scriptError')
    visit.click(button, visit.aim(button), 'none')
    visit.report('error', {
      message:
        "TypeError: can't access property Symbol.iterator, /Firefox\\/(\\d+)\\.(\\d+)\\.(\\d+)/.exec(...) is null",
      source: 'http://127.0.0.1:4181/site.js',
      line: 73,
      column: 25,
    })
    visit.submit(form, button, { ok: false, explained: false })
    visit.wait(visit.dice.time('waits for it', 3500, 0.6))
    if (givesUp(stay, 'scriptError', strength, -0.5)) return false
  }
  visit.press(button, 'navigate')
  visit.submit(form, button)
  return true
}

/** The button that sends the page's own form. */
export function buttonOf({ visit }: Stay): MeasuredElement {
  return visit.element(({ tag, selector }) => tag === 'button' && /^#\S+ > button\.button$/.test(selector))
}

export function atPayment(stay: Stay): Next {
  const { visit, mind, guests } = stay
  const { dice } = visit
  visit.wait(dice.time('look-payment', 2500))
  wavers(stay)
  const reduced = usePromo(stay)
  if (reduced === undefined) return undefined
  if (dice.chance('doubts', likely(-1.9 - 0.6 * mind.eager - leaning(stay, { budget: 0.9 }))))
    return undefined
  visit.type('#card-number', 16, dice.pick('card-corrections', MISTYPED))
  visit.type('#card-date', 5, 0)
  visit.type('#card-check', 3, 0)
  if (!sendForm(stay, '#payment', 'payment')) return undefined
  const { price } = nightBySlug(visit.path.split('/')[2]!)!
  const value = price * (guests.adults + guests.children / 2) * (reduced ? 0.9 : 1)
  stay.converted = { kind: 'night', value: Math.round(value * 100) / 100 }
  return '/booked'
}

/** True with a code that was taken; undefined where the visitor gives up over one that was not. */
function usePromo(stay: Stay): boolean | undefined {
  const { visit, campaign } = stay
  const { dice } = visit
  const has = campaign === 'geminids' || campaign === 'midwinter' ? 0.6 : 0.05
  if (!dice.chance('has-code', has)) return false
  visit.type('#promo', dice.whole('code-length', 9, 9), 0)
  const apply = visit.element(({ selector }) => selector.endsWith('button.apply'))
  const asPrinted = dice.chance('code as printed', 0.4)
  const strength = trouble(stay, 'silentPromo', 'payment')
  if (asPrinted || !strength) {
    visit.press(apply, 'change')
    visit.play('promo')
    return true
  }
  visit.met.add('silentPromo')
  pressInVain(stay, 'promo', apply)
  return givesUp(stay, 'silentPromo', strength, -0.6) ? undefined : false
}
