import type { Allocate, Block, Columns, SignalTables } from '../columns/block.ts'
import { amountAt, joinSignals, numberAt, ownMemory, rowOf, SIGNAL_LAYOUT } from '../columns/block.ts'
import { FRICTION_BIT, KIND_CODE, TRAIT_BIT } from '../columns/event-codes.ts'
import { bytesOf, viewTables } from '../columns/layout.ts'
import { couldNotBeShown } from '../events/page-status.ts'
import { addClicks } from './clicks.ts'
import { addFieldTrouble } from './fields.ts'
import type { FoundBefore } from './passes.ts'
import { lookFor } from './passes.ts'
import type { SessionEvents } from './session-events.ts'
import { EventList, FoundSignals } from './session-events.ts'
import type { SignalThresholds } from './thresholds.ts'
import { THRESHOLDS } from './thresholds.ts'
import { addCombing, addHopping, addWandering } from './wandering.ts'

/** Looked up once: in a switch each would be read anew for every event. */
const { click, scroll, input, hide, error, request, page, leave, submit, signal, freeze, out, gesture } =
  KIND_CODE

/**
 * Columns with the friction in them: what each kind means stands in events/signal-kinds.ts, from where on it counts in
 * thresholds.ts, and why in docs/signals.md. What the columns do not tell is not found: a click whose effect is not known is
 * not dead, a page whose time is not known not slow.
 * Complexity: events, and within a session clicks × clicks of the same few seconds.
 */
export function withSignals(
  columns: Columns,
  limits: SignalThresholds = THRESHOLDS,
  allocate: Allocate = ownMemory,
): Block {
  return joinSignals(columns, findSignals(columns, limits, allocate))
}

/**
 * The signals alone.
 *
 * @param before  what was found in the same columns under other thresholds: kinds of which none has changed stay as they are
 * @see withSignals
 */
export function findSignals(
  columns: Columns | Block,
  limits: SignalThresholds,
  allocate: Allocate = ownMemory,
  before?: FoundBefore,
): SignalTables {
  const { sessions, events } = columns
  const { firstEvent, firstView } = sessions
  const { passes, ...look } = lookFor(limits, before)
  const found = new FoundSignals(frictionToBegin(events.count, look.marks, before), look.signals)
  const firstSignal = new Uint32Array(sessions.count + 1)
  let most = 0
  for (let s = 0; s < sessions.count; s++) most = Math.max(most, firstEvent[s + 1]! - firstEvent[s]!)
  const list = () => new EventList(most)
  const session: SessionEvents = {
    ...{ columns, from: 0, to: 0, fromView: 0, toView: 0 },
    ...{ clicks: list(), errors: list(), inputs: list(), scrolls: list(), hides: list() },
  }
  const { clicks, errors, inputs, scrolls, hides } = session
  const { kind } = events
  for (let s = 0; s < sessions.count; s++) {
    const from = firstEvent[s]!
    const to = firstEvent[s + 1]!
    session.from = from
    session.to = to
    session.fromView = firstView[s]!
    session.toView = firstView[s + 1]!
    clicks.count = errors.count = inputs.count = scrolls.count = hides.count = 0
    if (before) found.keep(before.signals, s)
    for (let i = from; i < to; i++) {
      if (!look.events[kind[i]!]) continue
      switch (kind[i]) {
        case click:
          clicks.push(i)
          break
        case scroll:
          scrolls.push(i)
          break
        case input:
          inputs.push(i)
          break
        case hide:
          hides.push(i)
          break
        case error:
          errors.push(i)
          found.add('script error', i, 1)
          break
        case leave:
          if (events.traits[i]! & TRAIT_BIT.unloaded) addLeftUnloaded(found, session, i, limits)
          break
        default:
          addSingle(found, columns, i, limits)
      }
    }
    if (passes.clicks && clicks.count) addClicks(found, session, limits)
    if (inputs.count) addFieldTrouble(found, session, limits)
    if (passes.combing && scrolls.count >= limits.combingTurns) addCombing(found, session, limits)
    if (hides.count >= limits.hops) addHopping(found, session, limits)
    if (passes.wandering) addWandering(found, session, limits)
    found.closeSession()
    firstSignal[s + 1] = found.count
  }
  return tablesOf(found, firstSignal, allocate)
}

/** FRICTION_BIT by event: none, or those found before but for what is marked anew. */
function frictionToBegin(events: number, marks: number, before: FoundBefore | undefined): Uint8Array {
  if (!before) return new Uint8Array(events)
  const friction = new Uint8Array(before.signals.ofEvents.friction)
  if (marks) for (let i = 0; i < events; i++) friction[i]! &= ~marks
  return friction
}

function tablesOf(found: FoundSignals, firstSignal: Uint32Array, allocate: Allocate): SignalTables {
  const counts = {
    signals: found.count,
    ofSessions: firstSignal.length - 1,
    ofEvents: found.friction.length,
  }
  const shape = { counts, forms: {} }
  const tables = viewTables(SIGNAL_LAYOUT, shape, allocate(bytesOf(SIGNAL_LAYOUT, shape)))
  tables.ofSessions.firstSignal.set(firstSignal)
  tables.ofEvents.friction.set(found.friction)
  for (let g = 0; g < found.count; g++) {
    tables.signals.event[g] = found.event[g]!
    tables.signals.events[g] = Math.min(found.events[g]!, 0xffff)
    tables.signals.kind[g] = found.kind[g]!
  }
  return tables
}

/** A page that was left before its largest content was there, after as long as a slow page takes: it was slow at least. */
function addLeftUnloaded(
  found: FoundSignals,
  { columns, fromView, toView }: SessionEvents,
  i: number,
  { slowMs }: SignalThresholds,
): void {
  const { events, views } = columns
  if (!(numberAt(columns, i) > slowMs)) return
  for (let v = toView - 1; v >= fromView; v--) {
    const view = views.event[v]!
    if (view > i || events.page[view] !== events.page[i]) continue
    if (Number.isNaN(amountAt(columns, view)) && !couldNotBeShown(numberAt(columns, view))) {
      found.friction[view]! |= FRICTION_BIT.slow
      found.add('slow page', view, 1)
    }
    return
  }
}

/** The signal that an event is by itself. A page that is not shown is not called slow as well. */
function addSingle(
  found: FoundSignals,
  columns: Columns,
  i: number,
  { freezeMs, slowMs }: SignalThresholds,
): void {
  const { kind, traits } = columns.events
  switch (kind[i]) {
    case request: {
      const status = numberAt(columns, i)
      if (status === 0 || status >= 400) found.add('failed request', i, 1)
      break
    }
    case page: {
      const row = rowOf(columns.events.hasMeasure, columns.events.measuresBefore, i)
      if (row < 0) break
      const isSlow = columns.measures.amount[row]! > slowMs
      if (isSlow) found.friction[i]! |= FRICTION_BIT.slow
      if (couldNotBeShown(columns.measures.number[row])) found.add('not found', i, 1)
      else if (isSlow) found.add('slow page', i, 1)
      break
    }
    case submit:
      if (traits[i]! & TRAIT_BIT.refused) found.add('failed submit', i, 1)
      break
    case signal:
      found.add('site signal', i, 1)
      break
    case freeze:
      if (numberAt(columns, i) > freezeMs) found.add('freeze', i, 1)
      break
    case out:
      found.add('pointer to the bar', i, 1)
      break
    case gesture:
      if (traits[i]! & TRAIT_BIT.enlarged) found.add('zoom', i, 1)
  }
}
