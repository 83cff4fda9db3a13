import { z } from 'zod'
import { amountAt, numberAt } from '../../columns/block.ts'
import { couldNotBeShown } from '../../events/page-status.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import { sessionNumbers } from '../../select/attributes.ts'
import { goalMs, mainGoal } from '../../select/goal-times.ts'
import { STRAIN_PARTS } from '../../signals/strain.ts'
import type { Sums } from '../../stats/mean.ts'
import { addTo, meanOf, meanShape, noSums, sumsOf } from '../../stats/mean.ts'
import { quantilesOf } from '../../stats/quantile.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** By what the sessions that land on one page are told apart. */
export const LANDINGS_BY = ['page', 'channel', 'campaign'] as const

interface LandingFound {
  group: number
  /** code of the channel or campaign; 0 where they are not told apart */
  from: number
  sessions: number
  bounced: number
  converted: number
  parts: number
  /** of sessions, in hundredths */
  strain: Sums
  troubled: number
  notFound: number
  /** ms until it was there, of the sessions that told */
  loads: number[]
}

interface LandingsFound {
  sessions: number
  converted: number
  landings: Map<string, LandingFound>
}

const MOST = 2000

const answerSchema = z.object({
  sessions: countSchema,
  converted: rateSchema.describe('sessions that reached the main goal, of all'),
  landings: z.array(
    z.object({
      page: z.string().describe('page group with which the sessions began; "" = none'),
      from: z.string().describe('channel or campaign; "" = not known, or not told apart'),
      sessions: countSchema,
      bounced: rateSchema.describe('sessions with no other page'),
      converted: rateSchema.describe('sessions that reached the main goal'),
      value: z
        .number()
        .describe('what the actions of these sessions were worth, in the currency of the site'),
      strain: z.object(meanShape).describe('of the sessions, 0 to 100'),
      troubled: rateSchema.describe('sessions in which a signal began on the landing page'),
      notFound: rateSchema.describe('sessions that landed on a page that was not there or failed'),
      load: z
        .object({ told: countSchema, p75: z.number().nullable() })
        .describe('ms until it was there, of the sessions that told'),
    }),
  ),
  more: countSchema.describe('landings that are not listed'),
})
export type LandingsAnswer = z.infer<typeof answerSchema>
export type LandingRow = LandingsAnswer['landings'][number]

/** With which pages sessions begin, through which channel or campaign, and how well that goes. */
export const landings = question({
  name: 'landings',
  summary: 'landing pages by channel or campaign: what they bring, and how slow, broken or hard they are',
  asked: z.strictObject({ by: z.enum(LANDINGS_BY).default('page') }),
  answer: answerSchema,
  example: { by: 'campaign' },
  adds: true,

  scan(block, among, spec, onto): LandingsFound {
    const found = onto ?? { sessions: 0, converted: 0, landings: new Map<string, LandingFound>() }
    const { names, by } = spec
    const { groupOf } = names.groups
    const reached = mainGoal(spec) ? goalMs(block, spec, 'first') : () => NaN
    const values = sessionNumbers(block, 'value', names)
    const strains = sessionNumbers(block, 'strain', names)
    const { firstView, firstSignal, channel, campaign } = block.sessions
    for (const s of among) {
      const view = firstView[s]!
      const views = firstView[s + 1]! - view
      const event = views ? block.views.event[view]! : -1
      const group = views ? groupOf[block.views.page[view]!]! : 0
      const from = by === 'channel' ? channel[s]! : by === 'campaign' ? campaign[s]! : 0
      const key = `${group} ${from}`
      let own = found.landings.get(key)
      if (!own) {
        own = {
          ...{ group, from, sessions: 0, bounced: 0, converted: 0, parts: 0, strain: noSums() },
          ...{ troubled: 0, notFound: 0, loads: [] },
        }
        found.landings.set(key, own)
      }
      found.sessions++
      own.sessions++
      if (views === 1) own.bounced++
      if (!Number.isNaN(reached(s))) {
        found.converted++
        own.converted++
      }
      own.parts += toParts(values[s]!) || 0
      addTo(own.strain, Math.round(strains[s]! * STRAIN_PARTS))
      if (!views) continue
      const next = views > 1 ? block.views.event[view + 1]! : Infinity
      const first = firstSignal[s]!
      // What began before the first view is no trouble of the landing page.
      for (let g = first; g < firstSignal[s + 1]! && block.signals.event[g]! < next; g++) {
        if (block.signals.event[g]! < event) continue
        own.troubled++
        break
      }
      if (couldNotBeShown(numberAt(block, event))) own.notFound++
      const loadMs = amountAt(block, event)
      if (!Number.isNaN(loadMs)) own.loads.push(loadMs)
    }
    return found
  },

  merge(a, b) {
    a.sessions += b.sessions
    a.converted += b.converted
    for (const [key, other] of b.landings) {
      const own = a.landings.get(key)
      if (!own) {
        a.landings.set(key, other)
        continue
      }
      for (const name of ['sessions', 'bounced', 'converted', 'parts', 'troubled', 'notFound'] as const)
        own[name] += other[name]
      own.strain = sumsOf(own.strain, other.strain)
      for (const ms of other.loads) own.loads.push(ms)
    }
    return a
  },

  finish({ sessions, converted, landings: found }, { by, names: { groups, dictionaries } }) {
    const words = by === 'page' ? [''] : dictionaries[by].values
    const listed = [...found.values()]
      .map((own) => ({ ...own, page: groups.names[own.group]!, from: words[own.from]! }))
      .sort((a, b) => b.sessions - a.sessions || a.page.localeCompare(b.page) || a.from.localeCompare(b.from))
    return {
      sessions,
      converted: rate(converted, sessions),
      landings: listed.slice(0, MOST).map((own) => ({
        ...{ page: own.page, from: own.from, sessions: own.sessions },
        bounced: rate(own.bounced, own.sessions),
        converted: rate(own.converted, own.sessions),
        value: fromParts(own.parts),
        strain: meanOf(own.strain, STRAIN_PARTS),
        troubled: rate(own.troubled, own.sessions),
        notFound: rate(own.notFound, own.sessions),
        load: { told: own.loads.length, p75: quantilesOf(Float64Array.from(own.loads), [0.75])[0]! },
      })),
      more: Math.max(0, listed.length - MOST),
    }
  },

  table: ({ landings: rows }) => rows,
})
