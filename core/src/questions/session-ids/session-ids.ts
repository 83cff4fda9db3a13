import { z } from 'zod'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { question, selectionNeeds } from '../question.ts'

/** Ids of the sessions of a selection, in ascending order. */
export const sessionIds = question({
  name: 'session-ids',
  summary: 'ids of the sessions of a selection, in ascending order',
  asked: z.strictObject({
    selection: selectionSchema,
    most: z.number().int().min(1).optional().describe('only the highest so many; all where absent'),
  }),
  answer: z.object({ ids: z.array(z.number()) }),
  example: { selection: { type: 'everyone' }, most: 100 },
  needs: selectionNeeds,

  scan(block, among, { selection, most, names }) {
    const { sessions } = selectSessions(block, among, selection, names)
    const ids = Array.from(sessions, (s) => block.sessions.id[s]!)
    return { ids: highest(ids, most) }
  },
  merge(a, b) {
    for (const id of b.ids) a.ids.push(id)
    return a
  },
  finish: ({ ids }, { most }) => ({ ids: highest(ids, most) }),
})

/** The highest so many, ascending; changes the list it is given. */
function highest(ids: number[], most = ids.length): number[] {
  ids.sort((a, b) => a - b)
  return ids.slice(Math.max(0, ids.length - most))
}
