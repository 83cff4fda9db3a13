import type { Block } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'

/** Who has done nothing for so long may have stopped looking: from then on time does not count. */
export const IDLE_MS = 30_000

/**
 * How long a page view was looked at, in ms: the time between one event and the next counts for IDLE_MS at most, and not
 * while the tab is hidden. What comes after the last event of a session is not known. Common practice, no source.
 *
 * @param event  of the view
 * @param end    the event after its last one, see eachView
 * @param last   the event after the last one of the session
 * @returns NaN where nothing tells how long it was
 */
export function engagedMs(
  { events: { kind, atMs } }: Block,
  event: number,
  end: number,
  last: number,
): number {
  // The next view ends this one, unless it was left before.
  const to = end < last && kind[end - 1] !== KIND_CODE.leave ? end : end - 1
  if (to === event) return NaN
  let ms = 0
  let hidden = false
  for (let i = event + 1; i <= to; i++) {
    if (!hidden) ms += Math.min(IDLE_MS, atMs[i]! - atMs[i - 1]!)
    if (kind[i] === KIND_CODE.hide) hidden = true
    else if (kind[i] === KIND_CODE.show) hidden = false
  }
  return ms
}
