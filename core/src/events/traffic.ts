import type { Line } from './line.ts'
import { DEVICE_CLASSES } from './line.ts'

/** Sessions that hardly are somebody's: of programs that say so, and of such speed that no hand is behind it. */
export const TRAFFIC_CLASSES = ['robot', 'implausible'] as const
export type TrafficClass = (typeof TRAFFIC_CLASSES)[number]

/** On what a session was, or what else it is. What is no person's is left out where nothing else is asked for. */
export const SESSION_CLASSES = [...DEVICE_CLASSES, ...TRAFFIC_CLASSES] as const
export type SessionClass = (typeof SESSION_CLASSES)[number]

/** Within so long … */
const WITHIN_MS = 5000
/**
 * … nobody views more pages, nor does more: forty views, and two hundred acts, a second. Far above what a hand can do, so that
 * nobody is taken for a program by mistake; common practice, no source.
 */
const MOST_VIEWS = 200
const MOST_ACTS = 1000
const ACTS: ReadonlySet<string> = new Set(['page', 'click', 'input', 'submit', 'gesture'])

/**
 * Whether a session is a program's. Only of what a script on a page has sent (it names its tab): what is imported was chosen by
 * those who import it.
 *
 * @param lines  of one session, in order of time
 * @returns undefined where it may well be a person's
 */
export function trafficClass(lines: readonly Line[]): TrafficClass | undefined {
  if (lines.some(({ robot }) => robot)) return 'robot'
  if (lines.length <= MOST_VIEWS) return undefined
  const sent = lines.filter(({ tab, kind }) => tab !== undefined && ACTS.has(kind))
  const isFast = (acts: readonly Line[], most: number) =>
    acts.some(({ t }, k) => k >= most && t - acts[k - most]!.t <= WITHIN_MS)
  return isFast(
    sent.filter(({ kind }) => kind === 'page'),
    MOST_VIEWS,
  ) || isFast(sent, MOST_ACTS)
    ? 'implausible'
    : undefined
}
