import { rowOf } from '../columns/block.ts'
import type { FoundSignals, SessionEvents } from './session-events.ts'
import { endOfView } from './session-events.ts'
import type { SignalThresholds } from './thresholds.ts'

/** Adds signs that somebody does not find what they look for: turning back, and racing through pages. */
export function addWandering(
  found: FoundSignals,
  { columns, fromView, toView }: SessionEvents,
  { backMs, racingViews, racingMs }: SignalThresholds,
): void {
  const { event, page } = columns.views
  const { atMs } = columns.events
  /** views of a run of short ones, and the first of them */
  let run = 0
  let first = 0
  // The last view of a session has no end that is known: it ends a run of short ones.
  for (let view = fromView; view < toView; view++) {
    const next = view + 1
    const ms = next < toView ? atMs[event[next]!]! - atMs[event[view]!]! : Infinity
    if (view > fromView && ms <= backMs && page[view - 1] === page[next] && page[view - 1] !== page[view])
      found.add('turned back', event[view]!, 2)
    if (ms < racingMs && page[view] !== page[next]) {
      if (run++ === 0) first = event[view]!
    } else {
      if (run >= racingViews) found.add('racing', first, run)
      run = 0
    }
  }
}

/** At most once a view: turns of direction within a time, with no click between. */
export function addCombing(
  found: FoundSignals,
  session: SessionEvents,
  { combingTurns, combingPx, combingMs }: SignalThresholds,
): void {
  const { columns, scrolls, clicks, fromView, toView } = session
  const { events, measures, views } = columns
  let k = 0
  let click = 0
  for (let view = fromView; view < toView; view++) {
    const [at, end] = [views.event[view]!, endOfView(session, view)]
    while (k < scrolls.count && scrolls.at[k]! < at) k++
    while (click < clicks.count && clicks.at[click]! < at) click++
    const turns: number[] = []
    /** where the window was when it last turned, and which way it has gone since */
    let from: number | undefined
    let farthest = 0
    let direction = 0
    for (; k < scrolls.count && scrolls.at[k]! < end; k++) {
      const i = scrolls.at[k]!
      for (; click < clicks.count && clicks.at[click]! < i; click++) {
        turns.length = 0
        direction = 0
        from = undefined
      }
      const row = rowOf(events.hasMeasure, events.measuresBefore, i)
      const top = row < 0 ? NaN : measures.detail[row]!
      if (Number.isNaN(top)) continue
      if (from === undefined) {
        from = farthest = top
        continue
      }
      const way = Math.sign(top - farthest)
      if (direction === 0 || way === direction) {
        if (Math.abs(top - from) >= combingPx) direction = Math.sign(top - from)
        farthest = top
      } else if (way !== 0 && Math.abs(top - farthest) >= combingPx) {
        turns.push(i)
        from = farthest
        farthest = top
        direction = way
      }
      while (turns.length && events.atMs[i]! - events.atMs[turns[0]!]! > combingMs) turns.shift()
      if (turns.length < combingTurns) continue
      found.add('combing', turns[0]!, turns.length)
      break
    }
  }
}

/** Adds each time the tab was left so often within a while. */
export function addHopping(
  found: FoundSignals,
  { columns, hides }: SessionEvents,
  { hops, hopsMs }: SignalThresholds,
): void {
  const { atMs } = columns.events
  let from = 0
  for (let k = 0; k < hides.count; k++) {
    const last = atMs[hides.at[k]!]!
    while (last - atMs[hides.at[from]!]! > hopsMs) from++
    if (k - from + 1 < hops) continue
    found.add('tab hopping', hides.at[from]!, k - from + 1)
    from = k + 1
  }
}
