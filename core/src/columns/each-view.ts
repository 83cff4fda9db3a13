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
