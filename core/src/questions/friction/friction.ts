import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { SIGNAL_KINDS, signalTraits } from '../../events/signal-kinds.ts'
import { firstText } from '../../labels/first-text.ts'
import type { Names } from '../../labels/names.ts'
import { countSchema, difference, differenceShape, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** One kind of signal at one element of one page group. */
interface SpotFound {
  kind: number
  group: number
  family: number
  text: string
  times: number
  sessions: number
  /** id of the session that met it last: each counts once */
  lastSession: number
  visitors: Set<number>
  /** sessions that converted after they met it */
  converted: number
  /** those of them that viewed the page, and of these those that converted after their first view of it */
  viewed: number
  viewedConverted: number
  firstMs: number
  lastMs: number
}

interface FrictionFound {
  sessions: number
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

const answerSchema = z.object({
  sessions: countSchema,
  spots: z.array(
    z.object({
      kind: z.enum(SIGNAL_KINDS),
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
  scan(block, sessions, { names, goal }, onto): FrictionFound {
    const { groupOf, names: groupNames } = names.groups
    const counts = () => new Float64Array(groupNames.length)
    const found: FrictionFound = onto ?? {
      ...{ sessions: 0, spots: new Map(), views: counts(), viewers: counts(), won: counts() },
      told: new Set(),
    }
    for (const kind of toldIn(block, sessions)) found.told.add(kind)
    const goalGroup = names.groups.find(goal)
    const { signals, views, events } = block
    /** by page group the session that viewed it last, plus 1, and when it viewed it first */
    const seenBy = new Uint32Array(groupNames.length)
    const firstMs = counts()
    const seen = new Uint32Array(groupNames.length)
    for (const s of sessions) {
      found.sessions++
      let groups = 0
      let wonMs = -1
      for (let v = block.sessions.firstView[s]!; v < block.sessions.firstView[s + 1]!; v++) {
        const group = groupOf[views.page[v]!]!
        const atMs = events.atMs[views.event[v]!]!
        found.views[group]!++
        if (group === goalGroup) wonMs = atMs
        if (seenBy[group] === s + 1) continue
        seenBy[group] = s + 1
        firstMs[group] = atMs
        seen[groups++] = group
      }
      for (let k = 0; k < groups; k++) {
        const group = seen[k]!
        found.viewers[group]!++
        if (wonMs >= firstMs[group]!) found.won[group]!++
      }
      for (let g = block.sessions.firstSignal[s]!; g < block.sessions.firstSignal[s + 1]!; g++) {
        const spot = spotOf(found, block, g, names)
        const atMs = events.atMs[signals.event[g]!]!
        const ms = block.sessions.startMs[s]! + atMs
        spot.times++
        spot.firstMs = Math.min(spot.firstMs, ms)
        spot.lastMs = Math.max(spot.lastMs, ms)
        const id = block.sessions.id[s]!
        if (spot.lastSession === id) continue
        spot.lastSession = id
        spot.sessions++
        spot.visitors.add(block.sessions.visitor[s]!)
        if (wonMs >= atMs) spot.converted++
        if (seenBy[spot.group] !== s + 1) continue
        spot.viewed++
        if (wonMs >= firstMs[spot.group]!) spot.viewedConverted++
      }
    }
    return found
  },

  merge(a, b) {
    for (const [key, other] of b.spots) {
      const one = a.spots.get(key)
      a.spots.set(key, one ? together(one, other) : other)
    }
    for (const column of ['views', 'viewers', 'won'] as const)
      for (let group = 0; group < a[column].length; group++) a[column][group]! += b[column][group]!
    for (const kind of b.told) a.told.add(kind)
    a.sessions += b.sessions
    return a
  },

  finish({ sessions, spots, views, viewers, won, told }, { names }) {
    const { names: pages } = names.groups
    const { names: elements } = names.families
    const worst = [...spots.values()].sort(
      (a, b) =>
        b.sessions - a.sessions ||
        b.times - a.times ||
        SIGNAL_KINDS[a.kind]!.localeCompare(SIGNAL_KINDS[b.kind]!) ||
        pages[a.group]!.localeCompare(pages[b.group]!) ||
        elements[a.family]!.localeCompare(elements[b.family]!),
    )
    const listed = worst.slice(0, MOST_SPOTS).map((spot) => {
      const kind = SIGNAL_KINDS[spot.kind]!
      const pageViews = views[spot.group]!
      const converted = rate(spot.converted, spot.sessions)
      const others = rate(won[spot.group]! - spot.viewedConverted, viewers[spot.group]! - spot.viewed)
      return {
        kind,
        technical: signalTraits(kind).technical,
        page: pages[spot.group]!,
        selector: elements[spot.family]!,
        text: spot.text,
        met: rate(spot.sessions, sessions),
        visitors: spot.visitors.size,
        times: spot.times,
        views: pageViews,
        perThousandViews: pageViews ? (spot.times / pageViews) * 1000 : null,
        converted,
        others,
        ...difference(converted, others),
        firstMs: spot.firstMs,
        lastMs: spot.lastMs,
      }
    })
    return {
      sessions,
      spots: listed,
      more: worst.length - listed.length,
      notMeasured: SIGNAL_KINDS.filter((kind) => !told.has(kind)),
    }
  },

  table: ({ spots }) => spots,
})

function spotOf({ spots }: FrictionFound, block: Block, g: number, names: Names): SpotFound {
  const { signals, events } = block
  const event = signals.event[g]!
  const key = spotKey(block, g, names)
  const text =
    names.dictionaries.text.values[events.text[event]!] ||
    names.dictionaries.name.values[events.name[event]!]!
  let spot = spots.get(key)
  if (!spot) {
    spot = {
      kind: signals.kind[g]!,
      group: names.groups.groupOf[events.page[event]!]!,
      family: names.families.familyOf[events.target[event]!]!,
      ...{ text, visitors: new Set<number>(), times: 0, sessions: 0, lastSession: NaN },
      ...{ converted: 0, viewed: 0, viewedConverted: 0, firstMs: Infinity, lastMs: -Infinity },
    }
    spots.set(key, spot)
  } else spot.text = firstText(spot.text, text)
  return spot
}

/** One number for kind, page group and family of elements. */
function spotKey({ signals, events }: Block, g: number, { groups, families }: Names): number {
  const event = signals.event[g]!
  const place =
    groups.groupOf[events.page[event]!]! * families.names.length + families.familyOf[events.target[event]!]!
  return place * SIGNAL_KINDS.length + signals.kind[g]!
}

function together(a: SpotFound, b: SpotFound): SpotFound {
  for (const visitor of b.visitors) a.visitors.add(visitor)
  return {
    ...a,
    text: firstText(a.text, b.text),
    times: a.times + b.times,
    sessions: a.sessions + b.sessions,
    converted: a.converted + b.converted,
    viewed: a.viewed + b.viewed,
    viewedConverted: a.viewedConverted + b.viewedConverted,
    firstMs: Math.min(a.firstMs, b.firstMs),
    lastMs: Math.max(a.lastMs, b.lastMs),
  }
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
