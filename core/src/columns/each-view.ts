import type { Block } from './block.ts'

/** Calls with each page view of a session: its event, and the event after its last one. */
export function eachView(
  { sessions, views }: Block,
  s: number,
  visit: (event: number, end: number) => void,
): void {
  const to = sessions.firstView[s + 1]!
  for (let v = sessions.firstView[s]!; v < to; v++)
    visit(views.event[v]!, v + 1 < to ? views.event[v + 1]! : sessions.firstEvent[s + 1]!)
}

/**
 * Calls with each page view of a session, by its index, and the signals that began on it: from the first, below the second.
 * What began before the first view belongs to none.
 */
export function eachViewWithSignals(
  { sessions, signals, views }: Block,
  s: number,
  visit: (view: number, firstSignal: number, endSignal: number) => void,
): void {
  const to = sessions.firstView[s + 1]!
  const lastSignal = sessions.firstSignal[s + 1]!
  let v = sessions.firstView[s]!
  if (v === to) return
  let g = sessions.firstSignal[s]!
  while (g < lastSignal && signals.event[g]! < views.event[v]!) g++
  for (; v < to; v++) {
    const first = g
    const end = v + 1 < to ? views.event[v + 1]! : Infinity
    while (g < lastSignal && signals.event[g]! < end) g++
    visit(v, first, g)
  }
}
