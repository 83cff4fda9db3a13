import type { Columns } from './block.ts'
import { KIND_CODE } from './event-codes.ts'
import type { Codes } from './layout.ts'
import { Scratch } from './scratch.ts'

/** Looked up once: for every event it would be read anew. */
const PAGE = KIND_CODE.page

/** Of one page in the postings: the first view in each session, further views, all else. */
const PLACES = 3

/** What of a block must be known to index it: in which order its events came, of what kind, on which page. */
export interface Indexed {
  sessions: { count: number; firstEvent: Uint32Array }
  events: { count: number; kind: Uint8Array; page: Uint32Array }
}

/** What is counted of a block before its memory is laid out. Valid until the next block is counted. */
export interface PageCounts {
  /** pages on which anything happened */
  pages: number
  /** by page code × PLACES + place how many events belong there */
  happened: Uint32Array
  /** by event its page code × PLACES + place */
  placeOf: Uint32Array
  sessionOf: Uint32Array
  /** room for lists of events while they are sorted */
  room: [Uint32Array, Uint32Array]
}

/** What is needed while one block is indexed. */
const scratch = new Scratch((rows) => ({
  placeOf: new Uint32Array(rows),
  sessionOf: new Uint32Array(rows),
  others: new Uint32Array(rows),
  sorted: new Uint32Array(rows),
}))

/** Counts the events of each page, by place. */
export function countPages({ sessions, events }: Indexed): PageCounts {
  const { kind, page, count } = events
  const { firstEvent } = sessions
  const { placeOf, sessionOf, others, sorted } = scratch.lend(count)
  let highest = 0
  for (let i = 0; i < count; i++) if (page[i]! > highest) highest = page[i]!
  const happened = new Uint32Array(PLACES * (highest + 1))
  /** by page the session that viewed it last, plus 1 */
  const seenIn = new Uint32Array(highest + 1)
  for (let s = 0; s < sessions.count; s++)
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      const code = page[i]!
      let place = code * PLACES + 2
      if (kind[i] === PAGE) {
        place -= seenIn[code] === s + 1 ? 1 : 2
        seenIn[code] = s + 1
      }
      happened[place]!++
      placeOf[i] = place
      sessionOf[i] = s
    }
  let pages = 0
  for (let at = 0; at < happened.length; at += PLACES) if (anyAt(happened, at)) pages++
  return { pages, happened, placeOf, sessionOf, room: [others, sorted] }
}

function anyAt(happened: Uint32Array, at: number): boolean {
  return happened[at]! + happened[at + 1]! + happened[at + 2]! > 0
}

/**
 * Fills the index of what happened on which page: within a page the first view of each session, further views, then all
 * else by kind and target; what is alike in these lies in order of time. Complexity: events.
 */
export function fillPageIndex(
  { events, pages, postings }: Columns,
  { happened, placeOf, sessionOf, room: [others, sorted] }: PageCounts,
): void {
  /** where the next of them goes in postings */
  const next = new Uint32Array(happened.length)
  let first = 0
  let k = 0
  for (let at = 0; at < happened.length; at += PLACES) {
    if (!anyAt(happened, at)) continue
    pages.page[k] = at / PLACES
    pages.first[k] = next[at] = first
    pages.again[k] = next[at + 1] = first += happened[at]!
    pages.other[k++] = next[at + 2] = first += happened[at + 1]!
    first += happened[at + 2]!
  }
  pages.first[k] = first
  const { kind, target, count } = events
  // Views have no targets: they are put where they belong at once. All else is sorted by target, then by kind, then by
  // page; each of these sorts keeps the order of equals.
  let n = 0
  for (let i = 0; i < count; i++) {
    if (kind[i] !== PAGE) others[n++] = i
    else {
      const at = next[placeOf[i]!]!++
      postings.event[at] = i
      postings.session[at] = sessionOf[i]!
    }
  }
  order(others, n, target, sorted)
  order(sorted, n, kind, others)
  for (let j = 0; j < n; j++) {
    const i = others[j]!
    const at = next[placeOf[i]!]!++
    postings.event[at] = i
    postings.session[at] = sessionOf[i]!
  }
}

/** Some events by a code that each has, those with the same in the order given. */
function order(list: Uint32Array, n: number, codes: Codes, into: Uint32Array): void {
  let most = 0
  for (let j = 0; j < n; j++) if (codes[list[j]!]! > most) most = codes[list[j]!]!
  const place = new Uint32Array(most + 2)
  for (let j = 0; j < n; j++) place[codes[list[j]!]! + 1]!++
  for (let code = 0; code <= most; code++) place[code + 1]! += place[code]!
  for (let j = 0; j < n; j++) into[place[codes[list[j]!]!]!++] = list[j]!
}
