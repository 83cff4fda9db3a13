/* The signals of a session found in its lines, one kind after the other: what signals/find-signals.ts is held against. */
import type { Line } from '../events/line.ts'
import { pagePath } from '../events/page-path.ts'
import { couldNotBeShown } from '../events/page-status.ts'
import type { SignalKind } from '../events/signal-kinds.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import type { Click } from '../signals/rage.ts'
import { rageBursts } from '../signals/rage.ts'
import type { SignalThresholds } from '../signals/thresholds.ts'
import { THRESHOLDS } from '../signals/thresholds.ts'

export interface DetectedSignal {
  kind: SignalKind
  /** index of the line at which it begins */
  first: number
  /** indexes of all lines that it consists of, ascending */
  lines: number[]
}

/**
 * Finds the friction in one session: what each kind means stands in events/signal-kinds.ts, from where on it counts in
 * thresholds.ts, and why in docs/signals.md. What the lines do not tell is not found: a click whose effect is not known is
 * not dead, a page whose time is not known not slow.
 *
 * @param lines  of one session, ascending in time
 * @returns in order of their first line, then of SIGNAL_KINDS
 */
export function signalsOfLines(
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
  addLeftUnloaded(signals, lines, limits)
  if (clicks) addClicks(signals, lines, views, errors > 0, limits)
  if (inputs) for (const view of views) addFieldTrouble(signals, lines, view, limits)
  if (scrolls >= limits.combingTurns) for (const view of views) addCombing(signals, lines, view, limits)
  if (hides >= limits.hops) addHopping(signals, lines, limits)
  addWandering(signals, lines, views, limits)
  return signals.length < 2
    ? signals
    : signals.sort((a, b) => a.first - b.first || ORDER[a.kind] - ORDER[b.kind])
}

/** Pages left before they were there, after as long as a slow one takes. */
function addLeftUnloaded(
  signals: DetectedSignal[],
  lines: readonly Line[],
  { slowMs }: SignalThresholds,
): void {
  const pages = lines.map(({ url }, i) =>
    pagePath(url ?? lines.slice(0, i).findLast((line) => line.url)?.url ?? ''),
  )
  lines.forEach(({ kind, loaded, ms }, i) => {
    if (kind !== 'leave' || loaded !== false || (ms ?? 0) <= slowMs) return
    const view = lines.slice(0, i).findLastIndex((line, k) => line.kind === 'page' && pages[k] === pages[i])
    if (view < 0 || lines[view]!.load !== undefined || couldNotBeShown(lines[view]!.status)) return
    signals.push({ kind: 'slow page', first: view, lines: [view] })
  })
}

const ORDER = Object.fromEntries(SIGNAL_KINDS.map((kind, k) => [kind, k])) as Record<SignalKind, number>

/** The signal that a line is by itself. A page that is not shown is not called slow as well. */
function single(line: Line, { freezeMs, slowMs }: SignalThresholds): DetectedSignal['kind'] | undefined {
  switch (line.kind) {
    case 'error':
      return 'script error'
    case 'request':
      return line.status === 0 || (line.status ?? 200) >= 400 ? 'failed request' : undefined
    case 'page':
      return couldNotBeShown(line.status) ? 'not found' : (line.load ?? 0) > slowMs ? 'slow page' : undefined
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

/** Adds the signals that clicks are: rage, dead and failing clicks, near misses. */
function addClicks(
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
  addRage(signals, lines, clicks, limits)
  if (withErrors) addErrorClicks(signals, lines, limits)
  if (!dead) return
  addDead(signals, lines, clicks, limits)
  if (dead < clicks.length) addNearMisses(signals, lines, clicks, views, limits)
}

/** Bursts of clicks of which at least one did nothing or is not known to have; effective ones are rapid use, not rage. */
function addRage(
  signals: DetectedSignal[],
  lines: readonly Line[],
  clicks: readonly number[],
  limits: SignalThresholds,
): void {
  if (clicks.length < limits.rageClicks) return
  // Only a run of clicks that follow one another closely can be a burst.
  let from = 0
  for (let k = 1; k <= clicks.length; k++) {
    const goesOn = k < clicks.length && lines[clicks[k]!]!.t - lines[clicks[k - 1]!]!.t <= limits.rageMs
    if (goesOn) continue
    if (k - from >= limits.rageClicks) addBursts(signals, lines, clicks.slice(from, k), limits)
    from = k
  }
}

function addBursts(
  signals: DetectedSignal[],
  lines: readonly Line[],
  run: readonly number[],
  limits: SignalThresholds,
): void {
  const placed: (Click & { i: number })[] = []
  for (const i of run) {
    const { t, x, y } = lines[i]!
    if (x !== undefined && y !== undefined) placed.push({ i, t, x, y })
  }
  for (const burst of rageBursts(placed, {
    windowMs: limits.rageMs,
    radiusPx: limits.ragePx,
    leastClicks: limits.rageClicks,
  })) {
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
  { namedWakeMs, errorWakeMs }: SignalThresholds,
): void {
  const found = new Map<number, number[]>()
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i]!
    if (line.kind !== 'error') continue
    const own = line.target?.selector
    const wakeMs = own ? namedWakeMs : errorWakeMs
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

/** A page view within a session's lines: from its own line to before the next one's. */
interface View {
  /** index of its page line */
  at: number
  /** index after its last line */
  end: number
}

/** Views of a session, in order. Lines before the first page line belong to none. */
function viewsOf(lines: readonly Line[]): View[] {
  const views: View[] = []
  let last: View | undefined
  for (let at = 0; at < lines.length; at++) {
    if (lines[at]!.kind !== 'page') continue
    if (last) last.end = at
    last = { at, end: lines.length }
    views.push(last)
  }
  return views
}

/** Whether two views are of one page; their addresses are only taken apart where they differ. */
function isSamePage(lines: readonly Line[], a: View, b: View): boolean {
  const [one, other] = [lines[a.at]!.url ?? '', lines[b.at]!.url ?? '']
  return one === other || pagePath(one) === pagePath(other)
}

/** Adds signs that somebody does not find what they look for: turning back, and racing through pages. */
function addWandering(
  signals: DetectedSignal[],
  lines: readonly Line[],
  views: readonly View[],
  { backMs, racingViews, racingMs }: SignalThresholds,
): void {
  let run: number[] | undefined
  // The last view of a session has no end that is known: it ends a run of short ones.
  for (let k = 0; k < views.length; k++) {
    const view = views[k]!
    const next = views[k + 1]
    const ms = next ? lines[next.at]!.t - lines[view.at]!.t : Infinity
    if (next && k > 0 && ms <= backMs) {
      const before = views[k - 1]!
      if (isSamePage(lines, before, next) && !isSamePage(lines, before, view))
        signals.push({ kind: 'turned back', first: view.at, lines: [view.at, next.at] })
    }
    if (next && ms < racingMs && !isSamePage(lines, view, next)) (run ??= []).push(view.at)
    else {
      if (run && run.length >= racingViews) signals.push({ kind: 'racing', first: run[0]!, lines: run })
      run = undefined
    }
  }
}

/** At most once a view: turns of direction within a time, with no click between. */
function addCombing(
  signals: DetectedSignal[],
  lines: readonly Line[],
  { at, end }: View,
  { combingTurns, combingPx, combingMs }: SignalThresholds,
): void {
  let turns: number[] = []
  /** where the window was when it last turned, and which way it has gone since */
  let from: number | undefined
  let farthest = 0
  let direction = 0
  for (let i = at + 1; i < end; i++) {
    const line = lines[i]!
    if (line.kind === 'click') {
      turns = []
      direction = 0
      from = undefined
    }
    if (line.kind !== 'scroll' || line.top === undefined) continue
    if (from === undefined) {
      from = farthest = line.top
      continue
    }
    const way = Math.sign(line.top - farthest)
    if (direction === 0 || way === direction) {
      if (Math.abs(line.top - from) >= combingPx) direction = Math.sign(line.top - from)
      farthest = line.top
    } else if (way !== 0 && Math.abs(line.top - farthest) >= combingPx) {
      turns.push(i)
      from = farthest
      farthest = line.top
      direction = way
    }
    while (turns.length && line.t - lines[turns[0]!]!.t > combingMs) turns.shift()
    if (turns.length < combingTurns) continue
    signals.push({ kind: 'combing', first: turns[0]!, lines: turns })
    return
  }
}

/** Adds each time the tab was left so often within a while. */
function addHopping(
  signals: DetectedSignal[],
  lines: readonly Line[],
  { hops, hopsMs }: SignalThresholds,
): void {
  let run: number[] = []
  for (let i = 0; i < lines.length; i++) {
    if (lines[i]!.kind !== 'hide') continue
    while (run.length && lines[i]!.t - lines[run[0]!]!.t > hopsMs) run.shift()
    run.push(i)
    if (run.length < hops) continue
    signals.push({ kind: 'tab hopping', first: run[0]!, lines: run })
    run = []
  }
}
