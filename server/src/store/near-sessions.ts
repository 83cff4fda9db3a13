import type { Line } from '@dust-trail/core'
import { lastAct, orderLines, reachMs } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import type { SiteRow } from './models.ts'
import type { PackedPlace } from './packed-lines.ts'
import { packedLines } from './packed-lines.ts'

/** A stored session as far as placing lines needs it. */
export interface StoredSession {
  id: number
  visitor: string
  startMs: number
  endMs: number
  key: string | null
  /** when the visitor did something for the last time; null = never, or not known */
  actMs: number | null
  lineCount: number
  /** 1 = a session of this visitor began before; DELETED_BEFORE = one did that was deleted since */
  seenBefore: number
  place: PackedPlace | null
}

export const DELETED_BEFORE = 2

/** A line that is stored, and its row where it is not packed. */
export interface StoredLineOf {
  line: Line
  row: number | null
  session: number
}

interface SessionRecord {
  id: number | bigint
  visitor: string
  start_ms: number | bigint
  end_ms: number | bigint
  session_key: string | null
  act_ms: number | bigint | null
  line_count: number
  returning_visitor: number
  block_id: number | bigint | null
  block_pos: number | null
}

const VISITORS_AT_ONCE = 500
const SESSIONS_AT_ONCE = 1000

/** Pieces of a list. */
export function* piecesOf<T>(list: readonly T[], length: number): Generator<T[]> {
  for (let from = 0; from < list.length; from += length) yield list.slice(from, from + length)
}

/**
 * Sessions of visitors that lie near enough to what has come to be cut again with it, and those of the same names. They
 * are locked until the transaction ends.
 *
 * @param coming  lines by visitor
 */
export async function nearSessions(
  connection: Connection,
  site: SiteRow,
  coming: ReadonlyMap<string, readonly Line[]>,
): Promise<Map<string, StoredSession[]>> {
  const reach = reachMs(site.sessionLimitMin * 60_000)
  const found = new Map<string, StoredSession[]>()
  for (const visitors of piecesOf([...coming.keys()], VISITORS_AT_ONCE)) {
    const lines = visitors.flatMap((visitor) => coming.get(visitor)!)
    const fromMs = lines.reduce((ms, { t }) => Math.min(ms, t), Infinity) - reach
    const toMs = lines.reduce((ms, { t }) => Math.max(ms, t), -Infinity) + reach
    const named = lines.some(({ session }) => session !== undefined)
    const rows = await connection.query<SessionRecord[]>(
      `SELECT id, visitor, start_ms, end_ms, session_key, act_ms, line_count, returning_visitor, block_id, block_pos
       FROM sessions FORCE INDEX (by_visitor)
       WHERE site_id = ? AND visitor IN (${visitors.map(() => '?').join(',')})
         AND (${named ? 'session_key IS NOT NULL OR' : ''} (end_ms >= ? AND start_ms <= ?))
       ORDER BY id FOR UPDATE`,
      [site.id, ...visitors, fromMs, toMs],
    )
    for (const row of rows) {
      const session = storedSession(row)
      const own = coming.get(session.visitor)
      if (!own || !isNear(session, own, reach)) continue
      const list = found.get(session.visitor)
      if (list) list.push(session)
      else found.set(session.visitor, [session])
    }
  }
  return found
}

function isNear({ key, startMs, endMs }: StoredSession, lines: readonly Line[], reach: number): boolean {
  if (key !== null) return lines.some(({ session }) => session === key)
  let [fromMs, toMs] = [Infinity, -Infinity]
  for (const { t, session } of lines) {
    if (session !== undefined) continue
    fromMs = Math.min(fromMs, t)
    toMs = Math.max(toMs, t)
  }
  return endMs >= fromMs - reach && startMs <= toMs + reach
}

function storedSession(row: SessionRecord): StoredSession {
  return {
    id: Number(row.id),
    visitor: row.visitor,
    startMs: Number(row.start_ms),
    endMs: Number(row.end_ms),
    key: row.session_key,
    actMs: row.act_ms === null ? null : Number(row.act_ms),
    lineCount: row.line_count,
    seenBefore: row.returning_visitor,
    place: row.block_id === null ? null : { id: row.id, block_id: row.block_id, block_pos: row.block_pos! },
  }
}

/** Lines of stored sessions, packed or not, in their order. One whose lines are damaged is missing. */
export async function linesOfSessions(
  connection: Connection,
  sessions: readonly StoredSession[],
): Promise<Map<number, StoredLineOf[]>> {
  const found = new Map<number, StoredLineOf[]>()
  const places = sessions.flatMap(({ place }) => place ?? [])
  const packed = await packedLines((sql, values) => connection.query(sql, values), places)
  for (const [session, lines] of packed)
    found.set(
      session,
      lines.map((body) => ({ line: JSON.parse(body) as Line, row: null, session })),
    )
  const open = sessions.flatMap(({ id, place }) => (place ? [] : [id]))
  for (const ids of piecesOf(open, SESSIONS_AT_ONCE)) {
    const rows = await connection.query<{ id: number | bigint; session_id: number | bigint; body: string }[]>(
      'SELECT id, session_id, body FROM events WHERE session_id IN (?)',
      [ids],
    )
    for (const { id, session_id, body } of rows) {
      const session = Number(session_id)
      const one = { line: JSON.parse(body) as Line, row: Number(id), session }
      const list = found.get(session)
      if (list) list.push(one)
      else found.set(session, [one])
    }
  }
  for (const [session, lines] of found) {
    const byLine = new Map(lines.map((one) => [one.line, one]))
    found.set(
      session,
      orderLines(lines.map(({ line }) => line)).map((line) => byLine.get(line)!),
    )
  }
  return found
}

/** What a session's row says of its lines: when it begins and ends, and how far the visitor took part. */
export function aboutLines(ordered: readonly Line[]) {
  return {
    startMs: ordered[0]!.t,
    endMs: ordered[ordered.length - 1]!.t,
    actMs: lastAct(ordered),
    lineCount: ordered.length,
  }
}
