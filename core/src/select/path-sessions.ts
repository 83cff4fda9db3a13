import type { Block } from '../columns/block.ts'
import { isView, viewsBefore } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Names } from '../labels/names.ts'
import type { Selection } from './grammar/conditions.ts'
import { selectViewers } from './page-sessions.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty, noEvents } from './selected-sessions.ts'

/**
 * Sessions that walked a path of page groups, onward or back, views of one group after another being one: the same walk as
 * that of the question about paths. The moment is the view with which the path was complete; of those who saw the page it
 * goes out from, or of all.
 */
export function selectPath(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'path' }>,
  names: Names,
): SelectedSessions {
  const { page, direction, parts, ended } = selection
  const start =
    page === null
      ? { sessions: among, event: noEvents(block) }
      : selectViewers(block, among, { type: 'page', page }, names)
  const chosen = empty(block)
  chosen.base = start.sessions
  const { groupOf } = names.groups
  const wanted = parts.map((part) => (part === null ? -1 : names.groups.find(part)))
  const { firstView } = block.sessions
  const { views } = block
  const step = direction === 'onward' ? 1 : -1
  for (const s of start.sessions) {
    const end = step === 1 ? firstView[s + 1]! : firstView[s]! - 1
    const [from, group] = beginOf(block, s, start.event[s]!, page, step, groupOf)
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

/** The first view of the way, and the page group it starts at; -1 = none. */
function beginOf(
  block: Block,
  s: number,
  event: number,
  page: string | null,
  step: 1 | -1,
  groupOf: Uint32Array,
): [from: number, group: number] {
  const { firstView } = block.sessions
  if (page === null) return [step === 1 ? firstView[s]! : firstView[s + 1]! - 1, -1]
  const view = viewsBefore(block.events, event)
  const viewed = isView(block.events, event)
  const group = groupOf[viewed ? block.views.page[view]! : block.events.page[event]!]!
  return [step === 1 ? view + (viewed ? 1 : 0) : view - 1, group]
}
