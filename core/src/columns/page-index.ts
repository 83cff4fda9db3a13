import type { Columns } from './block.ts'
import type { DenseBlock } from './dense-block.ts'
import { KIND_CODE } from './event-codes.ts'
import type { Codes } from './layout.ts'

/** Of one page in the postings: the first view in each session, further views, all else. */
const PLACES = 3

/** What is counted of a block before its memory is laid out. */
export interface PageCounts {
  /** pages on which anything happened */
  pages: number
  /** by page code × PLACES + place how many events belong there */
  happened: Uint32Array
  sessionOf: Uint32Array
}

/** Counts the events of each page, by place. */
export function countPages(dense: DenseBlock): PageCounts {
  const { kind, page, count } = dense.events
  const sessionOf = sessionsOf(dense)
  let highest = 0
  for (let i = 0; i < count; i++) if (page[i]! > highest) highest = page[i]!
  const happened = new Uint32Array(PLACES * (highest + 1))
  const placeOf = placer(kind, page, highest + 1, sessionOf)
  for (let i = 0; i < count; i++) happened[placeOf(i)]!++
  let pages = 0
  for (let at = 0; at < happened.length; at += PLACES) if (anyAt(happened, at)) pages++
  return { pages, happened, sessionOf }
}

/** Tells where an event belongs, as its page × PLACES + 0, 1 or 2; asked about page views in order of time. */
function placer(
  kind: ArrayLike<number>,
  page: ArrayLike<number>,
  pageCodes: number,
  sessionOf: Uint32Array,
): (event: number) => number {
  /** by page the session that viewed it last, plus 1 */
  const seenIn = new Uint32Array(pageCodes)
  return (event) => {
    const code = page[event]!
    if (kind[event] !== KIND_CODE.page) return code * PLACES + 2
    const before = seenIn[code]!
    seenIn[code] = sessionOf[event]! + 1
    return code * PLACES + (before === seenIn[code] ? 1 : 0)
  }
}

/** By event the session it is of. */
function sessionsOf({ sessions, events }: DenseBlock): Uint32Array {
  const sessionOf = new Uint32Array(events.count)
  for (let s = 0; s < sessions.count; s++)
    sessionOf.fill(s, sessions.firstEvent[s], sessions.firstEvent[s + 1])
  return sessionOf
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
  { happened, sessionOf }: PageCounts,
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
  const { kind, page, target } = events
  const placeOf = placer(kind, page, happened.length / PLACES, sessionOf)
  const put = (i: number) => {
    const at = next[placeOf(i)]!++
    postings.event[at] = i
    postings.session[at] = sessionOf[i]!
  }
  // Views have no targets: they are put where they belong at once. All else is sorted by target, then by kind, then by
  // page; each of these sorts keeps the order of equals.
  const others = new Uint32Array(events.count)
  let n = 0
  for (let i = 0; i < events.count; i++)
    if (kind[i] === KIND_CODE.page) put(i)
    else others[n++] = i
  const byKind = ordered(ordered(others.subarray(0, n), target), kind)
  for (let j = 0; j < n; j++) put(byKind[j]!)
}

/** Some events by a code that each has, those with the same in the order given. */
function ordered(list: Uint32Array, codes: Codes): Uint32Array {
  let most = 0
  for (let j = 0; j < list.length; j++) if (codes[list[j]!]! > most) most = codes[list[j]!]!
  const place = new Uint32Array(most + 2)
  for (let j = 0; j < list.length; j++) place[codes[list[j]!]! + 1]!++
  for (let code = 0; code <= most; code++) place[code + 1]! += place[code]!
  const sorted = new Uint32Array(list.length)
  for (let j = 0; j < list.length; j++) sorted[place[codes[list[j]!]!]!++] = list[j]!
  return sorted
}
