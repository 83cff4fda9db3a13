import { NIGHTS, nightBySlug } from '../site/nights.ts'
import type { MeasuredElement } from '../layout.ts'
import type { Mind } from './population.ts'
import type { Visit } from './visit.ts'

/** Faults that can be switched off to learn what they cost: where each is, and what it makes visitors do. */
export const FAULTS = {
  deadPicture: {
    what: 'the picture of a night in the list looks clickable and is not',
    page: '/nights',
    selector: 'body > main > ul.nights > li.night > div.night-picture:nth-of-type(1) > svg',
    signals: ['rage click', 'dead click'],
  },
  tinyArrows: {
    what: 'the arrows of the month picker are too small for fingers',
    page: '/nights',
    selector: 'body > main > div.month-picker',
    signals: ['rage click', 'dead click'],
  },
} as const
export type FaultName = keyof typeof FAULTS
export type Faults = Record<FaultName, boolean>

const MOST_NIGHTS = 4

/** Lives one session from landing to leaving. Returns whether it ended in a booking. */
export function live(visit: Visit, landing: string, faults: Faults): boolean {
  const { mind } = visit.visitor
  visit.open(landing)
  let path: string | undefined = landing
  let nightsSeen = 0
  for (let step = 0; path !== undefined && step < 14; step++) {
    if (path === '/') path = atHome(visit, mind)
    else if (path === '/nights') path = atNights(visit, mind, faults, nightsSeen)
    else if (path.startsWith('/nights/')) path = atNight(visit, mind, path, ++nightsSeen)
    else if (path.startsWith('/book/')) path = atBooking(visit, mind)
    else {
      visit.read(1, 9000)
      visit.leave()
      return true
    }
    if (path !== undefined) visit.open(path)
  }
  if (path === undefined) visit.leave()
  return false
}

function atHome(visit: Visit, mind: Mind): string | undefined {
  const { dice } = visit
  visit.read(dice.chance('reads-home', 0.35) ? 0.9 : 0.2, 7000)
  if (!dice.chance('home-on', likely(0.75 + 0.8 * mind.eager))) return undefined
  const button = visit.element((element) => element.selector.endsWith('a.button'))
  const menu = visit.element((element) => element.selector.includes('nav') && element.tag === 'a')
  visit.press(dice.chance('by-menu', 0.3) ? menu : button, 'navigate')
  return '/nights'
}

function atNights(visit: Visit, mind: Mind, faults: Faults, seen: number): string | undefined {
  const { dice } = visit
  visit.wait(dice.time('look', 2500))
  if (seen === 0 && dice.chance('wants-month', 0.34) && !pickMonth(visit, mind, faults)) return undefined
  visit.read(0.3 + 0.5 * dice.roll('how-far'), 9000)
  if (!dice.chance('likes-one', likely(0.9 + 0.7 * mind.eager - 0.5 * seen))) return undefined
  const month = visit.month
  const choices = nightLinks(visit, month)
  const link = choices[Math.min(choices.length - 1, Math.floor(choices.length * dice.roll('which') ** 1.7))]!
  const phone = visit.visitor.device !== 'desktop'
  if (faults.deadPicture && seen === 0 && dice.chance('picture-first', phone ? 0.46 : 0.3)) {
    if (!pressPicture(visit, mind, link)) return undefined
  }
  visit.press(link, 'navigate')
  return `/nights/${slugOf(visit, link)}`
}

/** Presses the picture of a night, which does nothing. False where the visitor gives up over it. */
function pressPicture(visit: Visit, mind: Mind, link: MeasuredElement): boolean {
  const { dice } = visit
  visit.met.add('deadPicture')
  const entry = entryOf(link)
  const pictures = visit.element(
    (element) => element.selector.includes(entry) && /night-picture\S* > svg$/.test(element.selector),
  )
  const at = visit.aim(pictures)
  const times = dice.pick('picture-presses', [
    [1, 42],
    [2, 22],
    [3, 18],
    [4, 12],
    [6, 6],
  ])
  for (let i = 0; i < times; i++) {
    visit.click(pictures, at, 'none')
    visit.wait(dice.time('press-again', times > 2 ? 240 : 1400, 0.25))
  }
  visit.wait(dice.time('puzzled', 1600))
  return !dice.chance('gives-up-picture', likely(-0.5 - 0.8 * mind.skill - 0.4 * mind.patience))
}

/** Looks for another month. False where the visitor gives up over the arrows. */
function pickMonth(visit: Visit, mind: Mind, faults: Faults): boolean {
  const { dice } = visit
  const arrow = visit.element(
    (element) => element.selector.includes('button.arrow') && element.text === 'Later month',
  )
  const picker = visit.element((element) => /month-picker\S*$/.test(element.selector))
  const turns = dice.whole('months-on', 1, 2)
  const phone = visit.visitor.device === 'mobile'
  for (let turn = 0; turn < turns; turn++) {
    const misses = faults.tinyArrows && phone && dice.chance('misses', likely(0.9 - 0.7 * mind.skill))
    if (misses) {
      visit.met.add('tinyArrows')
      const beside = { rx: 0, ry: 0 }
      visit.aim(arrow)
      beside.rx = clamp((arrow.x + arrow.w / 2 + 9 + 5 * dice.normal('miss-x') - picker.x) / picker.w)
      beside.ry = clamp((arrow.y + arrow.h / 2 + 8 + 3 * dice.normal('miss-y') - picker.y) / picker.h)
      const taps = dice.whole('taps', 2, 6)
      for (let i = 0; i < taps; i++) {
        visit.click(picker, beside, 'none')
        visit.wait(dice.time('tap-again', 310, 0.2))
      }
      if (dice.chance('gives-up-arrows', likely(-0.9 - 0.9 * mind.patience))) return false
    }
    visit.press(arrow, 'change')
    visit.turnMonth(1)
    visit.wait(dice.time('after-month', 1200))
  }
  return true
}

function atNight(visit: Visit, mind: Mind, path: string, seen: number): string | undefined {
  const { dice } = visit
  visit.read(0.5 + 0.5 * dice.roll('interest'), 16_000)
  if (dice.chance('compares', 0.12)) visit.away(dice.time('elsewhere', 40_000, 0.8))
  const phone = visit.visitor.device === 'mobile'
  if (dice.chance('books', likely(-0.75 + 0.9 * mind.eager - (phone ? 0.3 : 0) + 0.25 * (seen - 1)))) {
    visit.press(
      visit.element((element) => element.selector.endsWith('a.button')),
      'navigate',
    )
    return path.replace('/nights/', '/book/')
  }
  if (seen < MOST_NIGHTS && dice.chance('looks-on', 0.42)) {
    visit.press(
      visit.element((element) => element.selector.endsWith('a.back-link')),
      'navigate',
    )
    return '/nights'
  }
  return undefined
}

function atBooking(visit: Visit, mind: Mind): string | undefined {
  const { dice } = visit
  visit.price = nightBySlug(visit.path.split('/')[2]!)!.price
  visit.wait(dice.time('look-form', 3000))
  const phone = visit.visitor.device === 'mobile'
  const fields: [selector: string, length: number][] = [
    ['#guest-name', dice.whole('name-length', 8, 19)],
    ['#guest-mail', dice.whole('mail-length', 14, 27)],
    ['#guest-phone', dice.whole('phone-length', 9, 14)],
  ]
  for (const [selector, length] of fields) {
    const stop = selector === '#guest-phone' ? 0.2 : 0.05
    if (dice.chance('stops', likely(Math.log(stop) - 0.5 * mind.eager + (phone ? 0.55 : 0)))) return undefined
    visit.type(
      selector,
      length,
      dice.pick('corrections', [
        [0, 6],
        [1, 3],
        [2, 1],
      ]),
    )
  }
  if (dice.chance('leaves-note', 0.15)) visit.type('#guest-note', dice.whole('note-length', 20, 70), 1)
  const button = visit.element(
    (element) => element.tag === 'button' && element.text.startsWith('Book and pay'),
  )
  if (dice.chance('doubts', likely(-1.6 - 0.6 * mind.eager))) return undefined
  visit.press(button, 'navigate')
  visit.submit('#details', button)
  return '/booked'
}

/** Links to nights in the list that the chosen month shows. */
function nightLinks(visit: Visit, month: number): MeasuredElement[] {
  const links = Array.from({ length: visit.count(isNightLink) }, (_, i) => visit.element(isNightLink, i))
  if (month === 0) return links
  // While a month is chosen its nights move up to where the first ones stood; a hand aims at what it sees there.
  const perMonth = [links.slice(0, 3), links.slice(3, 6), links.slice(6)]
  return perMonth[month - 1] ?? links
}

function isNightLink(element: MeasuredElement): boolean {
  return element.tag === 'a' && /li\.night.* > h2 > a$/.test(element.selector)
}

function entryOf(link: MeasuredElement): string {
  return /li\.night(:nth-of-type\(\d+\))?/.exec(link.selector)![0]
}

function slugOf(visit: Visit, link: MeasuredElement): string {
  const nth = Number(/nth-of-type\((\d+)\)/.exec(entryOf(link))?.[1] ?? 1)
  const slug = NIGHTS[nth - 1]?.slug
  if (!slug) throw new RangeError(`${visit.path} lists a night that does not exist: ${link.selector}`)
  return slug
}

/** Probability from log-odds. */
function likely(logOdds: number): number {
  return 1 / (1 + Math.exp(-logOdds))
}

function clamp(share: number): number {
  return Math.min(0.99, Math.max(0.01, share))
}
