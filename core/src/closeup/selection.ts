import { cleaned, sameEvent, uncleaned } from '../clean/clean.ts'
import type { Found } from '../conditions/found.ts'
import { eventsWhere } from '../conditions/found.ts'
import type { EventCondition } from '../conditions/schema.ts'
import { sessionsWhere } from '../conditions/sessions.ts'
import type { Block } from '../events/columns.ts'
import { FRICTION, KIND } from '../events/loose.ts'
import { DEFAULT_OPTIONS } from '../funnel/options.ts'
import { funnelWalk, leakAfter } from '../funnel/trace.ts'
import type { Names } from '../funnel/trace.ts'
import { sessionsWithin } from '../lens/within.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'
import { firstAtLeast } from '../sets/ascending.ts'
import { SessionSet } from '../sets/session-set.ts'
import type { Selection, SetDefinition, VisitorMoments } from './selection-schema.ts'

export * from './selection-schema.ts'

export interface SelectedSessions {
  sessions: SessionSet
  /** what the selection is a share of */
  base: SessionSet
  /** the event that is the moment in each selected session; NO_EVENT where there is none */
  event: Uint32Array
}

export const NO_EVENT = 0xffff_ffff

/** The moment in a selected session, in milliseconds since its start; NaN where there is none. */
export function momentOf(block: Block, { event }: Pick<SelectedSessions, 'event'>, session: number): number {
  const at = event[session]!
  return at === NO_EVENT ? NaN : block.events.atMs[at]!
}

/** Picks, among the given sessions of a block, those that a selection means. */
export function selectSessions(
  block: Block,
  among: SessionSet,
  selection: Selection,
  names: Names,
): SelectedSessions {
  switch (selection.type) {
    case 'funnel':
      return selectFunnel(block, among, selection, names)
    case 'clicks':
      return selectClicks(block, among, selection, names)
    case 'signal':
      return selectSignal(block, among, selection, names)
    case 'page':
      return viewers(block, among, selection, names)
    case 'everyone':
      return { sessions: among, base: among, event: noEvents(block) }
    case 'where':
      return {
        sessions: sessionsWhere(block, among, selection.condition, names),
        base: among,
        event: noEvents(block),
      }
    case 'set': {
      if (!selection.of) throw new RangeError(`the set ${selection.set} stands for nothing that is known`)
      const { sessions, event } = selectSet(block, selection.set, selection.of, names)
      return { sessions: sessions.and(among), base: among, event }
    }
  }
}

/** Sets as far as they were evaluated: a handle's sessions are looked for once a block. */
const kept = new WeakMap<Block, Map<string, { names: Names; selected: SelectedSessions }>>()
/** Sets of which a block keeps what was found. */
const MOST_KEPT = 32

/** The sessions of a set are those that it held where it was made, whatever counts as noise where it is asked about. */
function selectSet(block: Block, set: string, definition: SetDefinition, names: Names): SelectedSessions {
  const own = cleaned(uncleaned(block), definition.clean ?? [], names)
  const selected = keptSet(own, set, definition, names)
  if (own === block) return selected
  const event = noEvents(block)
  const same = sameEvent(own, block)
  selected.sessions.forEach((s) => {
    const at = selected.event[s]!
    if (at !== NO_EVENT) event[s] = same(at, s) ?? NO_EVENT
  })
  return { ...selected, event }
}

function keptSet(block: Block, set: string, definition: SetDefinition, names: Names): SelectedSessions {
  let sets = kept.get(block)
  if (!sets) kept.set(block, (sets = new Map<string, { names: Names; selected: SelectedSessions }>()))
  // Days begin at other moments where the site's time zone is another.
  const key = `${set} ${definition.fromMs} ${definition.toMs}`
  const known = sets.get(key)
  if (known?.names === names && !holdsMoments(definition)) return known.selected
  const selected = selectSessions(
    block,
    sessionsWithin(block, definition, names),
    definition.selection,
    names,
  )
  if (sets.size >= MOST_KEPT) sets.delete(sets.keys().next().value!)
  sets.set(key, { names, selected })
  return selected
}

/** It is about visitors anywhere: which of them came how far changes with sessions of other blocks. */
function holdsMoments(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return false
  return (
    ('moments' in value && value.moments !== undefined) ||
    Object.values(value as Record<string, unknown>).some(holdsMoments)
  )
}

function selectFunnel(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'funnel' }>,
  names: Names,
): SelectedSessions {
  const { steps, options = DEFAULT_OPTIONS, step, side, leak, page } = selection
  const chosen = empty(block)
  if (options.per === 'visitor') return selectVisitors(block, among, selection.moments)
  const toGroup = page === undefined ? undefined : page === null ? 0 : names.groups.find(page)
  const { depths, event, events, lasts } = funnelWalk(block, among, steps, options, names)
  /** those that reached at least and at most so many steps */
  const reached = (least: number, most: number) =>
    among.whereCode(
      depths,
      Uint8Array.from({ length: steps.length + 1 }, (_, depth) => (depth >= least && depth <= most ? 1 : 0)),
    )
  chosen.base = reached(step + 1, steps.length)
  if (side !== 'dropped') {
    chosen.sessions = side === 'continued' ? reached(step + 2, steps.length) : chosen.base
    if (events) chosen.event.set(events(step))
    else chosen.sessions.forEach((s) => (chosen.event[s] = event(s, step)))
    return chosen
  }
  if (step + 1 === steps.length) return chosen
  const last = lasts(step)
  chosen.event.set(last)
  chosen.sessions = reached(step + 1, step + 1)
  if (leak !== undefined || toGroup !== undefined)
    chosen.sessions = chosen.sessions.where((s) => {
      const own = leakAfter(block, s, last[s]!, names)
      return (leak === undefined || own.kind === leak) && (toGroup === undefined || own.toGroup === toGroup)
    })
  return chosen
}

/** @throws RangeError where nobody found out which visitors are meant */
function selectVisitors(
  block: Block,
  among: SessionSet,
  moments: VisitorMoments | undefined,
): SelectedSessions {
  if (!moments) throw new RangeError('a funnel over visitors must be asked for its visitors first')
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
  const at = firstAtLeast(ascending, number)
  return ascending[at] === number ? at : -1
}

function selectClicks(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'clicks' }>,
  names: Names,
): SelectedSessions {
  const group = names.groups.find(selection.page)
  const family = selection.selector === undefined ? undefined : names.families.find(selection.selector)
  const chosen = empty(block)
  chosen.base = viewers(block, among, selection, names).sessions
  const { kind, page, target, friction } = block.events
  const bit = selection.which === 'all' ? 0 : FRICTION[selection.which]
  for (const s of among)
    for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
      if (kind[i] !== KIND.click || names.groups.groupOf[page[i]!] !== group) continue
      if (family !== undefined && names.families.familyOf[target[i]!] !== family) continue
      if (bit && !(friction[i]! & bit)) continue
      chosen.sessions.add(s)
      chosen.base.add(s)
      chosen.event[s] = i
      break
    }
  return chosen
}

function selectSignal(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'signal' }>,
  names: Names,
): SelectedSessions {
  const group = names.groups.find(selection.page)
  const family = names.families.find(selection.selector)
  const kind = SIGNAL_KINDS.indexOf(selection.kind)
  const chosen = empty(block)
  chosen.base = viewers(block, among, selection, names).sessions
  const { signals } = block
  for (const s of among)
    for (let i = block.sessions.firstSignal[s]!; i < block.sessions.firstSignal[s + 1]!; i++)
      if (
        signals.kind[i] === kind &&
        names.families.familyOf[signals.target[i]!] === family &&
        names.groups.groupOf[signals.page[i]!] === group
      ) {
        chosen.sessions.add(s)
        chosen.base.add(s)
        chosen.event[s] = eventAt(block, s, signals.atMs[i]!)
        break
      }
  return chosen
}

/** The last event of a session at or before a time since its start. */
function eventAt({ sessions, events }: Block, s: number, ms: number): number {
  let event = sessions.firstEvent[s + 1]! - 1
  while (event > sessions.firstEvent[s]! && events.atMs[event]! > ms) event--
  return event
}

/** Sessions with a view of the page, the moment being the first of them. */
function viewers(
  block: Block,
  among: SessionSet,
  selection: Selection & { page: string },
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

/** Events in ascending order, from the end, so that the first of a session is written last: nothing is to be decided. */
function takeFirst(
  { event: at, session }: Found,
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

/** Events in any order. */
function takeEarliest(
  { event: at, session }: Found,
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
 * The first view of the page in each session of a block that has one, where these lie together; undefined where they
 * must be looked for. The same as selectSessions, without a column for all sessions.
 */
export function viewersInTurn(
  block: Block,
  selection: Selection & { page: string },
  names: Names,
): Found | undefined {
  const lists = eventsWhere(block, viewsOf(selection), names, true)
  return lists.length === 1 && lists[0]!.ranges.length <= 2 && lists[0]!.inTurn ? lists[0] : undefined
}

/** Of each selection the same condition, so that its tables are made once, not for each block. */
function viewsOf(selection: Selection & { page: string }): EventCondition {
  let views = viewConditions.get(selection)
  if (!views) {
    views = { kinds: ['page'], page: { is: 'equal', to: selection.page } }
    viewConditions.set(selection, views)
  }
  return views
}

const viewConditions = new WeakMap<Selection, EventCondition>()

function empty(block: Block): SelectedSessions {
  const { count } = block.sessions
  return { sessions: new SessionSet(count), base: new SessionSet(count), event: noEvents(block) }
}

function noEvents(block: Block): Uint32Array {
  return new Uint32Array(block.sessions.count).fill(NO_EVENT)
}
