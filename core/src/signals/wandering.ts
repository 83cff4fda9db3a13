import type { Line } from '../events/line.ts'
import { pagePath } from '../events/page-path.ts'
import type { DetectedSignal } from '../events/signal-kinds.ts'
import type { SignalThresholds } from './thresholds.ts'

/** A page view within a session's lines: from its own line to before the next one's. */
export interface View {
  /** index of its page line */
  at: number
  /** index after its last line */
  end: number
}

/** Views of a session, in order. Lines before the first page line belong to none. */
export function viewsOf(lines: readonly Line[]): View[] {
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
export function addWandering(
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
export function addCombing(
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
export function addHopping(
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
