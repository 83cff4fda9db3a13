import { z } from 'zod'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { countSchema } from '../../stats/rate.ts'
import { question, selectionNeeds } from '../question.ts'
import type { Placed, SessionSummary } from './summary.ts'
import { sessionSummarySchema, summarise, WATCH_ORDERS, watchOrder, withTrail } from './summary.ts'

type Listed = SessionSummary & Placed

/** Where a session stands in any order. */
export type ListPlace = Pick<Listed, 'telling' | 'durationMs' | 'startMs' | 'id'>

const placeSchema = z.tuple([z.number(), z.number(), z.number(), z.string()])

/** The place of a session in a list as a text that goes on from it. */
function cursorAt({ telling, durationMs, startMs, id }: ListPlace): string {
  return JSON.stringify([telling, durationMs, startMs, id])
}

const NO_CURSOR = 'The cursor is none of ours. Begin at the start of the list.'

/** The session after which a list goes on. */
const cursorSchema = z
  .string()
  .max(400)
  .transform((text, context): ListPlace => {
    try {
      const [telling, durationMs, startMs, id] = placeSchema.parse(JSON.parse(text))
      return { telling, durationMs, startMs, id }
    } catch {
      context.addIssue({ code: 'custom', message: NO_CURSOR })
      return z.NEVER
    }
  })

const answerSchema = z.object({
  /** in the whole list */
  total: countSchema,
  sessions: z.array(sessionSummarySchema),
  next: z.string().nullable().describe('where the list goes on; null at its end'),
})
export type SessionsAnswer = z.infer<typeof answerSchema>

/** The first sessions of a selection, in an order to watch them in. */
export const sessions = question({
  name: 'sessions',
  summary: 'the sessions of a selection, in an order to watch them in',
  asked: z.strictObject({
    selection: selectionSchema,
    order: z.enum(WATCH_ORDERS),
    offset: countSchema.default(0),
    limit: countSchema.min(1).max(200).default(50),
    cursor: cursorSchema
      .optional()
      .describe('`next` of the answer before: goes on after its last session, whatever has come in since'),
    within: z
      .object({ fromMs: z.number(), toMs: z.number() })
      .optional()
      .describe('only those that began in [fromMs, toMs); who is selected stays the same'),
  }),
  answer: answerSchema,
  example: { selection: { type: 'everyone' }, order: 'newest', limit: 20 },
  needs: selectionNeeds,

  scan(block, among, { selection, order, offset, limit, cursor, within, names }) {
    const { startMs } = block.sessions
    const looked = within
      ? among.where((s) => startMs[s]! >= within.fromMs && startMs[s]! < within.toMs)
      : among
    // Most blocks lie outside as a whole.
    if (looked.isEmpty()) return { total: 0, left: 0, first: [] as Listed[] }
    const selected = selectSessions(block, looked, selection, names)
    const compare = watchOrder(order)
    const all = summarise(block, selected, names)
    const left = cursor ? all.filter((one) => compare(cursor, one) < 0) : all
    return {
      total: all.length,
      left: left.length,
      first: left
        .sort(compare)
        .slice(0, offset + limit)
        .map((one) => withTrail(block, one, names)),
    }
  },

  merge: (a, b) => ({ total: a.total + b.total, left: a.left + b.left, first: [...a.first, ...b.first] }),

  finish({ total, left, first }, { order, offset, limit }) {
    const sorted = [...first].sort(watchOrder(order)).slice(0, offset + limit)
    const last = sorted[sorted.length - 1]
    return {
      total,
      sessions: sorted.slice(offset).map(({ telling: _, index: __, ...summary }) => summary),
      next: last && left > sorted.length ? cursorAt(last) : null,
    }
  },

  table: ({ sessions: listed }) =>
    listed.map(({ signals, trail, ...session }) => ({
      ...session,
      trail: trail.map(({ page }) => page).join(' > '),
      ...Object.fromEntries(signals.map(({ kind, count }) => [kind, count])),
    })),
})
