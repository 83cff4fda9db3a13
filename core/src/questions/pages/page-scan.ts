import { BlockCache } from '../../columns/block-cache.ts'
import type { Block } from '../../columns/block.ts'
import { amountAt } from '../../columns/block.ts'
import { eachViewWithSignals } from '../../columns/each-view.ts'
import { Scratch } from '../../columns/scratch.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Names } from '../../labels/names.ts'
import { STRAIN_WEIGHTS } from '../../labels/strain-weights.ts'
import { goalEvent, mainGoal } from '../../select/goal-times.ts'
import { equalParts } from '../../select/trend.ts'
import { STRAIN_PARTS, StrainLoad, strainOf } from '../../signals/strain.ts'
import type { Context } from '../question.ts'
import type { PageSums } from './page-sums.ts'
import { addPacked, addRow, noSums, packSums } from './page-sums.ts'
import { CLICKS_SHIFT, DONE, NOT_TOLD, viewFacts } from './view-facts.ts'

/** By what views are told apart. */
export const PAGES_BY = ['group', 'url', 'title'] as const
export type PagesBy = (typeof PAGES_BY)[number]

/** Which pages are told apart, and what else their sums depend on. */
export type PagesSpec = Context & { by: PagesBy }

/** A trend in a row of a table has no room for more. */
const MOST_PARTS = 14

/** Where the parts of the trend begin, in ms. */
export function trendParts({ lens, timeZone }: Context): readonly number[] {
  return equalParts(lens, timeZone, MOST_PARTS)
}

/** What the codes of pages mean, by code. */
export function wordsOf(by: PagesBy, { groups, dictionaries }: Names): readonly string[] {
  return by === 'group' ? groups.names : by === 'url' ? dictionaries.page.values : dictionaries.text.values
}

/** Tells the page of a view, by its code. */
function pageReader({ events, views }: Block, by: PagesBy, { groups }: Names): (view: number) => number {
  const { page, event } = views
  if (by === 'url') return (view) => page[view]!
  if (by === 'title') return (view) => events.text[event[view]!]!
  const { groupOf } = groups
  return (view) => groupOf[page[view]!]!
}

/** The sums of all sessions of a block, packed; none where it has too many pages for so few views to be worth keeping. */
const kept = new BlockCache<{ sums?: PageSums }>(2)
/** Views a page must have on average: a row takes as much memory as the lists of so many. */
const WORTH_KEEPING = 16

/** Adds what some sessions of a block say of its pages. */
export function scanPages(block: Block, sessions: SessionSet, spec: PagesSpec, onto?: PageSums): PageSums {
  const starts = trendParts(spec)
  const sums = onto ?? noSums(wordsOf(spec.by, spec.names).length, starts.length)
  const whole = sessions.count() === block.sessions.count ? sumsOfAll(block, spec) : undefined
  if (!whole) addSessions(sums, block, sessions, spec, starts)
  else {
    addPacked(sums, whole)
    addTrend(sums, block, whole, spec, starts)
  }
  return sums
}

function sumsOfAll(block: Block, spec: PagesSpec): PageSums | undefined {
  const { by, names } = spec
  const key = JSON.stringify([by, mainGoal(spec)])
  return kept.remember(block, key, names, () => {
    const sums = noSums(wordsOf(by, names).length, 1)
    addSessions(sums, block, SessionSet.all(block.sessions.count), spec, [0])
    return sums.views < sums.codes.length * WORTH_KEEPING ? {} : { sums: packSums(sums) }
  }).sums
}

/** What is needed while the trend of one block is counted: by page or title its row. */
const scratch = new Scratch((codes) => ({ rowOf: new Uint32Array(codes) }))

/** Adds views and sessions of a whole block to the parts of the trend; its pages have rows already. */
function addTrend(
  sums: PageSums,
  block: Block,
  { codes, counts }: PageSums,
  spec: PagesSpec,
  starts: readonly number[],
): void {
  const { startMs, firstView, count } = block.sessions
  const rows = sums.growing!.rows
  const partOf = partFinder(startMs, starts)
  const sessions = new Uint32Array(starts.length)
  for (let s = 0; s < count; s++) sessions[partOf(s)]!++
  sessions.forEach((n, part) => (sums.parts[part]! += n))
  const add = (part: number, views: ArrayLike<number>, from: number) => {
    const trend = sums.trend[part]!
    codes.forEach((code, row) => (trend[rows[code]! - 1]! += views[from + row]!))
  }
  // Blocks are mostly of one time.
  const only = sessions.indexOf(count)
  if (only >= 0) return add(only, counts.views, 0)
  const [pageOf, rowOf] = rowsOfViews(block, codes, spec)
  const views = new Uint32Array(starts.length * codes.length)
  for (let s = 0; s < count; s++) {
    const from = partOf(s) * codes.length
    const end = firstView[s + 1]!
    for (let v = firstView[s]!; v < end; v++) views[from + rowOf[pageOf[v]!]!]!++
  }
  for (let part = 0; part < starts.length; part++) add(part, views, part * codes.length)
}

/** A column with a code for each view, and by that code the row among these pages. Valid until the next block is counted. */
function rowsOfViews(
  { events, views, pages }: Block,
  codes: readonly number[],
  { by, names }: PagesSpec,
): [ArrayLike<number>, Uint32Array] {
  if (by === 'title') {
    const { rowOf } = scratch.lend(names.dictionaries.text.size)
    codes.forEach((code, row) => (rowOf[code] = row))
    return [Uint32Array.from(views.event, (event) => events.text[event]!), rowOf]
  }
  const { rowOf } = scratch.lend(names.dictionaries.page.size)
  const rows = new Map(codes.map((code, row) => [code, row]))
  for (const page of pages.page) {
    const row = rows.get(by === 'url' ? page : names.groups.groupOf[page]!)
    // On some pages something happened, but they were not viewed.
    if (row !== undefined) rowOf[page] = row
  }
  return [views.page, rowOf]
}

/** Tells in which part of the trend a session starts; fastest where they are asked for in about the order of time. */
function partFinder(startMs: Float64Array, starts: readonly number[]): (session: number) => number {
  let part = 0
  return (s) => {
    const ms = startMs[s]!
    while (part > 0 && ms < starts[part]!) part--
    while (part + 1 < starts.length && ms >= starts[part + 1]!) part++
    return part
  }
}

function addSessions(
  sums: PageSums,
  block: Block,
  sessions: SessionSet,
  spec: PagesSpec,
  starts: readonly number[],
): void {
  const { names, by } = spec
  const codeOf = pageReader(block, by, names)
  const reached = goalEvent(block, spec, 'first')
  const load = new StrainLoad(names.strain ?? STRAIN_WEIGHTS)
  const { engaged, done, rare } = viewFacts(block)
  const { counts, growing } = sums
  const { rows, lastSession, ...lists } = growing!
  const { views, entries, exits, clicks, engagedTold, engagedMs, passed } = counts
  const { startMs, visitor, returning, firstView, firstSignal } = block.sessions
  const { event: eventOf } = block.views
  const partOf = partFinder(startMs, starts)
  let nextRare = 0
  for (const s of sessions) {
    const part = partOf(s)
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
}
