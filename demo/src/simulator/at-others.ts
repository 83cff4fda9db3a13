import { QUESTIONS } from '../site/content/help.ts'
import { itemBySlug } from '../site/content/hire.ts'
import type { MembershipSlug } from '../site/content/memberships.ts'
import { MEMBERSHIPS } from '../site/content/memberships.ts'
import { QUERIES, search } from '../site/sections/reading.ts'
import { buttonOf, phoneWithSpaces, sendForm } from './at-booking.ts'
import { pictureOf } from './at-nights.ts'
import type { Next, Stay } from './stay.ts'
import { clickText, decoy, follow, givesUp, leaning, likely, pressInVain, trouble } from './stay.ts'

const MOST_ITEMS = 3
/** A night that is booked by letter, in the site’s currency. */
const LETTER_WORTH = 60
const MOST_ARTICLES = 6

export function atHire(stay: Stay): Next {
  const { visit, mind, itemsSeen } = stay
  const { dice } = visit
  visit.wait(dice.time('look-hire', 2500))
  visit.read(0.4 + 0.5 * dice.roll('hire-far'), 0.4)
  if (
    !dice.chance(
      'likes-item',
      likely(1 + 0.6 * mind.eager - 0.4 * itemsSeen + leaning(stay, { urgent: -0.3 })),
    )
  )
    return undefined
  const links = visit.all(({ tag, selector }) => tag === 'a' && /li\.item.* > h2 > a$/.test(selector))
  const link = links[Math.floor(links.length * dice.roll('which-item') ** 1.5)]!
  const strength = itemsSeen === 0 ? trouble(stay, 'deadPicture', 'hire') : 0
  if (strength && dice.chance('item-picture-first', likely(-0.5 + 0.5 * mind.habit))) {
    visit.met.add('deadPicture')
    pressInVain(stay, 'picture', pictureOf(stay, link, /li\.item(:nth-of-type\(\d+\))?/))
    if (givesUp(stay, 'deadPicture', strength, -0.9)) return undefined
  }
  visit.press(link, 'navigate')
  return link.href
}

export function atItem(stay: Stay): Next {
  const { visit, mind, intent } = stay
  const { dice } = visit
  const seen = ++stay.itemsSeen
  visit.wait(dice.time('look-item', 2000))
  const between = seen < MOST_ITEMS ? trouble(stay, 'shuttle', 'hire') : 0
  if (between && dice.chance('wavers-items', 0.4)) {
    visit.met.add('shuttle')
    if (givesUp(stay, 'shuttle', between, -0.9)) return undefined
    return follow(visit, '/hire')
  }
  const button = buttonOf(stay)
  const strength = trouble(stay, 'belowFold', 'hire')
  if (strength && !visit.inView(button)) {
    visit.met.add('belowFold')
    visit.read(0.12, 0.6)
    if (givesUp(stay, 'belowFold', strength, -0.1)) return undefined
  }
  visit.read(0.6, 0.6)
  clickText(stay)
  const wish = intent === 'hire' ? 0 : -2.5
  const eager = stay.scenario.mix.eagerBooks * mind.eager
  if (!dice.chance('hires', likely(wish - 0.5 + 0.8 * eager + leaning(stay, { budget: 0.6 })))) {
    return seen < MOST_ITEMS && dice.chance('more-items', 0.4) ? follow(visit, '/hire') : undefined
  }
  const nights = dice.pick('hire-nights', [
    [1, 40],
    [2, 34],
    [3, 14],
    [7, 12],
  ])
  visit.type('#hire-from', 10, 0)
  if (nights > 1) visit.type('#hire-nights', 1, 1)
  visit.type('#hire-name', dice.whole('name-length', 8, 19), 0)
  if (dice.chance('stops-hire', likely(-2.2 - 0.4 * mind.eager))) return undefined
  visit.type('#hire-phone', dice.whole('phone-length', 9, 14), 0)
  if (!phoneWithSpaces(stay, '#hire', '#hire-phone', 'hire')) return undefined
  if (!sendForm(stay, '#hire', 'hire')) return undefined
  stay.converted = { kind: 'hire', value: itemBySlug(visit.path.split('/')[2]!)!.price * nights }
  return '/hire/reserved'
}

export function atMembership(stay: Stay): Next {
  const { visit, mind, intent } = stay
  const { dice } = visit
  const kind = visit.path.split('/')[2] as MembershipSlug
  const other = `/membership/${kind === 'monthly' ? 'yearly' : 'monthly'}`
  visit.read(0.8, 0.5)
  const strength = trouble(stay, 'shuttle', 'membership')
  if (dice.chance('compares-kinds', strength ? 0.62 : 0.2)) {
    if (strength) {
      visit.met.add('shuttle')
      if (givesUp(stay, 'shuttle', strength, -1.5)) return undefined
    }
    return follow(visit, other)
  }
  const eager = stay.scenario.mix.eagerBooks * mind.eager
  if (!dice.chance('joins', likely((intent === 'member' ? -0.3 : -3) + 0.8 * eager))) return undefined
  visit.type('#join-name', dice.whole('name-length', 8, 19), 0)
  visit.type('#join-mail', dice.whole('mail-length', 14, 27), 0)
  const button = buttonOf(stay)
  visit.press(button, 'navigate')
  visit.submit('#join', button)
  stay.converted = { kind: 'membership', value: MEMBERSHIPS[kind].worth }
  return '/membership/welcome'
}

export function atArticles(stay: Stay): Next {
  const { visit, mind } = stay
  const { dice } = visit
  visit.read(0.5, 0.5)
  if (!dice.chance('likes-article', 0.8)) return undefined
  const links = visit.all(({ tag, selector }) => tag === 'a' && / > h2 > a$/.test(selector))
  const link = links[Math.floor(links.length * dice.roll('which-article') ** 1.8)]!
  const strength = trouble(stay, 'deadPicture', 'articles')
  if (strength && dice.chance('article-picture-first', likely(-0.5 + 0.5 * mind.habit))) {
    visit.met.add('deadPicture')
    pressInVain(stay, 'picture', pictureOf(stay, link, /ul\.articles > li(:nth-of-type\(\d+\))?/))
    if (givesUp(stay, 'deadPicture', strength, -0.9)) return undefined
  }
  visit.press(link, 'navigate')
  return link.href
}

export function atArticle(stay: Stay): Next {
  const { visit, intent } = stay
  const { dice } = visit
  const seen = ++stay.articlesSeen
  const often = decoy(stay, 'longReading')
  if (often) visit.met.add('longReading')
  visit.read(0.35 + 0.65 * dice.roll('how-much') ** 0.7, often ? 0.9 * Math.min(1.6, often ** 0.5) : 0.3)
  clickText(stay)
  if (dice.chance('put aside', 0.12)) visit.away(dice.time('aside', 180_000, 1.1))
  if (seen < MOST_ARTICLES && dice.chance('reads-on', 0.32)) {
    const next = visit.element(({ selector }) => /p\.read-on\S* > a$/.test(selector))
    visit.press(next, 'navigate')
    return next.href
  }
  if (dice.chance('comes-round', intent === 'read' ? 0.05 : 0.25)) {
    visit.press(
      visit.element(({ selector }) => selector.endsWith('a.to-nights')),
      'navigate',
    )
    return '/nights'
  }
  return undefined
}

export function atHelp(stay: Stay): Next {
  const { visit } = stay
  const { dice } = visit
  visit.read(0.5, 0.4)
  for (let i = dice.whole('questions', 1, 3); i > 0; i--) {
    const { id } = QUESTIONS[Math.floor(dice.roll('question') ** 1.6 * QUESTIONS.length)]!
    visit.press(visit.element(`#${id} > summary`), 'change')
    visit.play(`question:${id}`)
    visit.wait(dice.time('answer', 9000, 0.6))
  }
  if (dice.chance('asks', 0.2)) return follow(visit, '/contact')
  return dice.chance('back to nights', 0.2) ? follow(visit, '/nights') : undefined
}

export function atContact(stay: Stay): Next {
  const { visit } = stay
  const { dice } = visit
  clickText(stay)
  if (!dice.chance('writes', 0.6)) return undefined
  visit.type('#contact-mail', dice.whole('mail-length', 14, 27), 0)
  visit.type('#contact-text', dice.whole('question-length', 60, 160), 2)
  const button = buttonOf(stay)
  visit.press(button, 'navigate')
  visit.submit('#contact', button)
  const { intent, scenario } = stay
  if (scenario.causes.letters && (intent === 'book' || intent === 'hire'))
    stay.converted = { kind: 'letter', value: LETTER_WORTH }
  return '/contact/sent'
}

export function atLanding(stay: Stay): Next {
  const { visit, mind } = stay
  const { dice } = visit
  visit.read(0.7, 0.5)
  if (!dice.chance('landing-on', likely(0.6 + 0.7 * mind.eager))) return undefined
  const name = visit.path.slice(1)
  const button = visit.element(({ selector }) => selector.endsWith('a.button'))
  visit.press(button, 'navigate')
  if (trouble(stay, 'brokenLink', name)) {
    visit.met.add('brokenLink')
    return '/nights/midwinter-special'
  }
  // Where the link is whole it leads to what it promises.
  return name === 'winter' ? '/nights/winter-hexagon' : '/nights'
}

export function atNotFound(stay: Stay): Next {
  const { visit } = stay
  visit.wait(visit.dice.time('reads-404', 4000))
  if (givesUp(stay, 'brokenLink', stay.scenario.faults.brokenLink.strength, 0.1)) return undefined
  visit.press(
    visit.element(({ selector }) => selector.endsWith('a.to-nights')),
    'navigate',
  )
  return '/nights'
}

/** Some look for a word before anything else. Undefined where this visitor does not. */
export function searchFirst(stay: Stay): Next {
  const { visit, intent } = stay
  const { dice } = visit
  if (stay.searched || !dice.chance('searches', 0.09)) return undefined
  stay.searched = true
  const kind = intent === 'book' || intent === 'hire' || intent === 'read' ? intent : 'other'
  const words = dice.chance('finds', 0.5) ? QUERIES.found[kind] : QUERIES.nothing[kind]
  visit.type('#find', words.length, 0)
  const button = visit.element(({ tag, text }) => tag === 'button' && text === 'Find')
  visit.press(button, 'navigate')
  return `/search?${new URLSearchParams({ q: words }).toString()}`
}

export function atSearch(stay: Stay, address: string): Next {
  const { visit, intent } = stay
  const { dice } = visit
  visit.wait(dice.time('looks-found', 2500))
  const found = search(new URLSearchParams(address.split('?')[1]).get('q')!)
  if (found.length) {
    const link = visit.all(({ tag, selector }) => tag === 'a' && /ul\.found/.test(selector))[0]!
    visit.press(link, 'navigate')
    return link.href!.split('#')[0]
  }
  const strength = trouble(stay, 'deadEndSearch', intent === 'hire' ? 'hire' : 'book')
  if (strength) {
    visit.met.add('deadEndSearch')
    if (givesUp(stay, 'deadEndSearch', strength, 0.3)) return undefined
  }
  return follow(visit, intent === 'hire' ? '/hire' : intent === 'read' ? '/articles' : '/nights')
}
