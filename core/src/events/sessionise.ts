/** Inactivity that ends a session unless the site sets another limit. Common practice, no source. */
export const SESSION_LIMIT_MS = 30 * 60_000

/**
 * Cuts one visitor's events into sessions: an event opens a new session when *more* than the limit has passed since
 * the event before it; a gap of exactly the limit stays within the session.
 *
 * @param timesMs  ascending
 * @returns half-open index ranges [from, to) that cover the input in order; none for no events
 */
export function splitSessions(
  timesMs: ArrayLike<number>,
  limitMs = SESSION_LIMIT_MS,
): [from: number, to: number][] {
  const ranges: [number, number][] = []
  for (let i = 0, from = 0; i < timesMs.length; i++) {
    const last = i + 1 === timesMs.length
    if (last || timesMs[i + 1]! - timesMs[i]! > limitMs) {
      ranges.push([from, i + 1])
      from = i + 1
    }
  }
  return ranges
}

export interface Span {
  startMs: number
  endMs: number
}

/**
 * Which of a visitor's sessions a stretch of activity belongs to. Late data can close the gap between two sessions:
 * then all that it touches are one.
 *
 * @returns indexes into `sessions`, ascending; empty where the stretch opens a session of its own
 */
export function touchedSessions(
  sessions: readonly Span[],
  stretch: Span,
  limitMs = SESSION_LIMIT_MS,
): number[] {
  return sessions.flatMap((session, i) =>
    stretch.startMs - session.endMs <= limitMs && session.startMs - stretch.endMs <= limitMs ? [i] : [],
  )
}
