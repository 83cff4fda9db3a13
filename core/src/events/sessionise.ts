import type { Kind } from './line.ts'

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

/** Sessions end after so long at the latest. Common practice, no source. */
export const LONGEST_SESSION_MS = 12 * 3_600_000

/** What a page does by itself: it belongs to a session and does not keep it alive. */
const BY_ITSELF: ReadonlySet<Kind> = new Set<Kind>(['request', 'error', 'freeze', 'leave', 'hide'])

/** When something happened, and what. */
export interface Timed {
  t: number
  kind: Kind
}

/** A session while it is cut: lines of what the visitor did, and of what the page did by itself. */
interface Stretch<L> {
  startMs: number
  lines: L[]
}

/**
 * Cuts one visitor's lines into sessions.
 *
 * - What the visitor did opens a new session when more than the limit has passed since what they did before.
 * - Sessions that might last longer than LONGEST_SESSION_MS are cut at 0:00 and 12:00 UTC: so a late line changes the
 *   sessions beside it and no others.
 * - What the page did by itself belongs to the latest session that began not too long before it; else to one that begins
 *   within the limit after it, on the same half day; else it makes sessions of its own, one for each half day.
 *
 * The rules depend on nothing but the time between lines, so that the same sessions come of lines in any order.
 *
 * @param ordered  ascending in time
 * @param limitMs  the longest pause within a session
 * @param isLong   whether what belongs together without a pause is known to be part of something longer
 * @returns sessions in order of their first line; each line in exactly one, in the order given
 */
export function cutSessions<L extends Timed>(
  ordered: readonly L[],
  limitMs = SESSION_LIMIT_MS,
  isLong: (together: readonly L[]) => boolean = () => false,
): L[][] {
  const lead = Math.min(limitMs, LONGEST_SESSION_MS / 2)
  const longest = LONGEST_SESSION_MS - lead
  const acts = ordered.filter(({ kind }) => !BY_ITSELF.has(kind))
  const stretches: Stretch<L>[] = splitSessions(
    acts.map(({ t }) => t),
    limitMs,
  ).flatMap(([from, to]) => {
    const together = acts.slice(from, to)
    const long = lastOf(together).t - together[0]!.t > longest || isLong(together)
    return (long ? byHalfDay(together) : [together]).map((lines) => ({ startMs: lines[0]!.t, lines }))
  })
  if (acts.length === ordered.length) return stretches.map(({ lines }) => lines)
  const alone: L[] = []
  let k = -1
  for (const line of ordered) {
    if (!BY_ITSELF.has(line.kind)) continue
    while (k + 1 < stretches.length && stretches[k + 1]!.startMs <= line.t) k++
    const [last, next] = [stretches[k], stretches[k + 1]]
    if (last && line.t - last.startMs <= longest) last.lines.push(line)
    else if (next && next.startMs - line.t <= lead && halfDay(next.startMs) === halfDay(line.t))
      next.lines.push(line)
    else alone.push(line)
  }
  const place = new Map(ordered.map((line, i) => [line, i]))
  return [...stretches.map(({ lines }) => lines), ...byHalfDay(alone)]
    .map((lines) => lines.sort((a, b) => place.get(a)! - place.get(b)!))
    .sort((a, b) => place.get(a[0]!)! - place.get(b[0]!)!)
}

/**
 * Cuts again what is stored beside what has come: the same sessions as if all had been cut at once, however it came,
 * provided that all stored sessions are given that lie nearer than reachMs.
 *
 * @param stored  sessions as they are, each in order of time
 * @param fresh   what has come, not in them
 * @param order   puts lines in order
 */
export function cutAgain<L extends Timed>(
  stored: readonly (readonly L[])[],
  fresh: readonly L[],
  order: (lines: readonly L[]) => L[],
  limitMs = SESSION_LIMIT_MS,
): L[][] {
  const sessionOf = new Map(stored.flatMap((lines, k) => lines.map((line) => [line, k] as const)))
  // Two sessions without a pause between them were parted since they are of something longer.
  const isLong = (together: readonly L[]) => {
    let before: L | undefined
    for (const line of together) {
      const session = sessionOf.get(line)
      if (session === undefined) continue
      if (before && sessionOf.get(before) !== session && line.t - before.t <= limitMs) return true
      before = line
    }
    return false
  }
  return cutSessions(order([...stored.flat(), ...fresh]), limitMs, isLong)
}

/** How far from a line stored sessions can lie whose cut it changes, or depends on. */
export function reachMs(limitMs: number): number {
  return LONGEST_SESSION_MS + 2 * limitMs
}

/** Lines that name their session: all of one name are one session, however long the pauses, half a day at most. */
export function cutNamed<L extends Timed>(ordered: readonly L[], long = false): L[][] {
  if (!ordered.length) return []
  return long || lastOf(ordered).t - ordered[0]!.t > LONGEST_SESSION_MS ? byHalfDay(ordered) : [[...ordered]]
}

/** How a session stands to which lines are added. */
export interface Running {
  startMs: number
  endMs: number
  /** when the visitor did something for the last time; null = never */
  actMs: number | null
}

/**
 * A session with lines added that change nothing of how sessions are cut: within what it spans, or after its end as long
 * as it goes on. Undefined where they may belong elsewhere, or do change it: all must then be cut again.
 *
 * @param session  to whose start no other session of the visitor lies nearer than the limit, and after which none begins
 * @param ordered  ascending in time
 */
export function goOn(session: Running, ordered: readonly Timed[], limitMs: number): Running | undefined {
  const { startMs } = session
  let { endMs, actMs } = session
  if (actMs === null) return undefined
  const longest = LONGEST_SESSION_MS - Math.min(limitMs, LONGEST_SESSION_MS / 2)
  for (const { t, kind } of ordered) {
    if (t < startMs || t - startMs > longest) return undefined
    if (t > actMs && !BY_ITSELF.has(kind)) {
      if (t - actMs > limitMs) return undefined
      actMs = t
    }
    endMs = Math.max(endMs, t)
  }
  return actMs - startMs > longest ? undefined : { startMs, endMs, actMs }
}

/** When the visitor did something for the last time; null where only the page did. */
export function lastAct(ordered: readonly Timed[]): number | null {
  return ordered.findLast(({ kind }) => !BY_ITSELF.has(kind))?.t ?? null
}

function halfDay(ms: number): number {
  return Math.floor(ms / LONGEST_SESSION_MS)
}

function byHalfDay<L extends Timed>(ordered: readonly L[]): L[][] {
  const pieces = new Map<number, L[]>()
  for (const line of ordered) {
    const half = halfDay(line.t)
    const piece = pieces.get(half)
    if (piece) piece.push(line)
    else pieces.set(half, [line])
  }
  return [...pieces.values()]
}

function lastOf<T>(items: readonly T[]): T {
  return items[items.length - 1]!
}
