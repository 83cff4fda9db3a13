import { z } from 'zod'
import { goalEvent } from '../../select/goal-times.ts'
import { FoldedViews, findLoops, MOST_IN_LOOP, turned } from '../../select/loops.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { quantilesOf } from '../../stats/quantile.ts'
import { question } from '../question.ts'

interface LoopFound {
  pages: number[]
  sessions: number
  times: number
  rounds: number
  /** of each time, in ms */
  lost: number[]
  ended: number
  converted: number
}

interface LoopsFound {
  sessions: number
  converted: number
  loops: Map<string, LoopFound>
}

const MOST = 200

const answerSchema = z.object({
  sessions: countSchema,
  converted: rateSchema.describe('sessions that reached the main goal, of all'),
  loops: z.array(
    z.object({
      pages: z.array(z.string()).describe('page groups of one round, wherever it was entered'),
      met: rateSchema.describe('sessions that went round them at least twice, of all'),
      times: countSchema,
      rounds: z.number().describe('how often they went round, on average'),
      lostSeconds: z
        .object({ median: z.number(), sum: z.number() })
        .describe('from where the second round begins to its last view: of each time, in all'),
      ended: rateSchema.describe('sessions that ended in it, of those that met it'),
      converted: rateSchema.describe(
        'sessions that reached the main goal after it began, of those that met it',
      ),
    }),
  ),
  more: countSchema.describe('loops that are not listed'),
})
export type LoopsAnswer = z.infer<typeof answerSchema>
export type LoopRow = LoopsAnswer['loops'][number]

/** To and fro between two pages, or round and round up to five of them: who does it, what time it takes, what became of them. */
export const loops = question({
  name: 'loops',
  summary: `pages that sessions go through again and again in the same order: shuttles between two, and rounds of up to ${MOST_IN_LOOP}`,
  asked: z.strictObject({}),
  answer: answerSchema,
  example: {},
  adds: true,

  scan(block, among, spec, onto): LoopsFound {
    const found = onto ?? { sessions: 0, converted: 0, loops: new Map<string, LoopFound>() }
    const { groupOf } = spec.names.groups
    const reached = goalEvent(block, spec, 'last')
    const { atMs } = block.events
    const folded = new FoldedViews()
    for (const s of among) {
      found.sessions++
      const won = reached(s)
      if (won >= 0) found.converted++
      folded.read(block, s, groupOf)
      const { groups, views } = folded
      const eventOf = (k: number) => block.views.event[views[k]!]!
      const atView = (k: number) => atMs[eventOf(k)]!
      const met = new Set<string>()
      for (const loop of findLoops(groups)) {
        const pages = turned(groups, loop)
        const key = pages.join()
        let own = found.loops.get(key)
        if (!own) {
          own = { pages, sessions: 0, times: 0, rounds: 0, lost: [], ended: 0, converted: 0 }
          found.loops.set(key, own)
        }
        own.times++
        own.rounds += (loop.last - loop.first + 1) / loop.pages
        own.lost.push(atView(loop.last) - atView(loop.first + loop.pages))
        if (loop.last === groups.length - 1) own.ended++
        if (met.has(key)) continue
        met.add(key)
        own.sessions++
        if (won >= eventOf(loop.first)) own.converted++
      }
    }
    return found
  },

  merge(a, b) {
    a.sessions += b.sessions
    a.converted += b.converted
    for (const [key, other] of b.loops) {
      const own = a.loops.get(key)
      if (!own) {
        a.loops.set(key, other)
        continue
      }
      for (const name of ['sessions', 'times', 'rounds', 'ended', 'converted'] as const)
        own[name] += other[name]
      for (const ms of other.lost) own.lost.push(ms)
    }
    return a
  },

  finish({ sessions, converted, loops: found }, { names }) {
    const listed = [...found.values()]
      .map(({ pages, lost, ...own }) => ({
        pages: pages.map((group) => names.groups.names[group]!),
        lost,
        ...own,
      }))
      .sort(
        (a, b) =>
          b.sessions - a.sessions ||
          b.times - a.times ||
          a.pages.join('\n').localeCompare(b.pages.join('\n')),
      )
    return {
      sessions,
      converted: rate(converted, sessions),
      loops: listed.slice(0, MOST).map(({ pages, lost, ...own }) => ({
        pages,
        met: rate(own.sessions, sessions),
        times: own.times,
        rounds: own.rounds / own.times,
        lostSeconds: {
          median: quantilesOf(Float64Array.from(lost), [0.5])[0]! / 1000,
          sum: lost.reduce((sum, ms) => sum + ms, 0) / 1000,
        },
        ended: rate(own.ended, own.sessions),
        converted: rate(own.converted, own.sessions),
      })),
      more: Math.max(0, listed.length - MOST),
    }
  },

  table: ({ loops: rows }) => rows.map(({ pages, ...row }) => ({ pages: pages.join(' > '), ...row })),
})
