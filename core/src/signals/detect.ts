import type { Line } from '../events/line.ts'
import type { DetectedSignal, SignalKind } from '../events/signal-kinds.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import { addClicks } from './clicks.ts'
import type { SignalThresholds } from './thresholds.ts'
import { THRESHOLDS } from './thresholds.ts'
import { addCombing, addHopping, addWandering, viewsOf } from './wandering.ts'
import type { View } from './wandering.ts'

/**
 * Finds the friction in one session: what each kind means stands in events/signal-kinds.ts, from where on it counts in
 * thresholds.ts, and why in docs/signals.md. What the lines do not tell is not found: a click whose effect is not known is
 * not dead, a page whose time is not known not slow.
 *
 * @param lines  of one session, ascending in time
 * @returns in order of their first line, then of SIGNAL_KINDS
 */
export function detectSignals(
  lines: readonly Line[],
  limits: SignalThresholds = THRESHOLDS,
): DetectedSignal[] {
  const signals: DetectedSignal[] = []
  // Most sessions have few kinds of lines: what there is decides what is looked for.
  let [clicks, errors, inputs, scrolls, hides] = [0, 0, 0, 0, 0]
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i]!
    switch (line.kind) {
      case 'click':
        clicks++
        continue
      case 'input':
        inputs++
        continue
      case 'scroll':
        scrolls++
        continue
      case 'hide':
        hides++
        continue
      case 'error':
        errors++
    }
    const kind = single(line, limits)
    if (kind) signals.push({ kind, first: i, lines: [i] })
  }
  const views = viewsOf(lines)
  if (clicks) addClicks(signals, lines, views, errors > 0, limits)
  if (inputs) for (const view of views) addFieldTrouble(signals, lines, view, limits)
  if (scrolls >= limits.combingTurns) for (const view of views) addCombing(signals, lines, view, limits)
  if (hides >= limits.hops) addHopping(signals, lines, limits)
  addWandering(signals, lines, views, limits)
  return signals.length < 2
    ? signals
    : signals.sort((a, b) => a.first - b.first || ORDER[a.kind] - ORDER[b.kind])
}

const ORDER = Object.fromEntries(SIGNAL_KINDS.map((kind, k) => [kind, k])) as Record<SignalKind, number>

/** The signal that a line is by itself. A page that is not there is not called slow as well. */
function single(line: Line, { freezeMs, slowMs }: SignalThresholds): DetectedSignal['kind'] | undefined {
  switch (line.kind) {
    case 'error':
      return 'script error'
    case 'request':
      return line.status === 0 || (line.status ?? 200) >= 400 ? 'failed request' : undefined
    case 'page':
      return line.status === 404 ? 'not found' : (line.load ?? 0) > slowMs ? 'slow page' : undefined
    case 'submit':
      return line.ok === false ? 'failed submit' : undefined
    case 'signal':
      return 'site signal'
    case 'freeze':
      return (line.ms ?? 0) > freezeMs ? 'freeze' : undefined
    case 'out':
      return 'pointer to the bar'
    case 'gesture':
      return line.name === 'zoom' && Number(line.props?.['by'] ?? 2) > 1 ? 'zoom' : undefined
    default:
      return undefined
  }
}

/** Fields of one view that were corrected again and again in one go, or come back to; once for each field. */
function addFieldTrouble(
  signals: DetectedSignal[],
  lines: readonly Line[],
  { at, end }: View,
  { corrections, returns }: SignalThresholds,
): void {
  let visits: Map<string, number[]> | undefined
  for (let i = at; i < end; i++) {
    const line = lines[i]!
    if (line.kind !== 'input' || !line.target) continue
    const own = (visits ??= new Map<string, number[]>()).get(line.target.selector)
    if (own) own.push(i)
    else visits.set(line.target.selector, [i])
  }
  if (!visits) return
  for (const own of visits.values()) {
    const corrected = own.filter((i) => (lines[i]!.corrections ?? 0) >= corrections)
    const found = corrected.length ? corrected : own.length >= returns ? own : undefined
    if (found) signals.push({ kind: 'field trouble', first: found[0]!, lines: found })
  }
}
