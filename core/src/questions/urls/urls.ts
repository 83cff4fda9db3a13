import { z } from 'zod'
import { countSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

interface Seen {
  sessions: number
  views: number
}

/** All addresses that were seen, by how many sessions and how often; most seen first. */
export const urls = question({
  name: 'urls',
  summary: 'all addresses that were seen, by sessions',
  asked: z.strictObject({}),
  answer: z.array(z.object({ path: z.string(), sessions: countSchema, views: countSchema })),
  example: {},

  /** by page code */
  scan({ sessions: { firstView }, views }, sessions): Map<number, Seen> {
    const counts = new Map<number, Seen>()
    const seenIn = new Map<number, number>()
    sessions.forEach((s) => {
      for (let v = firstView[s]!; v < firstView[s + 1]!; v++) {
        const page = views.page[v]!
        add(counts, page, { sessions: seenIn.get(page) === s ? 0 : 1, views: 1 })
        seenIn.set(page, s)
      }
    })
    return counts
  },

  merge(a, b) {
    for (const [page, seen] of b) add(a, page, seen)
    return a
  },

  finish(counts, { names }) {
    const { values } = names.dictionaries.page
    return [...counts]
      .map(([page, seen]) => ({ path: values[page]!, ...seen }))
      .sort((a, b) => b.sessions - a.sessions || (a.path < b.path ? -1 : 1))
  },

  table: (answer) => answer,
})

function add(counts: Map<number, Seen>, page: number, { sessions, views }: Seen): void {
  const seen = counts.get(page)
  if (seen) {
    seen.sessions += sessions
    seen.views += views
  } else counts.set(page, { sessions, views })
}
