import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import type { Dictionaries } from '../../columns/dictionaries.ts'
import { eachViewWithSignals } from '../../columns/each-view.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { SESSION_CLASSES } from '../../events/traffic.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import { eventWords } from '../../labels/event-words.ts'
import type { Names } from '../../labels/names.ts'
import { STRAIN_WEIGHTS } from '../../labels/strain-weights.ts'
import { sessionNumber } from '../../select/attributes.ts'
import type { SelectedSessions } from '../../select/selected-sessions.ts'
import { momentOf } from '../../select/selected-sessions.ts'
import { countSchema } from '../../stats/rate.ts'
import { burden, whyOf } from './trouble-words.ts'
import type { Met } from './trouble-words.ts'

/** One session in a list: enough to decide whether to watch it, and from which moment. */
export const sessionSummarySchema = z.object({
  id: z.string(),
  visitor: z.string(),
  startMs: z.number(),
  durationMs: z.number(),
  device: z.enum(SESSION_CLASSES).nullable(),
  browser: z.string(),
  system: z.string(),
  country: z.string(),
  channel: z.string(),
  returning: z.boolean(),
  pages: countSchema,
  clicks: countSchema,
  entry: z.string(),
  exit: z.string(),
  signals: z.array(z.object({ kind: z.enum(SIGNAL_KINDS), count: countSchema })),
  trail: z
    .array(
      z.object({
        page: z.string(),
        atMs: z.number().describe('since the start of the session'),
        forMs: z.number().describe('until the next view, or the last event'),
        views: countSchema.describe('views of the page one after another that are one'),
        signals: countSchema.describe('signals that began on it'),
      }),
    )
    .describe('page groups viewed one after the other, the first of them'),
  more: countSchema.describe('further pages that are not in the trail'),
  value: z.number().describe('what its actions were worth, in the currency of the site'),
  why: z.string().describe('the hardest trouble in words, and where it ended; empty where there was none'),
  momentMs: z
    .number()
    .nullable()
    .describe(
      'when to begin watching, milliseconds since the start: the selection’s moment, else the first signal; null = the start',
    ),
})
export type SessionSummary = z.infer<typeof sessionSummarySchema>

export const WATCH_ORDERS = ['telling', 'newest', 'longest'] as const
export type WatchOrder = (typeof WATCH_ORDERS)[number]

/** A session of a block, without its trail: that is made only for those that are listed. */
export type Placed = Omit<SessionSummary, 'trail' | 'more' | 'value' | 'why'> & {
  telling: number
  index: number
}

/**
 * The selected sessions of a block as a list, most telling first: by signals at or after the moment, then by signals
 * in all, then newest; ties by id.
 */
export function summarise(block: Block, selected: SelectedSessions, names: Names): Placed[] {
  return [...selected.sessions].map((s) => {
    const moment = momentOf(block, selected, s)
    const counts = new Map<number, number>()
    let after = 0
    for (let i = block.sessions.firstSignal[s]!; i < block.sessions.firstSignal[s + 1]!; i++) {
      const kind = block.signals.kind[i]!
      counts.set(kind, (counts.get(kind) ?? 0) + 1)
      if (!(block.events.atMs[block.signals.event[i]!]! < moment)) after++
    }
    const total = block.sessions.firstSignal[s + 1]! - block.sessions.firstSignal[s]!
    return {
      ...describe(block, s, names.dictionaries),
      index: s,
      signals: [...counts]
        .sort(([a], [b]) => a - b)
        .map(([kind, count]) => ({ kind: SIGNAL_KINDS[kind]!, count })),
      momentMs: Number.isNaN(moment)
        ? total
          ? block.events.atMs[block.signals.event[block.sessions.firstSignal[s]!]!]!
          : null
        : moment,
      telling: after * 1000 + total,
    }
  })
}

type Place = Pick<SessionSummary, 'durationMs' | 'startMs' | 'id'> & { telling: number }

/** Compares two sessions for a list. */
export function watchOrder(order: WatchOrder) {
  return (a: Place, b: Place): number =>
    (order === 'telling' ? b.telling - a.telling : order === 'longest' ? b.durationMs - a.durationMs : 0) ||
    b.startMs - a.startMs ||
    Number(a.id) - Number(b.id)
}

function describe(
  block: Block,
  s: number,
  dictionaries: Dictionaries,
): Omit<SessionSummary, 'signals' | 'momentMs' | 'trail' | 'more' | 'value' | 'why'> {
  const { sessions, events } = block
  let pages = 0
  let clicks = 0
  let entry = 0
  let exit = 0
  for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++) {
    if (events.kind[i] === KIND_CODE.click) clicks++
    if (events.kind[i] !== KIND_CODE.page) continue
    if (pages++ === 0) entry = events.page[i]!
    exit = events.page[i]!
  }
  return {
    id: String(sessions.id[s]!),
    visitor: dictionaries.visitor.word(sessions.visitor[s]!),
    startMs: sessions.startMs[s]!,
    durationMs: sessions.endMs[s]! - sessions.startMs[s]!,
    device: SESSION_CLASSES[sessions.device[s]! - 1] ?? null,
    browser: dictionaries.browser.values[sessions.browser[s]!]!,
    system: dictionaries.os.values[sessions.os[s]!]!,
    country: dictionaries.country.values[sessions.country[s]!]!,
    channel: dictionaries.channel.values[sessions.channel[s]!]!,
    returning: sessions.returning[s] === 1,
    pages,
    clicks,
    entry: dictionaries.page.values[entry]!,
    exit: dictionaries.page.values[exit]!,
  }
}

/** A trail has no room for more. */
const LONGEST_TRAIL = 60

/** A session as it is listed: with its pages one after the other, the time spent and the signals on each, and its worth. */
export function withTrail<One extends Placed>(block: Block, one: One, names: Names): SessionSummary & One {
  const { index } = one
  const value = sessionNumber(block, 'value', names)(index)
  return { ...one, ...trailOf(block, index, names), value, why: why(block, index, names) }
}

function why(block: Block, s: number, { groups, dictionaries, strain = STRAIN_WEIGHTS }: Names): string {
  const { signals, events, sessions, views } = block
  const counts = new Map<string, Met>()
  for (let i = sessions.firstSignal[s]!; i < sessions.firstSignal[s + 1]!; i++) {
    const kind = SIGNAL_KINDS[signals.kind[i]!]!
    const label = eventWords(block, signals.event[i]!, dictionaries)
    const key = `${kind} ${events.target[signals.event[i]!]!} ${label}`
    const own = counts.get(key)
    if (own) own.times++
    else counts.set(key, { kind, label, times: 1 })
  }
  const [most] = [...counts.values()].sort((a, b) => burden(b, strain) - burden(a, strain))
  const lastView = sessions.firstView[s + 1]! - 1
  if (!most) return ''
  const left = lastView < sessions.firstView[s]! ? '' : groups.names[groups.groupOf[views.page[lastView]!]!]!
  return whyOf(most, left || 'an unknown page')
}

function trailOf(block: Block, s: number, { groups }: Names): Pick<SessionSummary, 'trail' | 'more'> {
  const { events, views, sessions } = block
  const trail: SessionSummary['trail'] = []
  let more = 0
  let lastGroup = -1
  const endMs = sessions.endMs[s]! - sessions.startMs[s]!
  eachViewWithSignals(block, s, (view, first, end) => {
    const group = groups.groupOf[views.page[view]!]!
    const atMs = events.atMs[views.event[view]!]!
    const untilMs =
      view + 1 < sessions.firstView[s + 1]! ? events.atMs[views.event[view + 1]!]! : Math.max(atMs, endMs)
    const own = trail[trail.length - 1]
    if (group === lastGroup && own && more === 0) {
      own.forMs = untilMs - own.atMs
      own.views++
      own.signals += end - first
    } else if (trail.length < LONGEST_TRAIL)
      trail.push({ page: groups.names[group]!, atMs, forMs: untilMs - atMs, views: 1, signals: end - first })
    else if (group !== lastGroup) more++
    lastGroup = group
  })
  return { trail, more }
}
