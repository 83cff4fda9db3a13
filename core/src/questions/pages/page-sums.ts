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

/** What pages have to say: a row for each that was viewed, so that it does not matter how many there could be. */
export interface PageSums {
  sessions: number
  views: number
  converted: number
  /** code of the page of each row */
  codes: number[]
  counts: Record<PageCount, number[]>
  /** views by part of the trend, then by row */
  trend: number[][]
  /** sessions by part of the trend */
  parts: number[]
  /** twice the code of the visitor, and 1 more where it had not been there before, once for each session that viewed it */
  visitors: Pairs
  /** of each view that tells */
  engaged: Pairs
  loads: Pairs
  /** the slowest answer that a view told of */
  answers: Pairs
  /** while blocks are read: by code of the page its row plus 1, 0 = none yet; and by row the last session that viewed it */
  rows?: Uint32Array | undefined
  lastSession?: number[] | undefined
}

/** @param codes  pages there could be; @param parts  of the trend */
export function noSums(codes: number, parts: number): PageSums {
  return {
    ...{ sessions: 0, views: 0, converted: 0, codes: [] },
    counts: Object.fromEntries(PAGE_COUNTS.map((name) => [name, []])) as unknown as PageSums['counts'],
    trend: Array.from({ length: parts }, () => []),
    parts: new Array<number>(parts).fill(0),
    ...{ visitors: noPairs(), engaged: noPairs(), loads: noPairs(), answers: noPairs() },
    ...{ rows: new Uint32Array(codes), lastSession: [] },
  }
}

/** The row of a page, which is made where there is none yet. */
export function rowOf(sums: PageSums, code: number): number {
  const known = sums.rows![code]!
  if (known) return known - 1
  const row = addRow(sums, code)
  sums.rows![code] = row + 1
  sums.lastSession!.push(0)
  return row
}

function addRow({ codes, counts, trend }: PageSums, code: number): number {
  for (const name of PAGE_COUNTS) counts[name].push(0)
  for (const column of trend) column.push(0)
  return codes.push(code) - 1
}

const PAIRS = ['visitors', 'engaged', 'loads', 'answers'] as const

export function packSums({ rows: _, lastSession: __, ...sums }: PageSums): PageSums {
  for (const name of PAIRS) packPairs(sums[name])
  return sums
}

/** Both together, put into the first. */
export function joinSums(a: PageSums, b: PageSums): PageSums {
  const known = new Map(a.codes.map((code, row) => [code, row]))
  const rows = Uint32Array.from(b.codes, (code) => known.get(code) ?? addRow(a, code))
  a.sessions += b.sessions
  a.views += b.views
  a.converted += b.converted
  const add = (to: number[], from: readonly number[]) => from.forEach((n, row) => (to[rows[row]!]! += n))
  for (const name of PAGE_COUNTS) add(a.counts[name], b.counts[name])
  a.trend.forEach((column, k) => add(column, b.trend[k]!))
  b.parts.forEach((n, k) => (a.parts[k]! += n))
  for (const name of PAIRS) joinPairs(a[name], { ...b[name], codes: b[name].codes.map((row) => rows[row]!) })
  return a
}
