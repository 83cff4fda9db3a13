import type { FinishInParts } from '../../columns/scan.ts'
import type { Lists } from '../../stats/lists.ts'
import { GrowingLists, listOf, quantileAbove, together } from '../../stats/lists.ts'
import { quantileOfWhole, quantilesOf } from '../../stats/quantile.ts'

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
  /** views that told how long they were looked at, and how long in all, in ms */
  'engagedTold',
  'engagedMs',
  /** views that told how long the page took to load */
  'loadTold',
  /** views that told of a slow answer */
  'answerTold',
] as const
export type PageCount = (typeof PAGE_COUNTS)[number]

/**
 * What is not added up of some pages, such as how long each view of them was looked at. It lies in memory that threads
 * share, and must not be changed: what is known of a whole block is kept.
 */
export interface PageLists {
  /** codes of the pages, in ascending order; one list of each kind for each */
  codes: Uint32Array
  /** more than any number in the lists of visitors */
  visitorsEnd: number
  /** twice the code of the visitor, and 1 more where it had not been there before, once for each session that viewed it */
  visitors: Lists<Uint32Array>
  /** of each view that tells */
  engaged: Lists<Uint32Array>
  loads: Lists<Float64Array>
  /** the slowest answer that a view told of */
  answers: Lists<Float64Array>
}

/** What the lists of a page come to. */
export interface PageTold {
  visitors: number
  newVisitors: number
  /** ms; null where no view tells */
  engagedMedian: number | null
  loadP75: number | null
  answerP75: number | null
}

/** What pages have to say: a row for each that was viewed, so that it does not matter how many there could be. */
export interface PageSums {
  sessions: number
  views: number
  converted: number
  /** code of the page of each row; in ascending order once packed */
  codes: number[]
  counts: Record<PageCount, number[]>
  /** views by part of the trend, then by row */
  trend: number[][]
  /** sessions by part of the trend */
  parts: number[]
  /** until finished, of the same page in any number of them */
  lists: PageLists[]
  /** once finished, by row */
  told?: PageTold[]
  /** while blocks are read */
  growing?: GrowingPages | undefined
}

interface GrowingPages {
  /** by code of the page its row plus 1, 0 = none yet */
  rows: Uint32Array
  /** by row the last session that viewed it, by its number among those that were read */
  lastSession: number[]
  visitors: GrowingLists<Uint32Array>
  engaged: GrowingLists<Uint32Array>
  loads: GrowingLists<Float64Array>
  answers: GrowingLists<Float64Array>
}

/** @param codes  pages there could be; @param parts  of the trend */
export function noSums(codes: number, parts: number): PageSums {
  return {
    ...nothing(parts),
    growing: {
      ...{ rows: new Uint32Array(codes), lastSession: [] },
      ...{ visitors: new GrowingLists(Uint32Array), engaged: new GrowingLists(Uint32Array) },
      ...{ loads: new GrowingLists(Float64Array), answers: new GrowingLists(Float64Array) },
    },
  }
}

function nothing(parts: number): PageSums {
  return {
    ...{ sessions: 0, views: 0, converted: 0, codes: [], counts: noCounts(), lists: [] },
    trend: Array.from({ length: parts }, () => []),
    parts: new Array<number>(parts).fill(0),
  }
}

const noCounts = () => eachCount(() => [])

function eachCount(make: (name: PageCount) => number[]): PageSums['counts'] {
  return Object.fromEntries(PAGE_COUNTS.map((name) => [name, make(name)])) as PageSums['counts']
}

/** Makes a row for a page that has none yet. */
export function addRow({ codes, counts, trend, growing }: PageSums, code: number): number {
  for (const name of PAGE_COUNTS) counts[name].push(0)
  for (const column of trend) column.push(0)
  const { rows, lastSession, ...lists } = growing!
  for (const list of Object.values(lists)) list.addRow()
  lastSession.push(0)
  rows[code] = codes.push(code)
  return codes.length - 1
}

/** Adds what is packed to what is still growing, but for the trend. Complexity: pages. */
export function addPacked(sums: PageSums, packed: PageSums): void {
  const { counts, growing, lists } = sums
  sums.sessions += packed.sessions
  sums.views += packed.views
  sums.converted += packed.converted
  const rowOf = packed.codes.map((code) => (growing!.rows[code]! || addRow(sums, code) + 1) - 1)
  for (const name of PAGE_COUNTS) {
    const from = packed.counts[name]
    rowOf.forEach((row, k) => (counts[name][row]! += from[k]!))
  }
  lists.push(...packed.lists)
}

/** In order of code, and without what is needed only while blocks are read. */
export function packSums(sums: PageSums): PageSums {
  const { growing, codes, counts, trend, lists, ...rest } = sums
  if (!growing) return sums
  const order = codes.map((_, row) => row).sort((a, b) => codes[a]! - codes[b]!)
  const inOrder = (column: readonly number[]) => order.map((row) => column[row]!)
  return {
    ...rest,
    codes: inOrder(codes),
    counts: eachCount((name) => inOrder(counts[name])),
    trend: trend.map(inOrder),
    lists: [...lists, packLists(growing, codes, order)],
  }
}

function packLists(growing: GrowingPages, codes: readonly number[], order: readonly number[]): PageLists {
  const visitors = growing.visitors.packed(order)
  let most = 0
  for (let k = 0; k < visitors.numbers.length; k++) most = Math.max(most, visitors.numbers[k]!)
  return {
    ...{ codes: Uint32Array.from(order, (row) => codes[row]!), visitors, visitorsEnd: most + 1 },
    ...{ engaged: growing.engaged.packed(order), loads: growing.loads.packed(order) },
    answers: growing.answers.packed(order),
  }
}

/** Both together. Complexity: pages. */
export function joinSums(a: PageSums, b: PageSums): PageSums {
  const [left, right] = [packSums(a), packSums(b)]
  const rows = rowsOfBoth(left.codes, right.codes)
  const both = (of: readonly number[], and: readonly number[]) =>
    rows.map((row) => (of[row.a] ?? 0) + (and[row.b] ?? 0))
  return {
    sessions: left.sessions + right.sessions,
    views: left.views + right.views,
    converted: left.converted + right.converted,
    codes: rows.map((row) => left.codes[row.a] ?? right.codes[row.b]!),
    counts: eachCount((name) => both(left.counts[name], right.counts[name])),
    trend: left.trend.map((column, k) => both(column, right.trend[k]!)),
    parts: left.parts.map((n, k) => n + right.parts[k]!),
    lists: [...left.lists, ...right.lists],
  }
}

/** By row of both together that of each, −1 where it has none. Both are in ascending order. */
function rowsOfBoth(a: readonly number[], b: readonly number[]): { a: number; b: number }[] {
  const rows: { a: number; b: number }[] = []
  let [i, j] = [0, 0]
  while (i < a.length || j < b.length) {
    const [ofA, ofB] = [a[i] ?? Infinity, b[j] ?? Infinity]
    rows.push({ a: ofA <= ofB ? i++ : -1, b: ofB <= ofA ? j++ : -1 })
  }
  return rows
}

/** Pages are finished one by one: what threads have found is cut between pages, by code. */
export const pageParts: FinishInParts<object, PageSums> = {
  cuts({ codes, counts }, count) {
    const sizes = codes.map((_, row) => counts.views[row]! + counts.sessions[row]!)
    const all = sizes.reduce((a, b) => a + b, 0)
    if (all < WORTH_CUTTING) return undefined
    const cuts: number[] = []
    let before = 0
    for (let row = 0; row < codes.length && cuts.length < count - 1; row++) {
      before += sizes[row]!
      if (before >= ((cuts.length + 1) * all) / count) cuts.push(codes[row]! + 1)
    }
    while (cuts.length < count - 1) cuts.push(Infinity)
    return cuts
  },
  split(sums, cuts) {
    const { codes, counts, trend, lists } = sums
    const rowAt = (code: number) => {
      const row = codes.findIndex((own) => own >= code)
      return row < 0 ? codes.length : row
    }
    return [0, ...cuts].map((cut, k) => {
      const [from, to] = [rowAt(cut), rowAt(cuts[k] ?? Infinity)]
      return {
        // What is not of one page stands in the first part.
        ...(k === 0 ? sums : nothing(trend.length)),
        codes: codes.slice(from, to),
        counts: eachCount((name) => counts[name].slice(from, to)),
        trend: trend.map((column) => column.slice(from, to)),
        // Of these only what belongs to the pages of the part is read.
        lists,
      }
    })
  },
  finishPart: (part) => withTold(part),
  join: (parts) => ({
    ...parts[0]!,
    codes: parts.flatMap(({ codes }) => codes),
    counts: eachCount((name) => parts.flatMap(({ counts }) => counts[name])),
    trend: parts[0]!.trend.map((_, k) => parts.flatMap(({ trend }) => trend[k]!)),
    told: parts.flatMap(({ told }) => told!),
  }),
}

/** Fewer numbers are handed over faster than they are cut. */
const WORTH_CUTTING = 100_000

/** With what the lists come to in place of the lists. Complexity: linear. */
export function withTold(sums: PageSums): PageSums {
  if (sums.told) return sums
  const { lists, ...packed } = packSums(sums)
  const { worked } = packed.counts
  const countVisitors = visitorCounter(lists)
  /** by list the row that is read next */
  const next = new Uint32Array(lists.length)
  return {
    ...packed,
    lists: [],
    told: packed.codes.map((code, row) => {
      const own: [PageLists, number][] = []
      lists.forEach((one, k) => {
        const { codes } = one
        while (codes[next[k]!]! < code) next[k]!++
        if (codes[next[k]!] === code) own.push([one, next[k]!])
      })
      const answers = together(
        Float64Array,
        own.map(([{ answers }, at]) => listOf(answers, at)),
      )
      const engaged = own.map(([{ engaged }, at]) => listOf(engaged, at))
      const loads = own.map(([{ loads }, at]) => listOf(loads, at))
      return {
        ...countVisitors(
          own.map(([{ visitors }, at]) => listOf(visitors, at)),
          row,
        ),
        engagedMedian: quantileOfWhole(together(Uint32Array, engaged), 0.5),
        loadP75: quantilesOf(together(Float64Array, loads), [0.75])[0]!,
        answerP75: quantileAbove(answers, worked[row]! - answers.length, 0.75),
      }
    }),
  }
}

/** Tells of a row how many visitors there are, and how many of them had not been there before; asked in order of rows. */
function visitorCounter(
  lists: readonly PageLists[],
): (own: readonly Uint32Array[], row: number) => Pick<PageTold, 'visitors' | 'newVisitors'> {
  const end = lists.reduce((most, { visitorsEnd }) => Math.max(most, visitorsEnd), 0)
  /** twice the row for which a visitor was counted last, plus 2; and 1 more where it was counted as a new one, too */
  const counted = new Uint32Array((end >>> 1) + 1)
  return (own, row) => {
    const mark = 2 * row + 2
    let visitors = 0
    let newVisitors = 0
    for (const list of own)
      for (let k = 0; k < list.length; k++) {
        const one = list[k]!
        const visitor = one >>> 1
        const before = counted[visitor]!
        if (before < mark) visitors++
        else if ((one & 1) === 0 || before > mark) continue
        newVisitors += one & 1
        counted[visitor] = mark + (one & 1)
      }
    return { visitors, newVisitors }
  }
}
