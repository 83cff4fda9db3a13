import { oncePer } from '../columns/block-cache.ts'
import type { Block } from '../columns/block.ts'
import { SessionSet } from '../columns/session-set.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import type { EventCondition } from '../labels/event-condition.ts'
import type { Names } from '../labels/names.ts'
import { actTest } from './acts-on-page.ts'
import type { Selection } from './grammar/conditions.ts'
import type { EventList } from './matching-events.ts'
import { eventsWhere } from './matching-events.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty, noEvents } from './selected-sessions.ts'

/** A selection of what happened on one page. */
type AboutPage = Selection & { page: string }

/** Sessions that clicked as the selection says, the moment being the first such click; of those that saw the page. */
export function selectClicks(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'clicks' }>,
  names: Names,
): SelectedSessions {
  const group = names.groups.find(selection.page)
  const family = selection.selector === undefined ? undefined : names.families.find(selection.selector)
  const chosen = empty(block)
  chosen.base = selectViewers(block, among, selection, names).sessions
  const { page, target } = block.events
  const isSuch = actTest(block, selection.which, names)
  for (const s of among)
    for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
      if (names.groups.groupOf[page[i]!] !== group || !isSuch(i)) continue
      if (family !== undefined && names.families.familyOf[target[i]!] !== family) continue
      chosen.sessions.add(s)
      chosen.base.add(s)
      chosen.event[s] = i
      break
    }
  return chosen
}

/** Sessions that met a signal, the moment being the first time; of those that saw the page, where one is named. */
export function selectSignal(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'signal' }>,
  names: Names,
): SelectedSessions {
  const group = names.groups.find(selection.page)
  const family = names.families.find(selection.selector)
  const kind = SIGNAL_KINDS.indexOf(selection.kind)
  const chosen = empty(block)
  chosen.base = selectViewers(block, among, selection, names).sessions
  const { signals, events } = block
  for (const s of among)
    for (let i = block.sessions.firstSignal[s]!; i < block.sessions.firstSignal[s + 1]!; i++)
      if (
        signals.kind[i] === kind &&
        names.families.familyOf[events.target[signals.event[i]!]!] === family &&
        names.groups.groupOf[events.page[signals.event[i]!]!] === group
      ) {
        chosen.sessions.add(s)
        chosen.base.add(s)
        chosen.event[s] = signals.event[i]!
        break
      }
  return chosen
}

/** Sessions with a view of the page, the moment being the first of them. */
export function selectViewers(
  block: Block,
  among: SessionSet,
  selection: AboutPage,
  names: Names,
): SelectedSessions {
  const { count } = block.sessions
  const bits = new Uint32Array((count + 31) >>> 5)
  const event = noEvents(block)
  const lists = eventsWhere(block, viewsOf(selection), names, true)
  const inTurn = lists.length === 1 && lists[0]!.inTurn
  for (const found of lists)
    for (let r = found.ranges.length - 2; r >= 0; r -= 2)
      if (inTurn) takeFirst(found, found.ranges[r]!, found.ranges[r + 1]!, bits, event)
      else takeEarliest(found, found.ranges[r]!, found.ranges[r + 1]!, bits, event)
  return { sessions: new SessionSet(count, bits).and(among), base: among, event }
}

/** Takes each session's first event from events in ascending order: from the end, so that the first one is written last, without a branch. */
function takeFirst(
  { event: at, session }: EventList,
  from: number,
  to: number,
  bits: Uint32Array,
  event: Uint32Array,
) {
  for (let i = to - 1; i >= from; i--) {
    const s = session[i]!
    bits[s >>> 5] = bits[s >>> 5]! | (1 << (s & 31))
    event[s] = at[i]!
  }
}

/** Takes each session's first event from events in any order. */
function takeEarliest(
  { event: at, session }: EventList,
  from: number,
  to: number,
  bits: Uint32Array,
  event: Uint32Array,
) {
  for (let i = from; i < to; i++) {
    const s = session[i]!
    bits[s >>> 5] = bits[s >>> 5]! | (1 << (s & 31))
    if (at[i]! < event[s]!) event[s] = at[i]!
  }
}

/**
 * The first view of the page in each session of a block that has one, as a list, where the index has them in one piece;
 * undefined where it does not. Says the same as selectViewers without filling a column for all sessions.
 */
export function viewersInTurn(block: Block, selection: AboutPage, names: Names): EventList | undefined {
  const lists = eventsWhere(block, viewsOf(selection), names, true)
  return lists.length === 1 && lists[0]!.ranges.length <= 2 && lists[0]!.inTurn ? lists[0] : undefined
}

/** Views of the page that a selection is about. */
const viewsOf = oncePer((selection: AboutPage): EventCondition => ({
  kinds: ['page'],
  page: { is: 'equal', to: selection.page },
}))
