import { z } from 'zod'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { rate, rateSchema } from '../../stats/rate.ts'
import { question, selectionNeeds } from '../question.ts'

/** How many sessions a selection picks, of how many that it could have picked. */
export const size = question({
  name: 'size',
  summary: 'how many sessions a selection picks, and of how many',
  asked: z.strictObject({ selection: selectionSchema }),
  answer: rateSchema,
  example: { selection: { type: 'everyone' } },
  needs: selectionNeeds,

  scan(block, among, { selection, names }) {
    const { sessions, base } = selectSessions(block, among, selection, names)
    return { hits: sessions.count(), base: base.count() }
  },
  merge: (a, b) => ({ hits: a.hits + b.hits, base: a.base + b.base }),
  finish: ({ hits, base }) => rate(hits, base),
})
