import { BlockCache, oncePer } from '../columns/block-cache.ts'
import type { Block } from '../columns/block.ts'
import { SessionSet } from '../columns/session-set.ts'
import { DEVICE_CLASSES } from '../events/line.ts'
import { SESSION_CLASSES } from '../events/traffic.ts'
import type { Names } from '../labels/names.ts'
import { sessionNumbers } from './attributes.ts'
import { selectFunnel } from './funnel-sessions.ts'
import type { Condition, Lens, ResolvedSet, Selection } from './grammar/conditions.ts'
import { leafSessions, sessionTest } from './leaf-conditions.ts'
import { selectLoop } from './loops.ts'
import { sameEvent, withNoise, withoutNoise } from './noise.ts'
import { selectClicks, selectSignal, selectViewers } from './page-sessions.ts'
import { selectPath } from './path-sessions.ts'
import { selectPattern } from './pattern-sessions.ts'
import { rangeOf } from './predicates.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { NO_EVENT, noEvents } from './selected-sessions.ts'

/*
 * Which sessions of a block a condition holds for, and which a selection picks. Conditions and selections may hold one
 * another, so both are evaluated here; what they are made of is evaluated in files of its own.
 */

/** Sets of which a block keeps what was found. */
const setCache = new BlockCache<SelectedSessions>(32)

/**
 * The sessions of a block, among those given, for which a condition holds. Groups narrow down as they go: `all` asks
 * each further part only of those that passed so far.
 */
export function sessionsWhere(
  block: Block,
  among: SessionSet,
  condition: Condition,
  names: Names,
): SessionSet {
  switch (condition.type) {
    case 'all':
      return condition.of.reduce((left, part) => sessionsWhere(block, left, part, names), among)
    case 'any':
      return condition.of.reduce(
        (found, part) => found.or(sessionsWhere(block, among.without(found), part, names)),
        new SessionSet(among.size),
      )
    case 'not':
      return among.without(sessionsWhere(block, among, condition.of, names))
    case 'selected':
      return among.and(selectSessions(block, among, condition.selection, names).sessions)
    case 'number': {
      const range = rangeOf(condition.test)
      return range
        ? among.whereBetween(sessionNumbers(block, condition.of, names), ...range)
        : among.where(sessionTest(block, condition, names))
    }
    default:
      return leafSessions(block, among, condition, names)
  }
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
      return selectViewers(block, among, selection, names)
    case 'path':
      return selectPath(block, among, selection, names, (from) => selectSessions(block, among, from, names))
    case 'loop':
      return selectLoop(block, among, selection, names)
    case 'pattern':
      return selectPattern(block, among, selection, names)
    case 'everyone':
      return { sessions: among, base: among, event: noEvents(block) }
    case 'where':
      return {
        sessions: sessionsWhere(block, among, selection.condition, names),
        base: among,
        event: noEvents(block),
      }
    case 'set': {
      if (!selection.of) throw new RangeError(`the set ${selection.set} was not resolved`)
      const { sessions, event } = selectSet(block, selection.set, selection.of, names)
      return { sessions: sessions.and(among), base: among, event }
    }
  }
}

/** Within what sessions are looked for: when they began, [fromMs, toMs), on devices (none = all), under a condition. */
export type SessionFrame = Pick<ResolvedSet, 'fromMs' | 'toMs'> & Pick<Lens, 'devices' | 'where'>

/** Sessions of a block that began in [fromMs, toMs), on one of the devices (none = all that people use), and meet the condition. */
export function sessionsWithin(
  block: Block,
  { fromMs, toMs, devices, where }: SessionFrame,
  names: Names,
): SessionSet {
  const { startMs, device, count } = block.sessions
  const { earliest, latest, hasPrograms } = extentOf(block)
  if (earliest >= toMs || latest < fromMs) return new SessionSet(count)
  let within = SessionSet.all(count)
  if (earliest < fromMs || latest >= toMs) within = within.whereWithin(startMs, fromMs, toMs)
  if (devices.length) {
    const wanted = new Uint8Array(256)
    for (const one of devices) wanted[SESSION_CLASSES.indexOf(one) + 1] = 1
    within = within.whereCode(device, wanted)
  } else if (hasPrograms) within = within.where((s) => device[s]! <= DEVICE_CLASSES.length)
  return where ? sessionsWhere(block, within, where, names) : within
}

/**
 * The sessions of a set are those that it held where it was made, whatever counts as noise where it is asked about. The
 * moment in each is then the same event, or what comes next in this block.
 */
function selectSet(block: Block, set: string, resolved: ResolvedSet, names: Names): SelectedSessions {
  const madeIn = withoutNoise(withNoise(block), resolved.lens.clean ?? [], names)
  const selected = selectOnce(madeIn, set, resolved, names)
  if (madeIn === block) return selected
  const event = noEvents(block)
  const eventHere = sameEvent(madeIn, block)
  selected.sessions.forEach((s) => {
    const at = selected.event[s]!
    if (at !== NO_EVENT) event[s] = eventHere(at, s) ?? NO_EVENT
  })
  return { ...selected, event }
}

/** Looks for a set's sessions once a block; what depends on other blocks too anew each time. */
function selectOnce(block: Block, set: string, resolved: ResolvedSet, names: Names): SelectedSessions {
  const select = () =>
    selectSessions(
      block,
      sessionsWithin(block, { ...resolved.lens, ...resolved }, names),
      resolved.selection,
      names,
    )
  if (dependsOnOthers(resolved)) return select()
  // Days begin at other instants where the site's time zone is another.
  return setCache.remember(block, `${set} ${resolved.fromMs} ${resolved.toMs}`, names, select)
}

/** Whether something that is asked holds what was found out in all blocks: see FindNeeds. */
function dependsOnOthers(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return false
  return (
    ('moments' in value && value.moments !== undefined) ||
    ('errors' in value && value.errors !== undefined) ||
    Object.values(value as Record<string, unknown>).some(dependsOnOthers)
  )
}

/** When the first and the last session of a block began: most blocks lie within a lens, or outside, as a whole. */
const extentOf = oncePer(({ sessions }: Block) => {
  let [earliest, latest] = [Infinity, -Infinity]
  for (const ms of sessions.startMs) {
    earliest = Math.min(earliest, ms)
    latest = Math.max(latest, ms)
  }
  return { earliest, latest, hasPrograms: sessions.device.some((code) => code > DEVICE_CLASSES.length) }
})
