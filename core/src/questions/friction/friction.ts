import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { SIGNAL_KINDS, signalTraits } from '../../events/signal-kinds.ts'
import { firstText } from '../../labels/first-text.ts'
import { eventWords } from '../../labels/event-words.ts'
import type { Names } from '../../labels/names.ts'
import { eventMatcher } from '../../select/event-matcher.ts'
import { goalEvent } from '../../select/goal-times.ts'
import { equalParts } from '../../select/trend.ts'
import { addColumn } from '../../stats/counts.ts'
import { lowerBound } from '../../stats/lower-bound.ts'
import { countSchema, difference, differenceShape, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** One kind of signal at one element of one page group. */
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
  /** by spotKey */
  spots: Map<number, SpotFound>
  /** by page group: views, sessions that viewed it, and those that converted after their first view of it */
  views: Float64Array
  viewers: Float64Array
  won: Float64Array
  /** kinds of signal that the data could tell */
  told: Set<SignalKind>
}

/** Only the worst are answered: a list of thousands is read by nobody. */
const MOST_SPOTS = 500
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

  adds: true,
  scan(block, sessions, spec, onto): FrictionFound {
    const { names, lens, timeZone } = spec
    const { groupOf, names: groupNames } = names.groups
    const counts = () => new Float64Array(groupNames.length)
    const starts = equalParts(lens, timeZone, MOST_PARTS)
    const found: FrictionFound = onto ?? {
      ...{ sessions: 0, spots: new Map(), views: counts(), viewers: counts(), won: counts() },
      ...{ told: new Set(), trend: new Float64Array(starts.length) },
    }
    const own = (names.ownSignals ?? []).map((action) => eventMatcher(block, { action }, names))
    for (const kind of toldIn(block, sessions)) found.told.add(kind)
    const wonLast = goalEvent(block, spec, 'last')
    const { signals, views, events } = block
    /** by page group the session that viewed it last, plus 1, and the event with which it viewed it first */
    const seenBy = new Uint32Array(groupNames.length)
    const firstView = new Uint32Array(groupNames.length)
    const seen = new Uint32Array(groupNames.length)
    // The session that is looked at, for what is done with each of its signals.
    let session = 0
    let part = 0
    let won = -1
    const meets = (event: number, kind: number) => {
      const spot = spotOf(found, block, event, kind, names)
      const ms = block.sessions.startMs[session]! + events.atMs[event]!
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
      part = lowerBound(starts, block.sessions.startMs[s]! + 1) - 1
      found.trend[part]!++
      let groups = 0
      won = wonLast(s)
      for (let v = block.sessions.firstView[s]!; v < block.sessions.firstView[s + 1]!; v++) {
        const group = groupOf[views.page[v]!]!
        found.views[group]!++
        if (seenBy[group] === s + 1) continue
        seenBy[group] = s + 1
        firstView[group] = views.event[v]!
        seen[groups++] = group
      }
      for (let k = 0; k < groups; k++) {
        const group = seen[k]!
        found.viewers[group]!++
        if (won >= firstView[group]!) found.won[group]!++
      }
      for (let g = block.sessions.firstSignal[s]!; g < block.sessions.firstSignal[s + 1]!; g++)
        meets(signals.event[g]!, signals.kind[g]!)
      if (own.length)
        for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++)
          own.forEach((is, k) => is(i) && meets(i, SIGNAL_KINDS.length + k))
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

  finish({ sessions, spots, views, viewers, won, told, trend }, { names, lens, timeZone }) {
    const { names: pages } = names.groups
    const { names: elements } = names.families
    const byName = (a: SpotFound, b: SpotFound) =>
      kindName(a.kind, names).localeCompare(kindName(b.kind, names)) ||
      pages[a.group]!.localeCompare(pages[b.group]!) ||
      elements[a.family]!.localeCompare(elements[b.family]!)
    const listed = worstOf([...spots.values()], byName).map((spot) => {
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
      more: spots.size - listed.length,
      notMeasured: SIGNAL_KINDS.filter((kind) => !told.has(kind)),
    }
  },

  table: ({ spots }) => spots,
})

/** A kind of signal, or a signal of the site's own, by its name. */
function kindName(kind: number, { ownSignals }: Names): string {
  return SIGNAL_KINDS[kind] ?? ownSignals![kind - SIGNAL_KINDS.length]!
}

function spotOf(found: FrictionFound, block: Block, event: number, kind: number, names: Names): SpotFound {
  const { events } = block
  const { groups, families, dictionaries, ownSignals } = names
  const group = groups.groupOf[events.page[event]!]!
  const family = families.familyOf[events.target[event]!]!
  // One number for kind, page group and family of elements.
  const place = group * families.names.length + family
  const key = place * (SIGNAL_KINDS.length + (ownSignals?.length ?? 0)) + kind
  const text = eventWords(block, event, dictionaries)
  let spot = found.spots.get(key)
  if (!spot) {
    // Written out: there may be a hundred thousand of them, and to spread parts into one another takes three times as long.
    spot = {
      kind,
      group,
      family,
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

/** The spots that most sessions met, then those met most often, then by name; names are compared of those alone that can be listed. */
function worstOf(spots: SpotFound[], byName: (a: SpotFound, b: SpotFound) => number): SpotFound[] {
  const byCount = (a: SpotFound, b: SpotFound) => b.sessions - a.sessions || b.times - a.times
  spots.sort(byCount)
  const last = spots[MOST_SPOTS - 1]
  const first = last ? spots.filter((spot) => byCount(spot, last) <= 0) : spots
  return first.sort((a, b) => byCount(a, b) || byName(a, b)).slice(0, MOST_SPOTS)
}

/** What must have been sent for a kind to be told; the kinds that are not named are told by their own lines. */
const TOLD_BY: Partial<Record<SignalKind, 'effect' | 'load' | 'submit' | 'input' | 'scroll' | 'click'>> = {
  ...{ 'dead click': 'effect', 'near miss': 'effect', 'rage click': 'click', 'failing click': 'click' },
  ...{ 'slow page': 'load', 'failed submit': 'submit', 'field trouble': 'input', combing: 'scroll' },
}

/** The kinds of signal that could be found in some sessions of a block. */
function toldIn(block: Block, sessions: Iterable<number>): Set<SignalKind> {
  const { kind, effect } = block.events
  const seen = new Set<string>()
  for (const s of sessions) {
    for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
      const is = kind[i]!
      if (is === KIND_CODE.click) {
        seen.add('click')
        if (effect[i]) seen.add('effect')
      } else if (is === KIND_CODE.submit) seen.add('submit')
      else if (is === KIND_CODE.input) seen.add('input')
      else if (is === KIND_CODE.scroll) seen.add('scroll')
      else if (is === KIND_CODE.page && !Number.isNaN(amountAt(block, i))) seen.add('load')
    }
    if (seen.size === 6) break
  }
  return new Set(SIGNAL_KINDS.filter((one) => !TOLD_BY[one] || seen.has(TOLD_BY[one])))
}
