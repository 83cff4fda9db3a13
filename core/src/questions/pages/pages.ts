import { z } from 'zod'
import { STRAIN_PARTS } from '../../signals/strain.ts'
import { meanOf, meanShape } from '../../stats/mean.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import { PAGES_BY, scanPages, trendParts, wordsOf } from './page-scan.ts'
import { joinSums, packSums, pageParts, withTold } from './page-sums.ts'
import { READ_DEPTH } from './view-facts.ts'

export { PAGES_BY, type PagesBy } from './page-scan.ts'

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
      notFound: countSchema.describe('views of a page that was not there or failed'),
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
 * Complexity: views once, of blocks that lie in the lens as a whole only to count the trend: what else they have to say is
 * kept. Times and visitors of each view stand until the end.
 */
export const pages = question({
  name: 'pages',
  summary:
    'pages with views, entries, exits, time, speed, trouble, strain and the conversions that passed there',
  asked,
  answer: answerSchema,
  example: { by: 'group' },

  adds: true,
  scan: scanPages,

  pack: packSums,
  merge: joinSums,
  parts: pageParts,

  finish(total, spec) {
    const { by, most, only, names } = spec
    const { sessions, views, converted, codes, counts, trend, parts, told } = withTold(total)
    const words = wordsOf(by, names)
    const wordOf = (row: number) => words[codes[row]!]!
    const listed = codes
      .map((_, row) => row)
      .filter((row) => only === undefined || wordOf(row) === only)
      .sort((a, b) => counts.views[b]! - counts.views[a]! || (wordOf(a) < wordOf(b) ? -1 : 1))
    const starts = trendParts(spec)
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

function inSeconds(ms: number | null): number | null {
  return ms === null ? null : ms / 1000
}
