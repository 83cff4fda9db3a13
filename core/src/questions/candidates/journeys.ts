import type { Block } from '../../columns/block.ts'
import { amountAt, numberAt, propsRange } from '../../columns/block.ts'
import { FRICTION_BIT, KIND_CODE, TRAIT_BIT } from '../../columns/event-codes.ts'
import { EFFECTS } from '../../events/line.ts'
import { couldNotBeShown } from '../../events/page-status.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import type { Names } from '../../labels/names.ts'
import { GrowingNumbers } from '../../stats/growing-numbers.ts'
import { eachView } from '../../columns/each-view.ts'

/** Bits of `did`: what an act was and what went wrong in its wake. */
export const DID = {
  /** a click that did something, or of which nothing is known */
  worked: 1,
  /** a click that did nothing */
  dead: 2,
  near: 4,
  /** an error, a failed request, a freeze, a form that was refused in its wake */
  error: 8,
  request: 16,
  freeze: 32,
  refused: 64,
  /** a field was filled in; again and again */
  filled: 128,
  corrected: 256,
  /** what the site itself reports */
  told: 512,
  /** a call to action came into view; on the way to a click on it */
  seen: 1024,
  onTheWay: 2048,
  /** the act has no element: it befell the page */
  ofPage: 4096,
  /** a field was left with nothing in it */
  leftEmpty: 8192,
  /** one of many quick clicks of which nothing is known but that */
  raged: 16384,
  /** a click that was answered late */
  answeredLate: 32768,
  /** the page was scrolled down and up again and again; it was enlarged */
  combed: 65536,
  zoomed: 131072,
  /** a click into a field, which does nothing else: what goes wrong may come of it all the same */
  intoField: 262144,
} as const
/** What went wrong. */
export const TROUBLE =
  DID.dead | DID.raged | DID.near | DID.error | DID.request | DID.freeze | DID.refused | DID.told

/** Signs of looking, and of being about to do something: nothing is done yet. */
export const LOOKING = DID.seen | DID.onTheWay | DID.combed | DID.zoomed | DID.intoField

/** What comes of a click after it. */
const COMES_LATER = DID.error | DID.request | DID.freeze | DID.refused

/** Bits of `state` of a view; `openEnd`: nothing tells when it was left; `navigated`: loaded anew, not by the back button. */
export const STATE = { notFound: 1, noResults: 2, slow: 4, openEnd: 8, navigated: 16 } as const

/** From an act to what it brought about. */
const WAKE_MS = 3000
const SUBMIT_WAKE_MS = 10_000
/** An answer that takes longer is late: what is usual of pages (thresholds.ts). */
export const LATE_MS = 4000
/** Requests under way end when the page is left: none is told later than this before it. */
const CUT_OFF_MS = 500
/** What comes into view within this was there from the start. */
export const AT_ONCE_MS = 2500
/** Scrolling shortly before a click is the way to that click, not reading. */
const ON_THE_WAY_MS = 1400
/** The same page again at once is the same view, counted twice. */
const SAME_VIEW_MS = 1000

const SESSION = [
  ...['id', 'startMs', 'visitor', 'device', 'height', 'browser', 'channel', 'campaign', 'returning'],
  ...['views', 'wonMs'],
] as const
const VIEW = ['group', 'page', 'atMs', 'endMs', 'loadMs', 'state', 'acts'] as const
const ACT = ['atMs', 'family', 'did', 'name', 'lateMs', 'answeredMs'] as const

type Table<Column extends string, Values> = Record<Column, Values>

/** What sessions did, view by view and act by act, as pricing needs it: rows of sessions, then of their views, then of these' acts. */
export interface JourneysOf<Values> {
  sessions: Table<
    | 'id'
    | 'startMs'
    | 'visitor'
    | 'device'
    /** of its screen, CSS px; 0 where it is not known */
    | 'height'
    | 'browser'
    | 'channel'
    | 'campaign'
    | 'returning'
    /** how many views it has */
    | 'views'
    /** when it converted first, ms since its start; Infinity where it did not */
    | 'wonMs',
    Values
  >
  /** times in ms since the start of the session; `acts`: how many it has */
  views: Table<(typeof VIEW)[number], Values>
  /**
   * `lateMs`: so long after it the first sign of what went wrong was there, in ms; 0 where it was part of it, or none came;
   * `answeredMs`: so long after it a request that it brought about was answered, in ms; 0 where none is told
   */
  acts: Table<(typeof ACT)[number], Values>
}
export type Growing = JourneysOf<GrowingNumbers>
export type Journeys = JourneysOf<Float64Array>

const tableOf = <Column extends string, Values>(columns: readonly Column[], make: () => Values) =>
  Object.fromEntries(columns.map((column) => [column, make()])) as Table<Column, Values>

export function noJourneys(): Growing {
  const make = () => new GrowingNumbers()
  return {
    sessions: tableOf(SESSION, make),
    views: tableOf(VIEW, make),
    acts: tableOf(ACT, make),
  }
}

export function packJourneys(growing: Growing): Journeys {
  return eachColumn((table, column) =>
    (growing as unknown as Tables<GrowingNumbers>)[table]![column]!.values(),
  )
}

export function joinJourneys(a: Journeys, b: Journeys): Journeys {
  return eachColumn((table, column) => {
    const [one, two] = [a, b].map(
      (journeys) => (journeys as unknown as Tables<Float64Array>)[table]![column]!,
    )
    const both = new Float64Array(one!.length + two!.length)
    both.set(one!)
    both.set(two!, one!.length)
    return both
  })
}

/** The same journeys in order of the sessions’ start, then of their id: threads hand them over in any order. */
export function inOrder(journeys: Journeys): Journeys {
  const { sessions, views, acts } = journeys
  const firstView = startsOf(sessions.views)
  const firstAct = startsOf(views.acts)
  const order = Uint32Array.from(sessions.id, (_, s) => s).sort(
    (a, b) => sessions.startMs[a]! - sessions.startMs[b]! || sessions.id[a]! - sessions.id[b]!,
  )
  const places = {
    sessions: order,
    views: new Uint32Array(views.group.length),
    acts: new Uint32Array(acts.atMs.length),
  }
  let [v, a] = [0, 0]
  for (const s of order)
    for (let view = firstView[s]!; view < firstView[s + 1]!; view++) {
      places.views[v++] = view
      for (let act = firstAct[view]!; act < firstAct[view + 1]!; act++) places.acts[a++] = act
    }
  return eachColumn((table, column) => {
    const from = (journeys as unknown as Tables<Float64Array>)[table]![column]!
    const place = places[table as keyof typeof places]
    const to = new Float64Array(place.length)
    for (let i = 0; i < to.length; i++) to[i] = from[place[i]!]!
    return to
  })
}

/** Where the rows of each begin, and after the last one where they end. */
export function startsOf(counts: Float64Array): Uint32Array {
  const starts = new Uint32Array(counts.length + 1)
  for (let i = 0; i < counts.length; i++) starts[i + 1] = starts[i]! + counts[i]!
  return starts
}

type Tables<Values> = Record<string, Record<string, Values>>

function eachColumn(make: (table: string, column: string) => Float64Array): Journeys {
  const all = { sessions: SESSION, views: VIEW, acts: ACT } as const
  return Object.fromEntries<unknown>(
    Object.entries(all).map(([table, columns]) => [
      table,
      Object.fromEntries(columns.map((column) => [column, make(table, column)])),
    ]),
  ) as unknown as Journeys
}

const SIGNAL_BIT: Record<string, number> = {
  'near miss': DID.near,
  'failing click': DID.error,
  'field trouble': DID.corrected,
}
const COMBING = SIGNAL_KINDS.indexOf('combing')
/** Turns of one stretch of combing lie within this. */
const COMBING_MS = 30_000
const NOTHING = EFFECTS.indexOf('none') + 1

/**
 * Adds one session: what it did on each view, and what went wrong.
 *
 * @param wonMs  when it first reached the goal, ms since its start; NaN where it did not
 */
export function addJourney(block: Block, s: number, names: Names, wonMs: number, onto: Growing): void {
  const { events, sessions, signals } = block
  const { groupOf } = names.groups
  const { familyOf } = names.families
  /** what signals say of the events with which they begin */
  const bits = new Map<number, number>()
  for (let g = sessions.firstSignal[s]!; g < sessions.firstSignal[s + 1]!; g++) {
    const [kind, event] = [signals.kind[g]!, signals.event[g]!]
    const bit = SIGNAL_BIT[SIGNAL_KINDS[kind]!]
    if (bit) bits.set(event, (bits.get(event) ?? 0) | bit)
    // Who is still there at its end has combed: its begin would be met by stayers alone.
    if (kind === COMBING) bits.set(lastScroll(block, event, sessions.firstEvent[s + 1]!), DID.combed)
  }
  const noResults = names.dictionaries.propKey.find('results')
  let viewCount = 0
  let lastPage = -1
  let lastAtMs = -Infinity
  let acts: Act[] = []
  let state = 0
  const close = (endMs: number, told = true) => {
    if (!viewCount) return
    onto.views.endMs.push(endMs)
    onto.views.state.push(told ? state : state | STATE.openEnd)
    onto.views.acts.push(acts.length)
    for (const act of acts) for (const column of ACT) onto.acts[column].push(act[column])
    acts = []
  }
  const sessionEnd = sessions.firstEvent[s + 1]!
  eachView(block, s, (event, end) => {
    const atMs = events.atMs[event]!
    const page = events.page[event]!
    const same = page === lastPage && atMs - lastAtMs <= SAME_VIEW_MS && !acts.length
    if (!same) {
      close(atMs)
      viewCount++
      const group = groupOf[page]!
      onto.views.group.push(group)
      onto.views.page.push(page)
      onto.views.atMs.push(atMs)
      onto.views.loadMs.push(amountAt(block, event))
      state =
        (couldNotBeShown(numberAt(block, event)) ? STATE.notFound : 0) |
        (events.friction[event]! & FRICTION_BIT.slow ? STATE.slow : 0) |
        (events.traits[event]! & TRAIT_BIT.navigated ? STATE.navigated : 0) |
        (noResults > 0 && hasNoResults(block, event, noResults) ? STATE.noResults : 0)
    }
    lastPage = page
    lastAtMs = atMs
    for (let i = event + 1; i < end; i++)
      addAct(block, i, { atMs, sessionEnd }, familyOf, bits.get(i) ?? 0, acts)
  })
  const last = sessions.firstEvent[s + 1]! - 1
  close(events.atMs[last]!, events.kind[last] === KIND_CODE.leave || events.kind[last] === KIND_CODE.hide)
  const row = onto.sessions
  row.id.push(sessions.id[s]!)
  row.startMs.push(sessions.startMs[s]!)
  row.visitor.push(sessions.visitor[s]!)
  row.device.push(sessions.device[s]!)
  row.height.push(sessions.height[s]!)
  row.browser.push(sessions.browser[s]!)
  row.channel.push(sessions.channel[s]!)
  row.campaign.push(sessions.campaign[s]!)
  row.returning.push(sessions.returning[s]!)
  row.views.push(viewCount)
  row.wonMs.push(Number.isNaN(wonMs) ? Infinity : wonMs)
}

function hasNoResults(block: Block, event: number, key: number): boolean {
  const [from, to] = propsRange(block, event)
  for (let p = from; p < to; p++) if (block.props.key[p] === key && block.props.number[p] === 0) return true
  return false
}

/** The last event of the scrolling that begins with one. */
function lastScroll({ events }: Block, event: number, end: number): number {
  let last = event
  for (let i = event + 1; i < end && events.atMs[i]! - events.atMs[event]! <= COMBING_MS; i++) {
    if (events.kind[i] === KIND_CODE.page || events.kind[i] === KIND_CODE.click) break
    if (events.kind[i] === KIND_CODE.scroll) last = i
  }
  return last
}

interface Act {
  atMs: number
  family: number
  did: number
  name: number
  lateMs: number
  answeredMs: number
}
const UNTOLD = { lateMs: 0, answeredMs: 0 }

/** Whether the page is left within some time after an event. */
function isLeft({ events }: Block, i: number, end: number, withinMs: number): boolean {
  for (let k = i + 1; k < end && events.atMs[k]! - events.atMs[i]! <= withinMs; k++)
    if (events.kind[k] === KIND_CODE.leave || events.kind[k] === KIND_CODE.page) return true
  return false
}

function addAct(
  block: Block,
  i: number,
  { atMs: viewMs, sessionEnd }: { atMs: number; sessionEnd: number },
  familyOf: Uint32Array,
  bits: number,
  acts: Act[],
): void {
  const { events } = block
  const { kind, traits, effect } = events
  const atMs = events.atMs[i]!
  const family = familyOf[events.target[i]!]!
  const name = events.name[i]!
  const add = (did: number, of = family) => acts.push({ atMs, family: of, did: did | bits, name, ...UNTOLD })
  /** it came of the click before it, on the element that it names; or befell that element, or the page */
  const cameOf = (did: number, withinMs: number) => {
    const click =
      (family ? lastClick(acts, atMs - withinMs, family) : undefined) ?? lastClick(acts, atMs - withinMs)
    if (!click) acts.push({ atMs, family, did: family ? did : did | DID.ofPage, name, ...UNTOLD })
    else {
      if (!(click.did & COMES_LATER)) click.lateMs = atMs - click.atMs
      click.did |= did
    }
  }
  switch (kind[i]) {
    case KIND_CODE.click: {
      // What was there from the start was not scrolled by.
      const sinceMs = Math.max(viewMs + AT_ONCE_MS, atMs - ON_THE_WAY_MS)
      for (let a = acts.length - 1; a >= 0 && acts[a]!.atMs >= sinceMs; a--)
        if (acts[a]!.did & DID.seen) acts[a]!.did |= DID.onTheWay
      if (!effect[i] && events.friction[i]! & FRICTION_BIT.rage) add(DID.worked | DID.raged)
      else if (effect[i] !== NOTHING) add(DID.worked)
      else add(traits[i]! & TRAIT_BIT.field ? DID.intoField : DID.dead)
      return
    }
    case KIND_CODE.error:
      return cameOf(DID.error, WAKE_MS / 3)
    case KIND_CODE.request: {
      const status = numberAt(block, i)
      const ms = amountAt(block, i)
      // What is cut off as the page is left did not fail in the wake of a click.
      if (status === 0 && isLeft(block, i, sessionEnd, CUT_OFF_MS))
        acts.push({ atMs, family: 0, did: DID.request | DID.ofPage, name, ...UNTOLD })
      else if (status === 0 || status >= 400) cameOf(DID.request, WAKE_MS)
      else if (ms > 0) {
        // It is told when it was asked, or when it was answered. What asks again and again by itself follows no click.
        const click = family
          ? lastClick(acts, atMs - WAKE_MS - ms, family)
          : lastClick(acts, atMs - WAKE_MS / 3)
        if (!click) return
        click.answeredMs ||= Math.max(ms, atMs - click.atMs)
        if (ms >= LATE_MS) click.did |= DID.answeredLate
      }
      return
    }
    case KIND_CODE.scroll:
      if (bits & DID.combed) acts.push({ atMs, family: 0, did: DID.combed, name: 0, ...UNTOLD })
      return
    case KIND_CODE.gesture:
      if (traits[i]! & TRAIT_BIT.enlarged) acts.push({ atMs, family: 0, did: DID.zoomed, name: 0, ...UNTOLD })
      return
    case KIND_CODE.freeze:
      return cameOf(DID.freeze, WAKE_MS / 3)
    case KIND_CODE.submit:
      if (traits[i]! & TRAIT_BIT.refused) cameOf(DID.refused, SUBMIT_WAKE_MS)
      return
    case KIND_CODE.input:
      add(numberAt(block, i) === 0 ? DID.leftEmpty : DID.filled)
      return
    case KIND_CODE.signal:
      add(DID.told | (family ? 0 : DID.ofPage))
      return
    case KIND_CODE.seen:
      if (traits[i]! & TRAIT_BIT.interactive && !(traits[i]! & TRAIT_BIT.field)) add(DID.seen)
  }
}

function lastClick(acts: readonly Act[], sinceMs: number, family?: number): Act | undefined {
  for (let a = acts.length - 1; a >= 0 && acts[a]!.atMs >= sinceMs; a--)
    if (
      acts[a]!.did & (DID.worked | DID.dead | DID.intoField) &&
      (family === undefined || acts[a]!.family === family)
    )
      return acts[a]
  return undefined
}
