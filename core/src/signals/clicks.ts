import { rowOf } from '../columns/block.ts'
import { FRICTION_BIT, KIND_CODE, TRAIT_BIT } from '../columns/event-codes.ts'
import { EFFECTS } from '../events/line.ts'
import type { Click } from './rage.ts'
import { rageBursts } from './rage.ts'
import type { FoundSignals, SessionEvents } from './session-events.ts'
import { endOfView } from './session-events.ts'
import type { SignalThresholds } from './thresholds.ts'

/** What `effect` holds of a click without effect, and of one of which nothing is known. */
const NOTHING = EFFECTS.indexOf('none') + 1
const NOT_KNOWN = 0

/** Adds the signals that clicks are: rage, dead and failing clicks, near misses. */
export function addClicks(found: FoundSignals, session: SessionEvents, limits: SignalThresholds): void {
  const { columns, clicks, errors } = session
  const { effect } = columns.events
  let dead = 0
  for (let k = 0; k < clicks.count; k++) if (effect[clicks.at[k]!] === NOTHING) dead++
  addRage(found, session, limits)
  if (errors.count) addFailing(found, session, limits)
  if (!dead) return
  addDead(found, session, limits)
  if (dead < clicks.count) addNearMisses(found, session, limits)
}

/** Bursts of clicks of which at least one did nothing or is not known to have; effective ones are rapid use, not rage. */
function addRage(found: FoundSignals, { columns, clicks }: SessionEvents, limits: SignalThresholds): void {
  if (clicks.count < limits.rageClicks) return
  const { atMs } = columns.events
  // Only a run of clicks that follow one another closely can be a burst.
  let from = 0
  for (let k = 1; k <= clicks.count; k++) {
    const goesOn = k < clicks.count && atMs[clicks.at[k]!]! - atMs[clicks.at[k - 1]!]! <= limits.rageMs
    if (goesOn) continue
    if (k - from >= limits.rageClicks) addBursts(found, columns, clicks.at.subarray(from, k), limits)
    from = k
  }
}

function addBursts(
  found: FoundSignals,
  { events, points }: SessionEvents['columns'],
  run: Uint32Array,
  { rageClicks, rageMs, ragePx }: SignalThresholds,
): void {
  const placed: (Click & { i: number })[] = []
  for (const i of run) {
    const row = rowOf(events.hasPoint, events.pointsBefore, i)
    if (row < 0 || Number.isNaN(points.x[row]! + points.y[row]!)) continue
    placed.push({ i, t: events.atMs[i]!, x: points.x[row]!, y: points.y[row]! })
  }
  const options = { windowMs: rageMs, radiusPx: ragePx, leastClicks: rageClicks }
  for (const burst of rageBursts(placed, options)) {
    const own = burst.map((k) => placed[k]!.i)
    const isRage = own.some((i) => events.effect[i] === NOT_KNOWN || events.effect[i] === NOTHING)
    if (isRage) found.add('rage click', own[0]!, own.length)
    for (const i of own) found.friction[i]! |= isRage ? FRICTION_BIT.rage : FRICTION_BIT.rapid
  }
}

/** Clicks known to have had no effect, outside of fields; repeats on one element are folded. */
function addDead(
  found: FoundSignals,
  { columns, clicks }: SessionEvents,
  { deadFoldMs }: SignalThresholds,
): void {
  const { effect, traits, target, atMs } = columns.events
  /** by element the signal that its last dead click belongs to */
  const open = new Map<number, { t: number; first: number; clicks: number }>()
  const close = ({ first, clicks: n }: { first: number; clicks: number }) => found.add('dead click', first, n)
  for (let k = 0; k < clicks.count; k++) {
    const i = clicks.at[k]!
    if (effect[i] !== NOTHING || traits[i]! & TRAIT_BIT.field) continue
    found.friction[i]! |= FRICTION_BIT.dead
    const before = open.get(target[i]!)
    if (before && atMs[i]! - before.t <= deadFoldMs) {
      before.t = atMs[i]!
      before.clicks++
      continue
    }
    if (before) close(before)
    open.set(target[i]!, { t: atMs[i]!, first: i, clicks: 1 })
  }
  for (const one of open.values()) close(one)
}

/**
 * Clicks in whose wake a script failed: the error names their element, or follows at once and names none. Several errors of
 * one click are one signal.
 */
function addFailing(
  found: FoundSignals,
  { columns, clicks, errors, from }: SessionEvents,
  { namedWakeMs, errorWakeMs }: SignalThresholds,
): void {
  const { kind, target, atMs } = columns.events
  const failing = new Map<number, number>()
  for (let e = 0; e < errors.count; e++) {
    const i = errors.at[e]!
    const own = target[i]!
    const earliest = atMs[i]! - (own ? namedWakeMs : errorWakeMs)
    for (let k = i - 1; k >= from && atMs[k]! >= earliest && kind[k] !== KIND_CODE.page; k--) {
      if (kind[k] !== KIND_CODE.click || (own !== 0 && own !== target[k])) continue
      failing.set(k, (failing.get(k) ?? 0) + 1)
      break
    }
  }
  if (failing.size)
    for (let k = 0; k < clicks.count; k++) {
      const own = failing.get(clicks.at[k]!)
      if (!own) continue
      found.add('failing click', clicks.at[k]!, own + 1)
      found.friction[clicks.at[k]!]! |= FRICTION_BIT.failing
    }
}

interface Control {
  t: number
  left: number
  top: number
  right: number
  bottom: number
}

/**
 * Dead clicks a few pixels outside of a control that was used shortly before or after, on the same view. Where the control
 * lies is known from the click on it: its place inside and its size say where its edges are.
 */
function addNearMisses(found: FoundSignals, session: SessionEvents, limits: SignalThresholds): void {
  const { columns, clicks, fromView, toView } = session
  const { events, points, views } = columns
  let k = 0
  for (let view = fromView; view < toView; view++) {
    const [at, end] = [views.event[view]!, endOfView(session, view)]
    while (k < clicks.count && clicks.at[k]! < at) k++
    const from = k
    while (k < clicks.count && clicks.at[k]! < end) k++
    if (k - from < 2) continue
    let controls: Control[] | undefined
    for (let c = from; c < k; c++) {
      const i = clicks.at[c]!
      if (events.effect[i] !== NOTHING || events.traits[i]! & TRAIT_BIT.interactive) continue
      const row = rowOf(events.hasPoint, events.pointsBefore, i)
      if (row < 0) continue
      controls ??= controlsUsed(session, from, k)
      if (!controls.length) break
      if (!isBeside(points.x[row]!, points.y[row]!, events.atMs[i]!, controls, limits)) continue
      found.add('near miss', i, 1)
      found.friction[i]! |= FRICTION_BIT.near
    }
  }
}

function controlsUsed({ columns, clicks }: SessionEvents, from: number, to: number): Control[] {
  const { events, points } = columns
  const controls: Control[] = []
  for (let c = from; c < to; c++) {
    const i = clicks.at[c]!
    if (events.effect[i] === NOTHING || !(events.traits[i]! & TRAIT_BIT.interactive)) continue
    const row = rowOf(events.hasPoint, events.pointsBefore, i)
    if (row < 0) continue
    const [w, h] = [points.w[row]!, points.h[row]!]
    const left = points.x[row]! - points.rx[row]! * w
    const top = points.y[row]! - points.ry[row]! * h
    if (w > 0 && h > 0 && !Number.isNaN(left + top))
      controls.push({ t: events.atMs[i]!, left, top, right: left + w, bottom: top + h })
  }
  return controls
}

function isBeside(
  x: number,
  y: number,
  t: number,
  controls: readonly Control[],
  { nearPx, nearMs }: SignalThresholds,
): boolean {
  for (const { t: usedMs, left, top, right, bottom } of controls) {
    if (Math.abs(usedMs - t) > nearMs) continue
    const beside = Math.max(left - x, x - right, 0)
    const above = Math.max(top - y, y - bottom, 0)
    if (beside * beside + above * above <= nearPx * nearPx) return true
  }
  return false
}
