import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { SIGNAL_KINDS, signalTraits } from '../../events/signal-kinds.ts'
import { firstText } from '../../labels/first-text.ts'
import { eventWords } from '../../labels/event-words.ts'
import type { Names } from '../../labels/names.ts'
import { goalEvent } from '../../select/goal-times.ts'
import { equalParts } from '../../select/trend.ts'
import { addColumn } from '../../stats/counts.ts'
import { lowerBound } from '../../stats/lower-bound.ts'
import { countSchema, difference, differenceShape, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import type { Spot, WorstSpots } from './worst-spots.ts'
import { byName, eachSignal, keysOfSpots, kindName, spotKeys, worstSpots } from './worst-spots.ts'

/** What is known of a spot. */
interface SpotFound {
  /** index into SIGNAL_KINDS; beyond them into the site's own signals */
  kind: number
  group: number
  family: number
  text: string
  times: number
  sessions: number
  /** id of the session that met it last: each counts once */
  lastSession: number
  /** visitor of each of these sessions: a visitor may stand there several times */
  visitors: number[]
  /** sessions that converted after they met it */
  converted: number
  /** those of them that viewed the page, and of these those that converted after their first view of it */
  viewed: number
  viewedConverted: number
  firstMs: number
  lastMs: number
  /** part of the trend of each of these sessions */
  parts: number[]
}

interface FrictionFound {
  sessions: number
  /** by part of the trend */
  trend: Float64Array
  /** by key, see spotKeys */
  spots: Map<number, SpotFound>
  /** by page group: views, sessions that viewed it, and those that converted after their first view of it */
  views: Float64Array
  viewers: Float64Array
  won: Float64Array
  /** kinds of signal that the data could tell */
  told: Set<SignalKind>
}

/** A trend in a row of a table has no room for more. */
const MOST_PARTS = 14

const answerSchema = z.object({
  sessions: countSchema,
  parts: z
    .array(z.object({ startMs: z.number(), sessions: countSchema }))
    .describe('parts of the trend, as many whole days each but for the last'),
  spots: z.array(
    z.object({
      kind: z.enum(SIGNAL_KINDS),
      own: z.string().nullable().describe('a signal of the site’s own, by the name of its action'),
      technical: z.boolean(),
      page: z.string(),
      selector: z.string().describe('"" where the signal has no element'),
      text: z.string(),
      met: rateSchema.describe('sessions that met it, of all'),
      visitors: countSchema,
      times: countSchema,
      views: countSchema.describe('views of the page'),
      perThousandViews: z.number().nullable().describe('times for each 1,000 views of the page'),
      converted: rateSchema.describe('of the sessions that met it, those that converted afterwards'),
      others: rateSchema.describe('of those who viewed the page and did not meet it, after their first view'),
      /** met minus others, as shares; null where one of the two is empty */
      ...differenceShape,
      firstMs: z.number().describe('when it was met first and last within the lens, milliseconds since 1970'),
      lastMs: z.number(),
      trend: z.array(countSchema).describe('sessions that met it by part of the trend'),
    }),
  ),
  more: countSchema.describe('spots beyond those that are listed'),
  notMeasured: z
    .array(z.enum(SIGNAL_KINDS))
    .describe('kinds that these data cannot tell: no count, not none'),
})
export type FrictionAnswer = z.infer<typeof answerSchema>
export type FrictionSpot = FrictionAnswer['spots'][number]

/**
 * Where it hurts: signals by page group, element and kind, those met by most sessions first. The conversion beside it is a
 * plain comparison: those who met it can differ in more than that.
 */
export const friction = question({
  name: 'friction',
  summary: 'where it hurts: signals by page, element and kind, with whom they met and what became of them',
  asked: z.strictObject({}),
  answer: answerSchema,
  example: {},
  needs: async (_asked, { ask }): Promise<{ worst?: WorstSpots }> => ({ worst: await ask(worstSpots, {}) }),

  adds: true,
  scan(block, sessions, spec, onto): FrictionFound {
    const { names, lens, timeZone, worst } = spec
    const { groupOf, names: groupNames } = names.groups
    const counts = () => new Float64Array(groupNames.length)
    const starts = equalParts(lens, timeZone, MOST_PARTS)
    const found: FrictionFound = onto ?? {
      ...{ sessions: 0, spots: new Map(), views: counts(), viewers: counts(), won: counts() },
      ...{ told: new Set(), trend: new Float64Array(starts.length) },
    }
    const keyOf = spotKeys(block, names)
    const listed = worst && keysOfSpots(worst.listed)(names)
    for (const kind of toldIn(block, sessions)) found.told.add(kind)
    const wonLast = goalEvent(block, spec, 'last')
    const { page: pageOf, event: eventOf } = block.views
    const { firstView: viewsFrom, startMs } = block.sessions
    // Read once here: what is looked up for every view would be read anew each time.
    const { views, viewers, won: converted } = found
    /** by page group the session that viewed it last, plus 1, and the event with which it viewed it first */
    const seenBy = new Uint32Array(groupNames.length)
    const firstView = new Uint32Array(groupNames.length)
    const seen = new Uint32Array(groupNames.length)
    // The session that is looked at, for what is done with each of its signals.
    let session = 0
    let part = 0
    let won = -1
    const meets = (event: number, kind: number) => {
      const key = keyOf(event, kind)
      if (listed && !listed.has(key)) return
      const spot = spotOf(found, key, block, event, kind, names)
      const ms = startMs[session]! + block.events.atMs[event]!
      spot.times++
      spot.firstMs = Math.min(spot.firstMs, ms)
      spot.lastMs = Math.max(spot.lastMs, ms)
      const id = block.sessions.id[session]!
      if (spot.lastSession === id) return
      spot.lastSession = id
      spot.sessions++
      spot.parts.push(part)
      spot.visitors.push(block.sessions.visitor[session]!)
      if (won >= event) spot.converted++
      if (seenBy[spot.group] !== session + 1) return
      spot.viewed++
      if (won >= firstView[spot.group]!) spot.viewedConverted++
    }
    for (const s of sessions) {
      session = s
      found.sessions++
      part = lowerBound(starts, startMs[s]! + 1) - 1
      found.trend[part]!++
      let groups = 0
      won = wonLast(s)
      const end = viewsFrom[s + 1]!
      for (let v = viewsFrom[s]!; v < end; v++) {
        const group = groupOf[pageOf[v]!]!
        views[group]!++
        if (seenBy[group] === s + 1) continue
        seenBy[group] = s + 1
        firstView[group] = eventOf[v]!
        seen[groups++] = group
      }
      for (let k = 0; k < groups; k++) {
        const group = seen[k]!
        viewers[group]!++
        if (won >= firstView[group]!) converted[group]!++
      }
      eachSignal(block, s, names, meets)
    }
    return found
  },

  merge(a, b) {
    for (const [key, other] of b.spots) {
      const one = a.spots.get(key)
      a.spots.set(key, one ? together(one, other) : other)
    }
    for (const column of ['views', 'viewers', 'won', 'trend'] as const) addColumn(a[column], b[column])
    for (const kind of b.told) a.told.add(kind)
    a.sessions += b.sessions
    return a
  },

  finish({ sessions, spots, views, viewers, won, told, trend }, { names, lens, timeZone, worst }) {
    const { names: pages } = names.groups
    const { names: elements } = names.families
    const named = ({ kind, group, family }: SpotFound): Spot => ({
      ...{ kind, page: pages[group]!, element: elements[family]! },
    })
    const worstFirst = (a: SpotFound, b: SpotFound) =>
      b.sessions - a.sessions || b.times - a.times || byName(named(a), named(b), names)
    const listed = [...spots.values()].sort(worstFirst).map((spot) => {
      const kind = SIGNAL_KINDS[spot.kind] ?? 'site signal'
      const pageViews = views[spot.group]!
      const converted = rate(spot.converted, spot.sessions)
      const others = rate(won[spot.group]! - spot.viewedConverted, viewers[spot.group]! - spot.viewed)
      return {
        kind,
        own: spot.kind < SIGNAL_KINDS.length ? null : kindName(spot.kind, names),
        technical: signalTraits(kind).technical,
        page: pages[spot.group]!,
        selector: elements[spot.family]!,
        text: spot.text,
        met: rate(spot.sessions, sessions),
        visitors: new Set(spot.visitors).size,
        times: spot.times,
        views: pageViews,
        perThousandViews: pageViews ? (spot.times / pageViews) * 1000 : null,
        converted,
        others,
        ...difference(converted, others),
        firstMs: spot.firstMs,
        lastMs: spot.lastMs,
        trend: spot.parts.reduce<number[]>(
          (counts, part) => ((counts[part]! += 1), counts),
          Array.from(trend, () => 0),
        ),
      }
    })
    return {
      sessions,
      parts: equalParts(lens, timeZone, MOST_PARTS).map((startMs, k) => ({ startMs, sessions: trend[k]! })),
      spots: listed,
      more: worst?.more ?? 0,
      notMeasured: SIGNAL_KINDS.filter((kind) => !told.has(kind)),
    }
  },

  table: ({ spots }) => spots,
})

function spotOf(
  found: FrictionFound,
  key: number,
  block: Block,
  event: number,
  kind: number,
  { groups, families, dictionaries }: Names,
): SpotFound {
  const text = eventWords(block, event, dictionaries)
  let spot = found.spots.get(key)
  if (!spot) {
    spot = {
      kind,
      group: groups.groupOf[block.events.page[event]!]!,
      family: families.familyOf[block.events.target[event]!]!,
      text,
      times: 0,
      sessions: 0,
      lastSession: NaN,
      visitors: [],
      parts: [],
      converted: 0,
      viewed: 0,
      viewedConverted: 0,
      firstMs: Infinity,
      lastMs: -Infinity,
    }
    found.spots.set(key, spot)
  } else spot.text = firstText(spot.text, text)
  return spot
}

function together(a: SpotFound, b: SpotFound): SpotFound {
  for (const visitor of b.visitors) a.visitors.push(visitor)
  for (const part of b.parts) a.parts.push(part)
  a.text = firstText(a.text, b.text)
  a.times += b.times
  a.sessions += b.sessions
  a.converted += b.converted
  a.viewed += b.viewed
  a.viewedConverted += b.viewedConverted
  a.firstMs = Math.min(a.firstMs, b.firstMs)
  a.lastMs = Math.max(a.lastMs, b.lastMs)
  return a
}

/** What must have been sent for a kind to be told; the kinds that are not named are told by their own lines. */
const SENT = { effect: 1, load: 2, submit: 4, input: 8, scroll: 16, click: 32 } as const
const ALL_SENT = Object.values(SENT).reduce((all, bit) => all | bit, 0)
const TOLD_BY: Partial<Record<SignalKind, keyof typeof SENT>> = {
  ...{ 'dead click': 'effect', 'near miss': 'effect', 'rage click': 'click', 'failing click': 'click' },
  ...{ 'slow page': 'load', 'failed submit': 'submit', 'field trouble': 'input', combing: 'scroll' },
}

/** The kinds of signal that could be found in some sessions of a block. Complexity: events, a few steps each. */
function toldIn(block: Block, sessions: Iterable<number>): Set<SignalKind> {
  const { kind, effect } = block.events
  const { click, submit, input, scroll, page } = KIND_CODE
  const bitOf = new Uint8Array(256)
  bitOf[submit] = SENT.submit
  bitOf[input] = SENT.input
  bitOf[scroll] = SENT.scroll
  bitOf[click] = SENT.click | SENT.effect
  bitOf[page] = SENT.load
  let seen = 0
  for (const s of sessions) {
    for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
      if ((bitOf[kind[i]!]! & ~seen) === 0) continue
      if (kind[i] === click) seen |= effect[i] ? SENT.click | SENT.effect : SENT.click
      else if (kind[i] !== page || !Number.isNaN(amountAt(block, i))) seen |= bitOf[kind[i]!]!
    }
    if (seen === ALL_SENT) break
  }
  return new Set(
    SIGNAL_KINDS.filter((one) => {
      const by = TOLD_BY[one]
      return by === undefined || (seen & SENT[by]) !== 0
    }),
  )
}
