import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { SIGNAL_KINDS, signalTraits } from '../../events/signal-kinds.ts'
import type { Names } from '../../labels/names.ts'
import { addCounts } from '../../stats/counts.ts'
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
  /** by "kind/group/family" */
  spots: Map<string, SpotFound>
  /** by page group: views, sessions that viewed it, and those that converted after their first view of it */
  views: Map<number, number>
  viewers: Map<number, number>
  won: Map<number, number>
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

  scan(block, sessions, { names, goal }): FrictionFound {
    const found: FrictionFound = {
      ...{ sessions: 0, spots: new Map(), views: new Map(), viewers: new Map(), won: new Map() },
      told: toldIn(block, sessions),
    }
    const goalGroup = names.groups.find(goal)
    const { signals, views, events } = block
    const { groupOf } = names.groups
    for (const s of sessions) {
      found.sessions++
      const firstView = new Map<number, number>()
      let wonMs = -1
      for (let v = block.sessions.firstView[s]!; v < block.sessions.firstView[s + 1]!; v++) {
        const group = groupOf[views.page[v]!]!
        const atMs = events.atMs[views.event[v]!]!
        found.views.set(group, (found.views.get(group) ?? 0) + 1)
        if (!firstView.has(group)) firstView.set(group, atMs)
        if (group === goalGroup) wonMs = atMs
      }
      for (const [group, atMs] of firstView) {
        found.viewers.set(group, (found.viewers.get(group) ?? 0) + 1)
        if (wonMs >= atMs) found.won.set(group, (found.won.get(group) ?? 0) + 1)
      }
      const met = new Set<SpotFound>()
      for (let g = block.sessions.firstSignal[s]!; g < block.sessions.firstSignal[s + 1]!; g++) {
        const spot = spotOf(found, block, g, names)
        const atMs = signals.atMs[g]!
        const ms = block.sessions.startMs[s]! + atMs
        spot.times++
        spot.firstMs = Math.min(spot.firstMs, ms)
        spot.lastMs = Math.max(spot.lastMs, ms)
        if (met.has(spot)) continue
        met.add(spot)
        spot.sessions++
        spot.visitors.add(block.sessions.visitor[s]!)
        if (wonMs >= atMs) spot.converted++
        const seenMs = firstView.get(spot.group)
        if (seenMs === undefined) continue
        spot.viewed++
        if (wonMs >= seenMs) spot.viewedConverted++
      }
    }
    return found
  },

  merge(a, b) {
    const spots = new Map(a.spots)
    for (const [key, other] of b.spots) {
      const one = spots.get(key)
      spots.set(key, one ? together(one, other) : other)
    }
    return {
      sessions: a.sessions + b.sessions,
      spots,
      views: addCounts(new Map(a.views), b.views),
      viewers: addCounts(new Map(a.viewers), b.viewers),
      won: addCounts(new Map(a.won), b.won),
      told: new Set([...a.told, ...b.told]),
    }
  },

  finish({ sessions, spots, views, viewers, won, told }, { names }) {
    const all = [...spots.values()].map((spot) => {
      const kind = SIGNAL_KINDS[spot.kind]!
      const pageViews = views.get(spot.group) ?? 0
      const converted = rate(spot.converted, spot.sessions)
      const others = rate(
        (won.get(spot.group) ?? 0) - spot.viewedConverted,
        (viewers.get(spot.group) ?? 0) - spot.viewed,
      )
      return {
        kind,
        technical: signalTraits(kind).technical,
        page: names.groups.names[spot.group]!,
        selector: names.families.names[spot.family]!,
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
    all.sort(
      (a, b) =>
        b.met.hits - a.met.hits ||
        b.times - a.times ||
        a.kind.localeCompare(b.kind) ||
        a.page.localeCompare(b.page) ||
        a.selector.localeCompare(b.selector),
    )
    return {
      sessions,
      spots: all.slice(0, MOST_SPOTS),
      more: Math.max(0, all.length - MOST_SPOTS),
      notMeasured: SIGNAL_KINDS.filter((kind) => !told.has(kind)),
    }
  },

  table: ({ spots }) => spots,
})

function spotOf({ spots }: FrictionFound, { signals }: Block, g: number, names: Names): SpotFound {
  const kind = signals.kind[g]!
  const group = names.groups.groupOf[signals.page[g]!]!
  const family = names.families.familyOf[signals.target[g]!]!
  const key = `${kind}/${group}/${family}`
  const text =
    names.dictionaries.text.values[signals.text[g]!] || names.dictionaries.name.values[signals.name[g]!]!
  let spot = spots.get(key)
  if (!spot) {
    spot = {
      ...{ kind, group, family, text, visitors: new Set<number>(), times: 0, sessions: 0 },
      ...{ converted: 0, viewed: 0, viewedConverted: 0, firstMs: Infinity, lastMs: -Infinity },
    }
    spots.set(key, spot)
  } else spot.text = firstText(spot.text, text)
  return spot
}

/** Of several texts of one element the first in the alphabet is shown, so that the order of blocks does not matter. */
function firstText(a: string, b: string): string {
  return a && (!b || a <= b) ? a : b
}

function together(a: SpotFound, b: SpotFound): SpotFound {
  return {
    ...a,
    text: firstText(a.text, b.text),
    times: a.times + b.times,
    sessions: a.sessions + b.sessions,
    visitors: new Set([...a.visitors, ...b.visitors]),
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
