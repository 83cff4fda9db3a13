import type { Line } from '../events/line.ts'
import type { DetectedSignal } from '../events/signal-kinds.ts'
import type { Click } from './rage.ts'
import { RAGE_DEFAULTS, rageBursts } from './rage.ts'
import type { SignalThresholds } from './thresholds.ts'
import type { View } from './wandering.ts'

/** Adds the signals that clicks are: rage, dead and failing clicks, near misses. */
export function addClicks(
  signals: DetectedSignal[],
  lines: readonly Line[],
  views: readonly View[],
  withErrors: boolean,
  limits: SignalThresholds,
): void {
  const clicks: number[] = []
  let dead = 0
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i]!
    if (line.kind !== 'click') continue
    clicks.push(i)
    if (line.effect === 'none') dead++
  }
  addRage(signals, lines, clicks)
  if (withErrors) addErrorClicks(signals, lines, limits)
  if (!dead) return
  addDead(signals, lines, clicks, limits)
  if (dead < clicks.length) addNearMisses(signals, lines, clicks, views, limits)
}

/** Bursts of clicks of which at least one did nothing or is not known to have; effective ones are rapid use, not rage. */
function addRage(signals: DetectedSignal[], lines: readonly Line[], clicks: readonly number[]): void {
  if (clicks.length < RAGE_DEFAULTS.leastClicks) return
  // Only a run of clicks that follow one another closely can be a burst.
  let from = 0
  for (let k = 1; k <= clicks.length; k++) {
    const goesOn =
      k < clicks.length && lines[clicks[k]!]!.t - lines[clicks[k - 1]!]!.t <= RAGE_DEFAULTS.windowMs
    if (goesOn) continue
    if (k - from >= RAGE_DEFAULTS.leastClicks) addBursts(signals, lines, clicks.slice(from, k))
    from = k
  }
}

function addBursts(signals: DetectedSignal[], lines: readonly Line[], run: readonly number[]): void {
  const placed: (Click & { i: number })[] = []
  for (const i of run) {
    const { t, x, y } = lines[i]!
    if (x !== undefined && y !== undefined) placed.push({ i, t, x, y })
  }
  for (const burst of rageBursts(placed)) {
    const own = burst.map((k) => placed[k]!.i)
    if (own.some((i) => lines[i]!.effect === undefined || lines[i]!.effect === 'none'))
      signals.push({ kind: 'rage click', first: own[0]!, lines: own })
  }
}

const FIELD_TAGS = new Set(['input', 'textarea', 'select', 'option', 'label'])

/** Clicks known to have had no effect, outside of fields; repeats on one element are folded. */
function addDead(
  signals: DetectedSignal[],
  lines: readonly Line[],
  clicks: readonly number[],
  { deadFoldMs }: SignalThresholds,
): void {
  const open = new Map<string, { t: number; lines: number[] }>()
  for (const i of clicks) {
    const { effect, target, t } = lines[i]!
    if (effect !== 'none' || (target?.tag !== undefined && FIELD_TAGS.has(target.tag))) continue
    const selector = target?.selector ?? ''
    const before = open.get(selector)
    if (before && t - before.t <= deadFoldMs) {
      before.t = t
      before.lines.push(i)
      continue
    }
    const own = [i]
    signals.push({ kind: 'dead click', first: i, lines: own })
    open.set(selector, { t, lines: own })
  }
}

/**
 * Clicks in whose wake a script failed: the error names their element, or follows at once and names none. Several errors of
 * one click are one signal.
 */
function addErrorClicks(
  signals: DetectedSignal[],
  lines: readonly Line[],
  { errorWakeMs }: SignalThresholds,
): void {
  const found = new Map<number, number[]>()
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i]!
    if (line.kind !== 'error') continue
    const own = line.target?.selector
    const wakeMs = own ? NAMED_WAKE_MS : errorWakeMs
    for (let k = i - 1; k >= 0 && line.t - lines[k]!.t <= wakeMs && lines[k]!.kind !== 'page'; k--) {
      const click = lines[k]!
      if (click.kind !== 'click' || (own && own !== click.target?.selector)) continue
      const before = found.get(k)
      if (before) before.push(i)
      else {
        const own = [k, i]
        found.set(k, own)
        signals.push({ kind: 'failing click', first: k, lines: own })
      }
      break
    }
  }
}

/** An error that names its element is that element's within this. */
const NAMED_WAKE_MS = 1000

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
function addNearMisses(
  signals: DetectedSignal[],
  lines: readonly Line[],
  clicks: readonly number[],
  views: readonly View[],
  limits: SignalThresholds,
): void {
  let k = 0
  for (const { at, end } of views) {
    while (k < clicks.length && clicks[k]! < at) k++
    const from = k
    while (k < clicks.length && clicks[k]! < end) k++
    if (k - from < 2) continue
    let controls: Control[] | undefined
    for (let c = from; c < k; c++) {
      const miss = lines[clicks[c]!]!
      if (miss.effect !== 'none' || miss.target?.interactive || miss.x === undefined || miss.y === undefined)
        continue
      controls ??= controlsUsed(lines, clicks, from, k)
      if (!controls.length) break
      if (isBeside(miss.x, miss.y, miss.t, controls, limits))
        signals.push({ kind: 'near miss', first: clicks[c]!, lines: [clicks[c]!] })
    }
  }
}

function controlsUsed(
  lines: readonly Line[],
  clicks: readonly number[],
  from: number,
  to: number,
): Control[] {
  const controls: Control[] = []
  for (let c = from; c < to; c++) {
    const { t, target, x, y, rx, ry, effect } = lines[clicks[c]!]!
    if (effect === 'none' || !target?.interactive || !target.w || !target.h) continue
    if (x === undefined || y === undefined || rx === undefined || ry === undefined) continue
    const [left, top] = [x - rx * target.w, y - ry * target.h]
    controls.push({ t, left, top, right: left + target.w, bottom: top + target.h })
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
