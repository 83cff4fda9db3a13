import type { Pairs } from '../../stats/pairs.ts'
import { joinPairs, noPairs, packPairs } from '../../stats/pairs.ts'

/** What is counted of each page. */
export const PAGE_COUNTS = [
  'views',
  'sessions',
  'entries',
  'exits',
  'bounces',
  'clicks',
  /** views that told how far they went, and of them those that went to the end */
  'depthTold',
  'read',
  /** views of a page that was not there */
  'notFound',
  'errors',
  'signals',
  /** views on which something was worked with, so that there were answers to wait for */
  'worked',
  /** sessions that reached the main goal, after a view of it */
  'passed',
  /** of the strain of its views, in hundredths */
  'strain',
  'strainSquares',
  /** summed, in ms */
  'engagedMs',
] as const
export type PageCount = (typeof PAGE_COUNTS)[number]

/** What pages have to say, by code of the page. */
export interface PageSums {
  sessions: number
  views: number
  converted: number
  counts: Record<PageCount, Float64Array>
  /** a column of views for each part of the trend */
  trend: Float64Array[]
  /** sessions by part of the trend */
  parts: Float64Array
  /** twice the code of the visitor, and 1 more where it had not been there before, once for each session that viewed it */
  visitors: Pairs
  /** of each view that tells */
  engaged: Pairs
  loads: Pairs
  /** the slowest answer that a view told of */
  answers: Pairs
}

export function noSums(codes: number, parts: number): PageSums {
  return {
    ...{ sessions: 0, views: 0, converted: 0 },
    counts: Object.fromEntries(
      PAGE_COUNTS.map((name) => [name, new Float64Array(codes)]),
    ) as PageSums['counts'],
    trend: Array.from({ length: parts }, () => new Float64Array(codes)),
    parts: new Float64Array(parts),
    ...{ visitors: noPairs(), engaged: noPairs(), loads: noPairs(), answers: noPairs() },
  }
}

const PAIRS = ['visitors', 'engaged', 'loads', 'answers'] as const

export function packSums(sums: PageSums): PageSums {
  for (const name of PAIRS) packPairs(sums[name])
  return sums
}

/** Both together, put into the first. */
export function joinSums(a: PageSums, b: PageSums): PageSums {
  a.sessions += b.sessions
  a.views += b.views
  a.converted += b.converted
  for (const name of PAGE_COUNTS) addColumn(a.counts[name], b.counts[name])
  a.trend.forEach((column, k) => addColumn(column, b.trend[k]!))
  addColumn(a.parts, b.parts)
  for (const name of PAIRS) joinPairs(a[name], b[name])
  return a
}

function addColumn(a: Float64Array, b: Float64Array): void {
  for (let k = 0; k < a.length; k++) a[k]! += b[k]!
}
