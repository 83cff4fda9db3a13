import { search } from '../site/sections/reading.ts'
import { atDetails, atParty, atPayment } from './at-booking.ts'
import { atHome, atNight, atNights } from './at-nights.ts'
import {
  atArticle,
  atArticles,
  atContact,
  atHelp,
  atHire,
  atItem,
  atLanding,
  atMembership,
  atNotFound,
  atSearch,
  searchFirst,
} from './at-others.ts'
import type { Next, Stay } from './stay.ts'
import { givesUp, trouble } from './stay.ts'
import { Left } from './visit.ts'

const MOST_PAGES = 40
const SLOW_MS = 5200

/** Lives one session from landing to leaving. */
export function live(stay: Stay, landing: string): void {
  const { visit } = stay
  let address: Next = landing
  try {
    for (let page = 0; address !== undefined && page < MOST_PAGES; page++) {
      if (!arrive(stay, address)) {
        visit.leave(false)
        return
      }
      address = (page === 0 && searchFirst(stay)) || act(stay, address)
      if (address === undefined && stay.around) {
        stay.around = false
        address = '/nights'
      }
    }
  } catch (error) {
    if (!(error instanceof Left)) throw error
  }
  visit.leave()
}

/** Hours of reading with long breaks in between, none long enough to end the session. */
export function liveLong(stay: Stay, ms: number): void {
  const { visit } = stay
  const start = visit.nowMs
  let article = '/articles/how-dark-is-dark'
  while (visit.nowMs - start < ms) {
    visit.open(article)
    visit.read(1, 1)
    visit.away(visit.dice.time('long break', 14 * 60_000, 0.2))
    article = visit.element(({ selector }) => /p\.read-on\S* > a$/.test(selector)).href!
  }
  visit.leave()
}

/** Opens a page. False where the visitor leaves before it is there. */
function arrive(stay: Stay, address: string): boolean {
  const { visit } = stay
  const [path, query] = address.split('?') as [string, string?]
  const slow = trouble(stay, 'slowPage', kindOf(path))
  const words = path === '/search' ? new URLSearchParams(query).get('q')! : undefined
  visit.open(path.endsWith('/party') ? `${path}?party=${visit.visitor.party}` : address, {
    ...(slow && { loadMs: visit.dice.time('slow', SLOW_MS, 0.35) }),
    ...(words !== undefined && { results: search(words).length }),
  })
  if (!slow) return true
  visit.met.add('slowPage')
  return !givesUp(stay, 'slowPage', slow, -1.9)
}

function kindOf(path: string): string {
  if (path === '/nights') return 'nights'
  if (path.startsWith('/nights/')) return 'night'
  return path.startsWith('/hire/') ? 'item' : path
}

function act(stay: Stay, address: string): Next {
  const { path } = stay.visit
  switch (path) {
    case '/':
      return atHome(stay)
    case '/nights':
      return atNights(stay)
    case '/nights/midwinter-special':
      return atNotFound(stay)
    case '/hire':
      return atHire(stay)
    case '/articles':
      return atArticles(stay)
    case '/help':
      return atHelp(stay)
    case '/contact':
      return atContact(stay)
    case '/search':
      return atSearch(stay, address)
    case '/winter':
    case '/gift':
      return atLanding(stay)
    case '/booked':
    case '/hire/reserved':
    case '/membership/welcome':
    case '/contact/sent':
      return atEnd(stay)
  }
  if (path.startsWith('/nights/')) return atNight(stay)
  if (path.endsWith('/party')) return atParty(stay)
  if (path.endsWith('/details')) return atDetails(stay)
  if (path.endsWith('/payment')) return atPayment(stay)
  if (path.startsWith('/hire/')) return atItem(stay)
  if (path.startsWith('/membership/')) return atMembership(stay)
  if (path.startsWith('/articles/')) return atArticle(stay)
  throw new RangeError(`nobody knows what to do at ${path}`)
}

function atEnd({ visit, converted }: Stay): Next {
  const names = {
    ...{ night: 'night booked', hire: 'instrument reserved', membership: 'member joined' },
    letter: 'booked by letter',
  }
  if (converted)
    visit.report('action', { name: names[converted.kind], value: converted.value, currency: 'EUR' })
  visit.read(1, 0.6)
  return undefined
}
