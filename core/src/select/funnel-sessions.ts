import type { Block } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Names } from '../labels/names.ts'
import { leakOf, leakReader, reasonWith } from './chains/leaks.ts'
import { funnelWalk } from './chains/walk.ts'
import type { Selection } from './grammar/conditions.ts'
import { DEFAULT_OPTIONS } from './grammar/funnel-options.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty } from './selected-sessions.ts'
import { needsErrors } from './selection-needs.ts'
import { momentsOfVisitors } from './visitor-sessions.ts'

/** @throws RangeError where nobody found out first what must be known: see FindNeeds */
export function selectFunnel(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'funnel' }>,
  names: Names,
): SelectedSessions {
  const { steps, options = DEFAULT_OPTIONS, step, side, leak, page } = selection
  const chosen = empty(block)
  if (options.per === 'visitor') return momentsOfVisitors(block, among, selection.moments)
  const toGroup = page === undefined ? undefined : page === null ? 0 : names.groups.find(page)
  const { depths, event, events, lasts } = funnelWalk(block, among, steps, options, names)
  /** those that reached at least and at most so many steps */
  const reached = (least: number, most: number) =>
    among.whereCode(
      depths,
      Uint8Array.from({ length: steps.length + 1 }, (_, depth) => (depth >= least && depth <= most ? 1 : 0)),
    )
  // Who reached a step is of those who entered, and who entered of all; what they did then is of those who reached it.
  chosen.base =
    side === 'reached' ? (step ? reached(1, steps.length) : among) : reached(step + 1, steps.length)
  if (side !== 'dropped') {
    chosen.sessions = side === 'continued' ? reached(step + 2, steps.length) : reached(step + 1, steps.length)
    if (events) chosen.event.set(events(step))
    else chosen.sessions.forEach((s) => (chosen.event[s] = event(s, step)))
    return chosen
  }
  if (step + 1 === steps.length) return chosen
  const last = lasts(step)
  chosen.event.set(last)
  chosen.sessions = reached(step + 1, step + 1)
  if (needsErrors(selection)) {
    if (!selection.errors) throw new RangeError('a leak must be asked for its errors first')
    const counting = new Set(selection.errors)
    const read = leakReader(block, names)
    chosen.sessions = chosen.sessions.where((s) => {
      const leakHere = leakOf(reasonWith(read.errors(s, last[s]!), counting, read.reason(s, last[s]!)))
      return (
        (leak === undefined || leakHere.kind === leak) &&
        (toGroup === undefined || leakHere.toGroup === toGroup)
      )
    })
  }
  return chosen
}
