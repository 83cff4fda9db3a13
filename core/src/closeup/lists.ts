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
  names: Names
}

type Listed = SessionSummary & { telling: number }

export interface WatchListResult {
  total: number
  sessions: SessionSummary[]
}

/** The first sessions of a selection, in an order to watch them in. */
export const watchList: Analysis<WatchListSpec, { total: number; first: Listed[] }, WatchListResult> = {
  scan(block, among, { selection, order, most, names }) {
    const selected = selectSessions(block, among, selection, names)
    const all = summarise(block, selected, names.dictionaries).sort(watchOrder(order))
    return { total: all.length, first: all.slice(0, most) }
  },
  merge: (a, b) => ({ total: a.total + b.total, first: [...a.first, ...b.first] }),
  finish({ total, first }, { order, most }) {
    const sorted = [...first].sort(watchOrder(order)).slice(0, most)
    return { total, sessions: sorted.map(({ telling: _, ...summary }) => summary) }
  },
}

export interface SessionIdsSpec {
  selection: Selection
  names: Names
}

/** Ids of the sessions of a selection, and how many it could have picked, in order of id. */
export const sessionIds: Analysis<
  SessionIdsSpec,
  { ids: number[]; base: number },
  { ids: number[]; base: number }
> = {
  scan(block, among, { selection, names }) {
    const { sessions, base } = selectSessions(block, among, selection, names)
    return { ids: [...sessions].map((s) => block.sessions.id[s]!), base: base.count() }
  },
  merge(a, b) {
    for (const id of b.ids) a.ids.push(id)
    return { ids: a.ids, base: a.base + b.base }
  },
  finish: ({ ids, base }) => ({ ids: ids.sort((a, b) => a - b), base }),
}

/** How many sessions a selection picks, and of how many. */
export const selectionSize: Analysis<
  SessionIdsSpec,
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
