import type { MeasuredElement } from '../layout.ts'
import { GALLERY } from '../site/sections/nights.ts'
import type { Next, Stay } from './stay.ts'
import {
  clickText,
  decoy,
  follow,
  givesUp,
  leaning,
  likely,
  pressInVain,
  trouble,
  wavers,
  weatherBox,
  within,
} from './stay.ts'

const MOST_NIGHTS = 4

export function atHome(stay: Stay): Next {
  const { visit, mind, intent } = stay
  const { dice } = visit
  weatherBox(stay)
  if (intent === 'weather') return checkWeather(stay)
  visit.read(dice.chance('reads-home', 0.35) ? 0.9 : 0.35, 0.3)
  clickText(stay)
  if (!dice.chance('home-on', likely(0.9 + 0.8 * mind.eager))) return undefined
  switch (intent) {
    case 'hire':
      return follow(visit, '/hire')
    case 'read':
      return follow(visit, dice.chance('from-home', 0.4) ? '/articles/how-dark-is-dark' : '/articles')
    case 'member':
      return follow(visit, dice.chance('yearly-first', 0.4) ? '/membership/yearly' : '/membership/monthly')
    case 'other':
      return follow(visit, '/help')
    default: {
      const button = visit.element((element) => element.selector.endsWith('a.button'))
      visit.press(dice.chance('by-menu', 0.3) ? visit.link('/nights') : button, 'navigate')
      return '/nights'
    }
  }
}

/** Looks at the weather and leaves, as those who have booked already do. A decoy. */
function checkWeather(stay: Stay): Next {
  const { visit } = stay
  const box = visit.element(({ selector }) => /p\.weather-now\S*$/.test(selector))
  visit.aim(box)
  visit.wait(visit.dice.time('weather', 4500, 0.5))
  const often = decoy(stay, 'weatherChecks')
  if (often) visit.met.add('weatherChecks')
  if (visit.dice.chance('touches-weather', 0.3 * Math.min(2, often))) visit.click(box, visit.aim(box), 'none')
  return undefined
}

export function atNights(stay: Stay): Next {
  const { visit, mind, nightsSeen } = stay
  const { dice } = visit
  visit.wait(dice.time('look', 2500))
  if (nightsSeen === 0 && dice.chance('wants-month', 0.34) && !pickMonth(stay)) return undefined
  else if (nightsSeen === 0 && dice.chance('narrows', 0.14)) {
    const kind = dice.whole('kind', 1, 2)
    visit.press(
      visit.element(({ selector }) =>
        new RegExp(`filters\\S* > button:nth-of-type\\(${kind + 1}\\)$`).test(selector),
      ),
      'change',
    )
    visit.play(`kind:${kind}`)
  }
  visit.read(0.3 + 0.5 * dice.roll('how-far'), 0.35)
  if (
    !dice.chance(
      'likes-one',
      likely(1 + 0.7 * mind.eager - 0.45 * nightsSeen + leaning(stay, { thorough: 0.4, urgent: -0.3 })),
    )
  )
    return undefined
  const links = visit.all(isNightLink)
  const link = links[Math.min(links.length - 1, Math.floor(links.length * dice.roll('which') ** 1.7))]!
  const phone = visit.visitor.device !== 'desktop'
  const strength = nightsSeen === 0 ? trouble(stay, 'deadPicture', 'nights') : 0
  if (strength && dice.chance('picture-first', likely((phone ? -0.2 : -0.9) + 0.5 * mind.habit))) {
    visit.met.add('deadPicture')
    pressInVain(stay, 'picture', pictureOf(stay, link, /li\.night(:nth-of-type\(\d+\))?/))
    if (givesUp(stay, 'deadPicture', strength, -0.9)) return undefined
  }
  visit.press(link, 'navigate')
  return link.href
}

/** The picture in the entry of a list that a link belongs to. */
export function pictureOf({ visit }: Stay, link: MeasuredElement, entry: RegExp): MeasuredElement {
  const night = entry.exec(link.selector)![0]
  return visit.element(
    ({ selector }) => selector.includes(`${night} >`) && /-picture\S* > svg$/.test(selector),
  )
}

function isNightLink({ tag, selector }: MeasuredElement): boolean {
  return tag === 'a' && /li\.night.* > h2 > a$/.test(selector)
}

/** Looks for another month. False where the visitor gives up over the arrows. */
function pickMonth(stay: Stay): boolean {
  const { visit } = stay
  const { dice } = visit
  const arrow = () =>
    visit.element(({ selector, text }) => selector.includes('button.arrow') && text === 'Later month')
  const picker = visit.element(({ selector }) => /month-picker\S*$/.test(selector))
  const turns = dice.whole('months-on', 1, 2)
  for (let turn = 0; turn < turns; turn++) {
    if (!missArrow(stay, 'months', arrow(), picker)) return false
    visit.press(arrow(), 'change')
    visit.play(`month:${turn}>${turn + 1}`)
    visit.wait(dice.time('after-month', 1200))
  }
  return true
}

/** Hits beside a button that is too small. False where the visitor gives up over it. */
function missArrow(stay: Stay, spot: string, arrow: MeasuredElement, around: MeasuredElement): boolean {
  const { visit, mind } = stay
  const { dice } = visit
  const strength = trouble(stay, 'tinyArrows', spot)
  if (!strength || !dice.chance('misses', likely(0.6 - 0.7 * mind.skill))) return true
  visit.met.add('tinyArrows')
  visit.aim(arrow)
  const beside = {
    rx: within((arrow.x + arrow.w / 2 + 9 + 5 * dice.normal('miss-x') - around.x) / around.w),
    ry: within((arrow.y + arrow.h / 2 + 8 + 3 * dice.normal('miss-y') - around.y) / around.h),
  }
  pressInVain(stay, 'arrow', around, beside)
  if (visit.visitor.device !== 'desktop' && dice.chance('zooms', 0.2))
    visit.gesture('zoom', around, beside, { by: 1.6, scale: 1.6 })
  return !givesUp(stay, 'tinyArrows', strength, -1)
}

export function atNight(stay: Stay): Next {
  const { visit, mind, intent } = stay
  const { dice } = visit
  const path = visit.path
  const seen = ++stay.nightsSeen
  weatherBox(stay)
  visit.read(0.3, 0.7)
  if (!leafThrough(stay)) return undefined
  visit.read(0.3 + 0.4 * dice.roll('interest'), 0.6)
  clickText(stay)
  if (dice.chance('asks-weather', 0.12)) {
    visit.press(
      visit.element(({ tag }) => tag === 'summary'),
      'change',
    )
    visit.play('guarantee')
    visit.wait(dice.time('guarantee', 6000))
  }
  if (dice.chance('compares', 0.12)) visit.away(dice.time('elsewhere', 40_000, 0.9))
  wavers(stay)
  if (stay.scenario.causes.letters && dice.chance('by letter', 0.06)) return follow(visit, '/contact')
  const button = visit.element(({ selector }) => selector.endsWith('a.button'))
  const strength = trouble(stay, 'belowFold', 'night')
  if (strength && !visit.inView(button)) {
    visit.met.add('belowFold')
    if (givesUp(stay, 'belowFold', strength, -0.6)) return undefined
  }
  const phone = visit.visitor.device === 'mobile'
  const wish = intent === 'book' ? 0 : -3
  const eager = stay.scenario.mix.eagerBooks * mind.eager
  if (
    dice.chance(
      'books',
      likely(
        wish - 0.55 + 0.9 * eager - (phone ? 0.3 : 0) + 0.25 * (seen - 1) + leaning(stay, { budget: 0.6 }),
      ),
    )
  ) {
    visit.press(button, 'navigate')
    return `${path.replace('/nights/', '/book/')}/party`
  }
  if (seen < MOST_NIGHTS && dice.chance('looks-on', 0.45)) return follow(visit, '/nights')
  return undefined
}

/** Looks through the pictures, quickly, for the fun of it: a decoy. False where somebody gives up over tiny buttons. */
function leafThrough(stay: Stay): boolean {
  const { visit, mind } = stay
  const { dice } = visit
  const strength = trouble(stay, 'tinyArrows', 'gallery')
  const often = decoy(stay, 'galleryClicks')
  const leafs = dice.chance('leafs', Math.min(0.9, 0.9 * (often || 1) * likely(-1.2 + 0.7 * mind.habit)))
  if (!leafs || (!often && !strength)) return true
  const on = visit.element(
    ({ selector, text }) => selector.includes('button.turn') && text === 'Next picture',
  )
  const gallery = visit.element(({ selector }) => /div\.gallery\S*$/.test(selector))
  if (!missArrow(stay, 'gallery', on, gallery)) return false
  if (!often) return true
  visit.met.add('galleryClicks')
  const at = visit.aim(on)
  if (visit.visitor.device === 'mobile' && dice.chance('swipes', 0.4))
    visit.gesture('swipe', gallery, { rx: 0.7, ry: 0.4 }, { to: 'left' })
  const pictures = dice.whole('pictures', 2, 8)
  for (let i = 1; i <= pictures; i++) {
    visit.click(on, at, 'change')
    visit.play(`picture:${i % GALLERY}`)
    visit.wait(dice.time('leaf', 380, 0.5))
  }
  return true
}
