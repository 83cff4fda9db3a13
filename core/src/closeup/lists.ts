import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { Selection } from './selection.ts'
import { selectSessions } from './selection.ts'
import type { SessionSummary, WatchOrder } from './watch.ts'
import { summarise, watchOrder } from './watch.ts'

export interface WatchListSpec {
  selection: Selection
  order: WatchOrder
  /** how many, from the first: what lies before a page of the list included */
  most: number
  /** only those after this one */
  after?: ListPlace | undefined
  /** only those that began in [fromMs, toMs); who is selected stays the same */
  within?: { fromMs: number; toMs: number } | undefined
  names: Names
}

type Listed = SessionSummary & { telling: number }

/** Where a session stands in any order. */
export type ListPlace = Pick<Listed, 'telling' | 'durationMs' | 'startMs' | 'id'>

export interface WatchListResult {
  /** in the whole list */
  total: number
  /** the last one given, where others follow */
  last: ListPlace | undefined
  sessions: SessionSummary[]
}

/** The first sessions of a selection, in an order to watch them in. */
export const watchList: Analysis<
  WatchListSpec,
  { total: number; left: number; first: Listed[] },
  WatchListResult
> = {
  scan(block, among, { selection, order, most, after, within, names }) {
    const { startMs } = block.sessions
    const looked = within
      ? among.where((s) => startMs[s]! >= within.fromMs && startMs[s]! < within.toMs)
      : among
    // Most blocks lie outside as a whole.
    if (looked.isEmpty()) return { total: 0, left: 0, first: [] }
    const selected = selectSessions(block, looked, selection, names)
    const compare = watchOrder(order)
    const all = summarise(block, selected, names.dictionaries)
    const left = after ? all.filter((one) => compare(after, one) < 0) : all
    return { total: all.length, left: left.length, first: left.sort(compare).slice(0, most) }
  },
  merge: (a, b) => ({ total: a.total + b.total, left: a.left + b.left, first: [...a.first, ...b.first] }),
  finish({ total, left, first }, { order, most }) {
    const sorted = [...first].sort(watchOrder(order)).slice(0, most)
    const last = sorted[sorted.length - 1]
    return {
      total,
      last: left > sorted.length ? last : undefined,
      sessions: sorted.map(({ telling: _, ...summary }) => summary),
    }
  },
}

export interface SelectionSpec {
  selection: Selection
  names: Names
}

export interface SessionIdsSpec extends SelectionSpec {
  /** only the highest so many; all where absent */
  most?: number | undefined
}

/** Ids of the sessions of a selection, in order. */
export const sessionIds: Analysis<SessionIdsSpec, { ids: number[] }, { ids: number[] }> = {
  scan(block, among, { selection, most, names }) {
    const { sessions } = selectSessions(block, among, selection, names)
    return {
      ids: highest(
        [...sessions].map((s) => block.sessions.id[s]!),
        most,
      ),
    }
  },
  merge(a, b) {
    for (const id of b.ids) a.ids.push(id)
    return a
  },
  finish: ({ ids }, { most }) => ({ ids: highest(ids, most) }),
}

function highest(ids: number[], most = ids.length): number[] {
  ids.sort((a, b) => a - b)
  return ids.slice(Math.max(0, ids.length - most))
}

/** How many sessions a selection picks, and of how many. */
export const selectionSize: Analysis<
  SelectionSpec,
  { hits: number; base: number },
  { hits: number; base: number }
> = {
  scan(block, among, { selection, names }) {
    const { sessions, base } = selectSessions(block, among, selection, names)
    return { hits: sessions.count(), base: base.count() }
  },
  merge: (a, b) => ({ hits: a.hits + b.hits, base: a.base + b.base }),
  finish: (total) => total,
}
