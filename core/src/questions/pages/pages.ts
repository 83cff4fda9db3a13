import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt } from '../../columns/block.ts'
import { eachViewWithSignals } from '../../columns/each-view.ts'
import type { Names } from '../../labels/names.ts'
import { STRAIN_WEIGHTS } from '../../labels/strain-weights.ts'
import { goalEvent } from '../../select/goal-times.ts'
import { equalParts } from '../../select/trend.ts'
import { STRAIN_PARTS, StrainLoad, strainOf } from '../../signals/strain.ts'
import { meanOf, meanShape } from '../../stats/mean.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import type { SpecOf } from '../question.ts'
import { question } from '../question.ts'
import type { PageSums } from './page-sums.ts'
import { addRow, joinSums, noSums, packSums, pageParts, withTold } from './page-sums.ts'
import { CLICKS_SHIFT, DONE, NOT_TOLD, READ_DEPTH, viewFacts } from './view-facts.ts'

/** By what views are told apart. */
export const PAGES_BY = ['group', 'url', 'title'] as const
export type PagesBy = (typeof PAGES_BY)[number]

/** A trend in a row of a table has no room for more. */
const MOST_PARTS = 14

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
    const codeOf = pageReader(block, by, names)
    const reached = goalEvent(block, spec, 'first')
    const load = new StrainLoad(names.strain ?? STRAIN_WEIGHTS)
    const { engaged, done, rare } = viewFacts(block)
    const { counts, growing } = sums
    const { rows, lastSession, ...lists } = growing!
    const { views, entries, exits, clicks, engagedTold, engagedMs, passed } = counts
    const { startMs, visitor, returning, firstView, firstSignal } = block.sessions
    const { event: eventOf } = block.views
    let part = 0
    let nextRare = 0
    for (const s of sessions) {
      while (part > 0 && startMs[s]! < starts[part]!) part--
      while (part + 1 < starts.length && startMs[s]! >= starts[part + 1]!) part++
      const trend = sums.trend[part]!
      const won = reached(s)
      const number = ++sums.sessions
      sums.parts[part]!++
      if (won >= 0) sums.converted++
      const [from, to] = [firstView[s]!, firstView[s + 1]!]
      if (from === to) continue
      const who = 2 * visitor[s]! + (returning[s] ? 0 : 1)
      sums.views += to - from
      let at = 0
      for (let v = from; v < to; v++) {
        const code = codeOf(v)
        at = rows[code]! - 1
        if (at < 0) at = addRow(sums, code)
        views[at]!++
        trend[at]!++
        if (v === from) entries[at]!++
        if (lastSession[at] !== number) {
          lastSession[at] = number
          counts.sessions[at]!++
          lists.visitors.add(at, who)
          if (won >= 0 && eventOf[v]! <= won) passed[at]!++
        }
        const ms = engaged[v]!
        if (ms !== NOT_TOLD) {
          engagedTold[at]!++
          engagedMs[at]! += ms
          lists.engaged.add(at, ms)
        }
        const what = done[v]!
        clicks[at]! += what >>> CLICKS_SHIFT
        if (what & DONE.worked) counts.worked[at]!++
        if (what & DONE.depthTold) counts.depthTold[at]!++
        if (what & DONE.read) counts.read[at]!++
        if (what & DONE.notFound) counts.notFound[at]!++
        if (what & DONE.loadTold) {
          counts.loadTold[at]!++
          lists.loads.add(at, amountAt(block, eventOf[v]!))
        }
        if (what & DONE.rare) {
          while (rare.view[nextRare]! < v) nextRare++
          counts.errors[at]! += rare.errors[nextRare]!
          const slowest = rare.slowest[nextRare]!
          if (slowest >= 0) {
            counts.answerTold[at]!++
            lists.answers.add(at, slowest)
          }
        }
      }
      exits[at]!++
      if (to - from === 1) counts.bounces[at]!++
      if (firstSignal[s] === firstSignal[s + 1]) continue
      eachViewWithSignals(block, s, (view, first, end) => {
        if (first === end) return
        for (let g = first; g < end; g++) load.add(block.signals.kind[g]!)
        const strain = Math.round(strainOf(load.take()) * STRAIN_PARTS)
        const of = rows[codeOf(view)]! - 1
        counts.signals[of]! += end - first
        counts.strain[of]! += strain
        counts.strainSquares[of]! += strain * strain
      })
    }
    return sums
  },

  pack: packSums,
  merge: joinSums,
  parts: pageParts,

  finish(total, spec) {
    const { by, most, only, names, lens, timeZone } = spec
    const { sessions, views, converted, codes, counts, trend, parts, told } = withTold(total)
    const words = wordsOf(by, names)
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
        const own = told![row]!
        return {
          ...{ page: wordOf(row), pattern: by === 'group' ? names.groups.patterns[codes[row]!]! : '' },
          ...{ views: of('views'), clicks: of('clicks'), seen: rate(of('sessions'), sessions) },
          ...{ visitors: own.visitors, newVisitors: own.newVisitors, entries: of('entries') },
          ...{ exits: rate(of('exits'), of('views')), bounces: rate(of('bounces'), of('entries')) },
          engaged: {
            told: of('engagedTold'),
            mean: of('engagedTold') ? of('engagedMs') / of('engagedTold') / 1000 : null,
            median: inSeconds(own.engagedMedian),
          },
          read: rate(of('read'), of('depthTold')),
          load: { told: of('loadTold'), p75: own.loadP75 },
          response: { told: of('answerTold'), worked: of('worked'), p75: own.answerP75 },
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

/** Tells the page of a view, by its code. */
function pageReader({ events, views }: Block, by: Spec['by'], { groups }: Names): (view: number) => number {
  const { page, event } = views
  if (by === 'url') return (view) => page[view]!
  if (by === 'title') return (view) => events.text[event[view]!]!
  const { groupOf } = groups
  return (view) => groupOf[page[view]!]!
}

function inSeconds(ms: number | null): number | null {
  return ms === null ? null : ms / 1000
}
