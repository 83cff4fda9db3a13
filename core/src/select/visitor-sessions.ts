import type { Block } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import { lowerBound } from '../stats/lower-bound.ts'
import type { VisitorMoments } from './grammar/conditions.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty } from './selected-sessions.ts'

/**
 * The visitors of a selection over visitors, each by one session.
 *
 * @throws RangeError where nobody found out which visitors are meant
 */
export function momentsOfVisitors(
  block: Block,
  among: SessionSet,
  moments: VisitorMoments | undefined,
): SelectedSessions {
  if (!moments) throw new RangeError('a selection over visitors must be asked for its visitors first')
  const chosen = empty(block)
  const { id, firstEvent } = block.sessions
  among.forEach((s) => {
    if (placeOf(id[s]!, moments.base) >= 0) chosen.base.add(s)
    const place = placeOf(id[s]!, moments.sessions)
    if (place < 0) return
    chosen.sessions.add(s)
    chosen.event[s] = firstEvent[s]! + moments.events[place]!
  })
  return chosen
}

/** Where a number lies among ascending ones; -1 where it does not. */
function placeOf(number: number, ascending: Float64Array): number {
  const at = lowerBound(ascending, number)
  return ascending[at] === number ? at : -1
}
