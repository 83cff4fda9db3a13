import type { Line } from '../events/line.ts'
import { rageBursts } from './rage.ts'

export const SIGNAL_KINDS = [
  'rage click',
  'dead click',
  'script error',
  'failed request',
  'not found',
] as const
export type SignalKind = (typeof SIGNAL_KINDS)[number]

/** The kinds that point to a technical fault before a usability problem. */
export const TECHNICAL_KINDS: readonly SignalKind[] = ['script error', 'failed request', 'not found']

export interface DetectedSignal {
  kind: SignalKind
  /** index of the line at which it begins */
  first: number
  /** indexes of all lines that it consists of, ascending */
  lines: number[]
}

/** Dead clicks on one element within this time are one signal. Common practice, no source. */
export const DEAD_CLICK_FOLD_MS = 2000

/**
 * Finds the friction in one session.
 *
 * - rage click: a burst of clicks on one spot (see {@link rageBursts}) of which at least one did nothing or is not
 *   known to have done something; a burst in which every click changed the page is quick clicking, not rage
 * - dead click: a click known to have had no effect, outside form fields; repeats on one element are folded
 * - script error, failed request (status 0 or at least 400), not found (page with status 404)
 *
 * @param lines  of one session, ascending in time
 * @returns in order of their first line, then of SIGNAL_KINDS
 */
export function detectSignals(lines: readonly Line[]): DetectedSignal[] {
  const signals: DetectedSignal[] = [...rage(lines), ...dead(lines)]
  lines.forEach((line, i) => {
    if (line.kind === 'error') signals.push({ kind: 'script error', first: i, lines: [i] })
    if (line.kind === 'request' && (line.status === 0 || (line.status ?? 200) >= 400))
      signals.push({ kind: 'failed request', first: i, lines: [i] })
    if (line.kind === 'page' && line.status === 404) signals.push({ kind: 'not found', first: i, lines: [i] })
  })
  return signals.sort(
    (a, b) => a.first - b.first || SIGNAL_KINDS.indexOf(a.kind) - SIGNAL_KINDS.indexOf(b.kind),
  )
}

function rage(lines: readonly Line[]): DetectedSignal[] {
  const clicks = lines.flatMap((line, i) =>
    line.kind === 'click' && line.x !== undefined && line.y !== undefined
      ? [{ i, t: line.t, x: line.x, y: line.y }]
      : [],
  )
  return rageBursts(clicks)
    .map((burst) => burst.map((k) => clicks[k]!.i))
    .filter((burst) => burst.some((i) => lines[i]!.effect === undefined || lines[i]!.effect === 'none'))
    .map((burst) => ({ kind: 'rage click', first: burst[0]!, lines: burst }))
}

const FIELD_TAGS = new Set(['input', 'textarea', 'select', 'option', 'label'])

function dead(lines: readonly Line[]): DetectedSignal[] {
  const signals: DetectedSignal[] = []
  const open = new Map<string, DetectedSignal>()
  lines.forEach((line, i) => {
    if (line.kind !== 'click' || line.effect !== 'none' || FIELD_TAGS.has(line.target?.tag ?? '')) return
    const selector = line.target?.selector ?? ''
    const before = open.get(selector)
    if (before && line.t - lines[before.lines[before.lines.length - 1]!]!.t <= DEAD_CLICK_FOLD_MS) {
      before.lines.push(i)
      return
    }
    const signal: DetectedSignal = { kind: 'dead click', first: i, lines: [i] }
    open.set(selector, signal)
    signals.push(signal)
  })
  return signals
}
