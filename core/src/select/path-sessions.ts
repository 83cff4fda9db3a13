import type { Block } from '../columns/block.ts'
import { isView, viewsBefore } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Names } from '../labels/names.ts'
import type { PathSelection, Selection } from './grammar/conditions.ts'
import type { Walk } from './grammar/walk.ts'
import { selectViewers } from './page-sessions.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty, NO_EVENT, noEvents } from './selected-sessions.ts'
import { momentsOfVisitors } from './visitor-sessions.ts'
import { isPlain, Walker } from './walker.ts'

/**
 * Sessions that walked a path of page groups, onward or back, views of one group after another being one: the same walk as
 * that of the question about paths. The moment is the view with which the path was complete; of those who saw the page it
 * goes out from, or of all.
 */
export function selectPath(
  block: Block,
  among: SessionSet,
  selection: PathSelection,
  names: Names,
  /** picks the sessions of another selection */
  select: (from: Selection) => SelectedSessions,
): SelectedSessions {
  const { direction, parts, ended, walk } = selection
  if (walk?.per === 'visitor') return momentsOfVisitors(block, among, selection.moments)
  const start = startsOf(block, among, selection, names, select)
  const chosen = empty(block)
  chosen.base = start.sessions
  if (walk && !(isPlain(walk) && parts.every((part) => typeof part !== 'object' || part === null)))
    return selectWalk(block, start, selection, walk, names)
  const { groupOf } = names.groups
  const wanted = parts.map((part) => (typeof part === 'string' ? names.groups.find(part) : -1))
  const { firstView } = block.sessions
  const { views } = block
  const step = direction === 'onward' ? 1 : -1
  for (const s of start.sessions) {
    const end = step === 1 ? firstView[s + 1]! : firstView[s]! - 1
    const [from, group] = beginOf(block, s, start.event[s]!, step, groupOf)
    let last = group
    let walked = 0
    let at = from
    let complete = -1
    for (; at !== end; at += step) {
      const code = groupOf[views.page[at]!]!
      if (code === last) continue
      if (walked === parts.length) break
      // A page that no group is called is walked by nobody.
      if (parts[walked] !== null && code !== wanted[walked]) break
      last = code
      walked++
      complete = at
    }
    if (walked < parts.length || (ended && at !== end)) continue
    chosen.sessions.add(s)
    chosen.event[s] = views.event[complete]!
  }
  return chosen
}

/** The sessions in which paths begin, and with which event. */
function startsOf(
  block: Block,
  among: SessionSet,
  { page, from }: PathSelection,
  names: Names,
  select: (from: Selection) => SelectedSessions,
): SelectedSessions {
  if (from) return select(from)
  return page === null
    ? { sessions: among, base: among, event: noEvents(block) }
    : selectViewers(block, among, { type: 'page', page }, names)
}

/** The first view of the way, and the page group it starts at; -1 = none. */
function beginOf(
  block: Block,
  s: number,
  event: number,
  step: 1 | -1,
  groupOf: Uint32Array,
): [from: number, group: number] {
  const { firstView } = block.sessions
  if (event === NO_EVENT) return [step === 1 ? firstView[s]! : firstView[s + 1]! - 1, -1]
  const view = viewsBefore(block.events, event)
  const viewed = isView(block.events, event)
  const group = groupOf[viewed ? block.views.page[view]! : block.events.page[event]!]!
  return [step === 1 ? view + (viewed ? 1 : 0) : view - 1, group]
}

/** The same where steps can be anything; where several paths begin in a session one of them is enough. */
function selectWalk(
  block: Block,
  start: Pick<SelectedSessions, 'sessions' | 'event'>,
  selection: PathSelection,
  walk: Walk,
  names: Names,
): SelectedSessions {
  const { parts, ended } = selection
  const chosen = empty(block)
  const walker = walkerOf(block, selection, walk, names)
  const wanted = parts.map((part) =>
    part === null ? -1 : walker.codeOf(typeof part === 'string' ? { kind: 'page', page: part } : part),
  )
  for (const s of start.sessions) {
    const starts = walker.starts(s, start.event[s]!)
    if (starts.length) chosen.base.add(s)
    for (const from of starts) {
      let walked = 0
      let complete = -1
      const goesOn = walker.walk(s, from, parts.length, (code, event) => {
        if (wanted[walked]! >= 0 && code !== wanted[walked]) return false
        walked++
        complete = event
        return true
      })
      if (walked < parts.length || (ended && goesOn)) continue
      chosen.sessions.add(s)
      chosen.event[s] = complete
      break
    }
  }
  return chosen
}

/** Walks as a selection of paths says. */
function walkerOf(block: Block, { page, direction, from }: PathSelection, walk: Walk, names: Names): Walker {
  const byPage = page !== null && !from && !walk.start && (walk.at ?? 'first') !== 'first'
  const views = byPage && { kinds: ['page' as const], page: { is: 'equal' as const, to: page } }
  return new Walker(block, names, { ...walk, ...(views && { start: views }) }, direction)
}

/** Where the paths of a selection begin in a block, and how they are walked. */
export function pathStarts(
  block: Block,
  among: SessionSet,
  selection: PathSelection,
  walk: Walk,
  names: Names,
  select: (from: Selection) => SelectedSessions,
): { start: SelectedSessions; walker: Walker } {
  return {
    start: startsOf(block, among, selection, names, select),
    walker: walkerOf(block, selection, walk, names),
  }
}
