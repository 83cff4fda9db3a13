import type { SessionLine } from '@dust-trail/api'
import { addLink, endpointOf, getLines } from '@dust-trail/api'
import type { Lens, Selection } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { call, CallError } from '../api/call.ts'
import { clock } from '../ui/format.ts'
import type { Entry } from './report.ts'

/** What shows a problem best: a replay at its moment, and what broke around it. */
export type Evidence = Pick<Entry, 'links' | 'details'>

/** A clip begins so long before the moment and ends so long after it. */
const CLIP_MS = { before: 15_000, after: 45_000 }
/** What broke so long before the moment or after it has to do with it, as far as one can tell. */
const AROUND_MS = 30_000
const MOST_DETAILS = 3
const DAYS = 30

/**
 * The evidence of what a selection says: its most telling session.
 *
 * @param share  whether the clip is to open without an account, for a month: such a link can be taken back in the replay
 * @param made   links that were made for the same report, by clip: what is shown twice has one link
 */
export async function evidenceOf(
  site: string,
  lens: Lens,
  selection: Selection,
  share: boolean,
  made = new Map<string, string>(),
): Promise<Evidence | undefined> {
  const {
    sessions: [session],
  } = await call(endpointOf(questions.sessions), { site }, {
    lens,
    selection,
    order: 'telling',
    limit: 1,
  } as never)
  if (!session) return undefined
  const { id, momentMs, durationMs } = session
  const { lines } = await call(getLines, { site, id })
  const startMs = lines[0]?.t ?? 0
  const atMs = momentMs ?? 0
  const fromMs = Math.max(0, Math.round(atMs - CLIP_MS.before))
  const toMs = momentMs === null ? null : Math.round(Math.min(durationMs, atMs + CLIP_MS.after))
  const clip = `${id} ${fromMs} ${toMs}`
  if (share && !made.has(clip))
    made.set(clip, (await call(addLink, { site, id }, { days: DAYS, fromMs, toMs })).path)
  const path = made.get(clip) ?? `/replays/${id}?site=${site}&at=${Math.round(atMs)}`
  const how = share ? `opens without an account for ${DAYS} days` : 'needs an account'
  const part = toMs === null ? 'whole session' : `${clock(fromMs)} to ${clock(toMs)}`
  return {
    links: [{ label: `Replay, ${part} (${how})`, address: `${location.origin}${path}` }],
    details: brokenAround(lines, startMs + atMs, momentMs === null ? Infinity : AROUND_MS),
  }
}

/** The evidence of several things, by their ids. One that cannot be asked any more has none. */
export async function evidenceOfAll(
  site: string,
  all: readonly { id: number; lens: Lens; selection: Selection }[],
  share: boolean,
): Promise<Map<number, Evidence>> {
  const found = new Map<number, Evidence>()
  const made = new Map<string, string>()
  // One after the other: a long list does not keep others waiting.
  for (const { id, lens, selection } of all) {
    const evidence = await evidenceOf(site, lens, selection, share, made).catch((error: unknown) => {
      if (error instanceof CallError && error.status < 500 && error.status !== 403) return undefined
      throw error
    })
    if (evidence) found.set(id, evidence)
  }
  return found
}

/** Errors with their stacks, and failed requests, the nearest first. */
export function brokenAround(
  lines: readonly SessionLine[],
  atMs: number,
  withinMs: number,
): { label: string; text: string }[] {
  return lines
    .filter((line) => Math.abs(line.t - atMs) <= withinMs)
    .flatMap((line) => {
      const detail = detailOf(line)
      return detail ? [{ ...detail, far: Math.abs(line.t - atMs) }] : []
    })
    .sort((a, b) => a.far - b.far)
    .slice(0, MOST_DETAILS)
    .map(({ label, text }) => ({ label, text }))
}

function detailOf(line: SessionLine): { label: string; text: string } | undefined {
  const { message, stack, method, path, status, ms } = line as Record<string, unknown>
  if (line.kind === 'error') return { label: 'Error', text: [message, stack].filter(isText).join('\n') }
  if (line.kind !== 'request' || typeof status !== 'number' || (status !== 0 && status < 400))
    return undefined
  const text = [
    isText(method) ? method : 'GET',
    isText(path) ? path : '',
    status === 0 ? 'no answer' : String(status),
    typeof ms === 'number' ? `after ${Math.round(ms)} ms` : '',
  ]
  return { label: 'Failed request', text: text.filter(Boolean).join(' ') }
}

const isText = (value: unknown): value is string => typeof value === 'string' && value !== ''
