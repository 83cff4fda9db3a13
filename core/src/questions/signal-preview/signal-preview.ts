import { z } from 'zod'
import type { Block, SignalTables } from '../../columns/block.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import { eventWords } from '../../labels/event-words.ts'
import type { Names } from '../../labels/names.ts'
import { withNoise } from '../../select/noise.ts'
import { findSignals } from '../../signals/find-signals.ts'
import { thresholdsOf, thresholdsSchema } from '../../signals/thresholds.ts'
import { countSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

const MOST_EXAMPLES = 8

const exampleSchema = z.object({
  session: z.string(),
  startMs: z.number(),
  /** when in the session it happened, milliseconds since its start */
  momentMs: z.number(),
  page: z.string(),
  selector: z.string(),
  text: z.string(),
  /** whether it is a signal under these thresholds and was none, or the other way round */
  change: z.enum(['found', 'no longer']),
})
type Example = z.infer<typeof exampleSchema>

const countsSchema = z.object({ signals: countSchema, sessions: countSchema.describe('that have any') })

interface PreviewFound {
  sessions: number
  now: { signals: number; sessions: number }
  then: { signals: number; sessions: number }
  examples: Example[]
}

/**
 * What a kind of signal would be under other thresholds, beside what it is under those of the site, with examples of what
 * would change: the newest sessions first. What a lens leaves out as noise is left in on both sides.
 */
export const signalPreview = question({
  name: 'signal-preview',
  summary: 'how many signals of a kind there would be under other thresholds, with examples of what changes',
  asked: z.strictObject({
    kind: z.enum(SIGNAL_KINDS),
    thresholds: thresholdsSchema,
  }),
  answer: z.object({
    sessions: countSchema.describe('of the lens'),
    now: countsSchema.describe('under the thresholds of the site'),
    then: countsSchema.describe('under those that are asked about'),
    examples: z.array(exampleSchema),
  }),
  example: { kind: 'rage click', thresholds: { rageClicks: 4 } },

  scan(cut, sessions, { kind, thresholds, names }): PreviewFound {
    const block = withNoise(cut)
    const code = SIGNAL_KINDS.indexOf(kind)
    const other = findSignals(block, thresholdsOf(thresholds))
    const found: PreviewFound = {
      ...{ sessions: 0, examples: [] },
      ...{ now: { signals: 0, sessions: 0 }, then: { signals: 0, sessions: 0 } },
    }
    const current = { signals: block.signals, ofSessions: block.sessions }
    for (const s of sessions) {
      found.sessions++
      const [now, then] = [eventsOf(current, s, code), eventsOf(other, s, code)]
      count(found.now, now.length)
      count(found.then, then.length)
      if (!now.length && !then.length) continue
      const gone = now.find((event) => !then.includes(event))
      const come = then.find((event) => !now.includes(event))
      const event = come ?? gone
      if (event === undefined) continue
      found.examples.push(exampleOf(block, s, event, come === undefined ? 'no longer' : 'found', names))
      if (found.examples.length > 16 * MOST_EXAMPLES) found.examples = newest(found.examples)
    }
    return { ...found, examples: newest(found.examples) }
  },

  merge(a, b) {
    const sum = (one: PreviewFound['now'], more: PreviewFound['now']) => ({
      signals: one.signals + more.signals,
      sessions: one.sessions + more.sessions,
    })
    return {
      sessions: a.sessions + b.sessions,
      now: sum(a.now, b.now),
      then: sum(a.then, b.then),
      examples: newest([...a.examples, ...b.examples]),
    }
  },

  finish: (total) => total,
  table: ({ examples }) => examples,
})

/** The events with which the signals of one kind begin in a session. */
function eventsOf(
  {
    signals,
    ofSessions,
  }: { signals: SignalTables['signals']; ofSessions: Pick<SignalTables['ofSessions'], 'firstSignal'> },
  s: number,
  kind: number,
): number[] {
  const events: number[] = []
  for (let g = ofSessions.firstSignal[s]!; g < ofSessions.firstSignal[s + 1]!; g++)
    if (signals.kind[g] === kind) events.push(signals.event[g]!)
  return events
}

function count(into: { signals: number; sessions: number }, signals: number): void {
  into.signals += signals
  if (signals) into.sessions++
}

function exampleOf(
  block: Block,
  s: number,
  event: number,
  change: Example['change'],
  { groups, dictionaries }: Names,
): Example {
  const { sessions, events } = block
  return {
    session: String(sessions.id[s]!),
    startMs: sessions.startMs[s]!,
    momentMs: events.atMs[event]!,
    page: groups.names[groups.groupOf[events.page[event]!]!]!,
    selector: dictionaries.target.values[events.target[event]!]!,
    text: eventWords(block, event, dictionaries),
    change,
  }
}

/** The newest few; of two that began at once the one with the higher id. */
function newest(examples: Example[]): Example[] {
  return examples
    .sort((a, b) => b.startMs - a.startMs || Number(b.session) - Number(a.session))
    .slice(0, MOST_EXAMPLES)
}
