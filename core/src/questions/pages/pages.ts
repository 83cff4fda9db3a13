import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt, numberAt } from '../../columns/block.ts'
import { eachView, eachViewWithSignals } from '../../columns/each-view.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { Names } from '../../labels/names.ts'
import { STRAIN_WEIGHTS } from '../../labels/strain-weights.ts'
import { engagedMs } from '../../select/engaged-time.ts'
import { goalEvent } from '../../select/goal-times.ts'
import { equalParts } from '../../select/trend.ts'
import { STRAIN_PARTS, StrainLoad, strainOf } from '../../signals/strain.ts'
import { meanOf, meanShape } from '../../stats/mean.ts'
import { addPair, byCode, quantileAbove } from '../../stats/pairs.ts'
import { quantilesOf } from '../../stats/quantile.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import type { SpecOf } from '../question.ts'
import { question } from '../question.ts'
import type { PageSums } from './page-sums.ts'
import { joinSums, noSums, packSums, rowOf } from './page-sums.ts'

/** By what views are told apart. */
export const PAGES_BY = ['group', 'url', 'title'] as const
export type PagesBy = (typeof PAGES_BY)[number]

/** A trend in a row of a table has no room for more. */
const MOST_PARTS = 14
/** A page is read to its end where this much of it was seen: its foot is no text. Common practice, no source. */
export const READ_DEPTH = 0.9

const asked = z.strictObject({
  by: z.enum(PAGES_BY).default('group').describe('group: page groups; url: addresses; title: their titles'),
  only: z.string().optional().describe('one of them alone'),
  most: countSchema.min(1).max(10_000).default(2000).describe('pages that are listed, the most viewed ones'),
})

const seconds = z.number().nullable()
const answerSchema = z.object({
  sessions: countSchema,
  views: countSchema.describe('of all pages'),
  converted: countSchema.describe('sessions that reached the main goal'),
  parts: z
    .array(z.object({ startMs: z.number(), sessions: countSchema }))
    .describe('parts of the trend, as many whole days each but for the last'),
  pages: z.array(
    z.object({
      page: z.string().describe('page group, address or title; "" = not known'),
      pattern: z.string().describe('of a page group: the addresses in it; else ""'),
      views: countSchema,
      clicks: countSchema,
      seen: rateSchema.describe('sessions that viewed it, of all'),
      visitors: countSchema.describe('who viewed it'),
      newVisitors: countSchema.describe('of these, those who viewed it in their first session'),
      entries: countSchema.describe('sessions that began with it'),
      exits: rateSchema.describe('views with which a session ended, of its views'),
      bounces: rateSchema.describe('sessions with no other view, of those that began with it'),
      engaged: z
        .object({ told: countSchema, mean: seconds, median: seconds })
        .describe('seconds a view was looked at, of those that tell: docs/paths.md'),
      read: rateSchema.describe(
        `views that saw ${READ_DEPTH * 100} % of it, of those that told how far they went`,
      ),
      load: z
        .object({ told: countSchema, p75: z.number().nullable() })
        .describe('ms until it was there: the 75th percentile over the views that told'),
      response: z
        .object({ told: countSchema, worked: countSchema, p75: z.number().nullable() })
        .describe('slowest answer to input, ms, of the views that were worked with; null = too fast to tell'),
      notFound: countSchema.describe('views of a page that was not there'),
      errors: countSchema.describe('script errors on it'),
      signals: countSchema.describe('signals that began on it'),
      strain: z.object(meanShape).describe('of its views, 0 to 100'),
      passed: rateSchema.describe(
        'sessions that reached the main goal after a view of it, of all that reached it',
      ),
      trend: z.array(countSchema).describe('views by part of the trend'),
    }),
  ),
  more: countSchema.describe('pages that are not listed'),
})
export type PagesAnswer = z.infer<typeof answerSchema>
export type PageRow = PagesAnswer['pages'][number]

/**
 * Pages with all that is known of their views. Everything is exact but for times, which the site tells.
 * Complexity: events once; times and visitors of each view are kept until the end.
 */
export const pages = question({
  name: 'pages',
  summary:
    'pages with views, entries, exits, time, speed, trouble, strain and the conversions that passed there',
  asked,
  answer: answerSchema,
  example: { by: 'group' },

  adds: true,
  scan(block, sessions, spec, onto?: PageSums): PageSums {
    const { names, by, lens, timeZone } = spec
    const starts = equalParts(lens, timeZone, MOST_PARTS)
    const sums = onto ?? noSums(wordsOf(by, names).length, starts.length)
    const page = pageReader(block, by, names)
    const reached = goalEvent(block, spec, 'first')
    const load = new StrainLoad(names.strain ?? STRAIN_WEIGHTS)
    const { counts } = sums
    const lastSession = sums.lastSession!
    const row = (event: number) => rowOf(sums, page(event))
    const { startMs, visitor, returning, firstEvent, firstView } = block.sessions
    let part = 0
    for (const s of sessions) {
      while (part > 0 && startMs[s]! < starts[part]!) part--
      while (part + 1 < starts.length && startMs[s]! >= starts[part + 1]!) part++
      const won = reached(s)
      const last = firstEvent[s + 1]!
      const only = firstView[s + 1]! - firstView[s]! === 1
      let isEntry = true
      let at = 0
      sums.sessions++
      sums.parts[part]!++
      if (won >= 0) sums.converted++
      eachView(block, s, (event, end) => {
        at = row(event)
        sums.views++
        counts.views[at]!++
        sums.trend[part]![at]!++
        if (isEntry) {
          counts.entries[at]!++
          if (only) counts.bounces[at]!++
        }
        isEntry = false
        if (lastSession[at] !== sums.sessions) {
          lastSession[at] = sums.sessions
          counts.sessions[at]!++
          addPair(sums.visitors, at, 2 * visitor[s]! + (returning[s] ? 0 : 1))
          if (event <= won) counts.passed[at]!++
        }
        addView(sums, block, at, event, end, last)
      })
      if (!isEntry) counts.exits[at]!++
      eachViewWithSignals(block, s, (view, from, to) => {
        if (from === to) return
        for (let g = from; g < to; g++) load.add(block.signals.kind[g]!)
        const strain = Math.round(strainOf(load.take()) * STRAIN_PARTS)
        const of = row(block.views.event[view]!)
        counts.signals[of]! += to - from
        counts.strain[of]! += strain
        counts.strainSquares[of]! += strain * strain
      })
    }
    return sums
  },

  pack: packSums,
  merge: joinSums,

  finish({ sessions, views, converted, codes, counts, trend, parts, ...told }, spec) {
    const { by, most, only, names, lens, timeZone } = spec
    const words = wordsOf(by, names)
    const rows = codes.length
    const engaged = byCode(told.engaged, rows)
    const loads = byCode(told.loads, rows)
    const answers = byCode(told.answers, rows)
    const visitors = distinctVisitors(byCode(told.visitors, rows))
    const wordOf = (row: number) => words[codes[row]!]!
    const listed = codes
      .map((_, row) => row)
      .filter((row) => only === undefined || wordOf(row) === only)
      .sort((a, b) => counts.views[b]! - counts.views[a]! || (wordOf(a) < wordOf(b) ? -1 : 1))
    const starts = equalParts(lens, timeZone, MOST_PARTS)
    return {
      ...{ sessions, views, converted },
      parts: starts.map((startMs, k) => ({ startMs, sessions: parts[k]! })),
      pages: listed.slice(0, most).map((row) => {
        const of = (name: keyof typeof counts) => counts[name][row]!
        const [all, newOnes] = visitors[row]!
        const looked = engaged[row]!
        return {
          ...{ page: wordOf(row), pattern: by === 'group' ? names.groups.patterns[codes[row]!]! : '' },
          ...{ views: of('views'), clicks: of('clicks'), seen: rate(of('sessions'), sessions) },
          ...{ visitors: all, newVisitors: newOnes, entries: of('entries') },
          ...{ exits: rate(of('exits'), of('views')), bounces: rate(of('bounces'), of('entries')) },
          engaged: {
            told: looked.length,
            mean: looked.length ? of('engagedMs') / looked.length / 1000 : null,
            median: inSeconds(quantilesOf(looked, [0.5])[0]!),
          },
          read: rate(of('read'), of('depthTold')),
          load: { told: loads[row]!.length, p75: quantilesOf(loads[row]!, [0.75])[0]! },
          response: {
            told: answers[row]!.length,
            worked: of('worked'),
            p75: quantileAbove(answers[row]!, of('worked') - answers[row]!.length, 0.75),
          },
          ...{ notFound: of('notFound'), errors: of('errors'), signals: of('signals') },
          strain: meanOf({ n: of('views'), sum: of('strain'), squares: of('strainSquares') }, STRAIN_PARTS),
          passed: rate(of('passed'), converted),
          trend: trend.map((column) => column[row]!),
        }
      }),
      more: Math.max(0, listed.length - most),
    }
  },

  table: ({ pages: rows }) => rows.map(({ trend: _, ...row }) => row),
})

type Spec = SpecOf<typeof asked>

function wordsOf(by: Spec['by'], { groups, dictionaries }: Names): readonly string[] {
  return by === 'group' ? groups.names : by === 'url' ? dictionaries.page.values : dictionaries.text.values
}

/** Tells the page of a view. */
function pageReader({ events }: Block, by: Spec['by'], { groups }: Names): (event: number) => number {
  if (by === 'group') return (event) => groups.groupOf[events.page[event]!]!
  if (by === 'url') return (event) => events.page[event]!
  return (event) => events.text[event]!
}

function addView(sums: PageSums, block: Block, row: number, event: number, end: number, last: number): void {
  const { counts } = sums
  const { kind } = block.events
  let depth = -1
  let slowest = -1
  let worked = false
  for (let i = event + 1; i < end; i++) {
    switch (kind[i]) {
      case KIND_CODE.click:
        counts.clicks[row]!++
        worked = true
        break
      case KIND_CODE.input:
        worked = true
        break
      case KIND_CODE.scroll:
        depth = Math.max(depth, numberAt(block, i))
        break
      case KIND_CODE.error:
        counts.errors[row]!++
        break
      case KIND_CODE.freeze:
        slowest = Math.max(slowest, numberAt(block, i))
    }
  }
  if (depth >= 0) {
    counts.depthTold[row]!++
    if (depth >= READ_DEPTH) counts.read[row]!++
  }
  if (worked || slowest >= 0) counts.worked[row]!++
  if (slowest >= 0) addPair(sums.answers, row, slowest)
  if (numberAt(block, event) === 404) counts.notFound[row]!++
  const loadMs = amountAt(block, event)
  if (!Number.isNaN(loadMs)) addPair(sums.loads, row, loadMs)
  const ms = engagedMs(block, event, end, last)
  if (Number.isNaN(ms)) return
  addPair(sums.engaged, row, ms)
  counts.engagedMs[row]! += ms
}

/** By page how many visitors there are, and how many of them had not been there before. */
function distinctVisitors(pages: readonly Float64Array[]): [all: number, newOnes: number][] {
  let most = 0
  for (const visitors of pages) for (const one of visitors) most = Math.max(most, one)
  /** the page for which a visitor was counted last, plus 1 */
  const counted = new Uint32Array((most >>> 1) + 1)
  const countedNew = new Uint32Array((most >>> 1) + 1)
  return pages.map((visitors, row) => {
    let all = 0
    let newOnes = 0
    for (const one of visitors) {
      const visitor = one >>> 1
      if (counted[visitor] !== row + 1) all++
      counted[visitor] = row + 1
      if ((one & 1) === 0 || countedNew[visitor] === row + 1) continue
      countedNew[visitor] = row + 1
      newOnes++
    }
    return [all, newOnes]
  })
}

function inSeconds(ms: number | null): number | null {
  return ms === null ? null : ms / 1000
}
