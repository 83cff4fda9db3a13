import { z } from 'zod'
import { question } from '../questions/question.ts'
import { countSchema } from '../stats/rate.ts'

/** A question that is not part of the product: what is declared here must be all that it takes to ask it. For tests only. */
export const longSessions = question({
  name: 'long-sessions',
  summary: 'how many sessions have at least so many events',
  asked: z.strictObject({ least: z.number().int().min(1).default(2) }),
  answer: z.object({ sessions: countSchema, of: countSchema }),
  example: { least: 3 },

  scan({ sessions: { firstEvent } }, among, { least }) {
    const long = among.where((s) => firstEvent[s + 1]! - firstEvent[s]! >= least)
    return { sessions: long.count(), of: among.count() }
  },
  merge: (a, b) => ({ sessions: a.sessions + b.sessions, of: a.of + b.of }),
  finish: (total) => total,
  table: (answer) => [answer],
})
