import type { Line, Span } from '@dust-trail/core'
import { splitSessions, touchedSessions } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { packedKeys, reopen } from './blocks.ts'
import { writeRows } from './database.ts'
import { lineKey } from './line-key.ts'
import type { SiteRow } from './models.ts'
import { describeSession } from './sessions.ts'

/** What became of lines that were placed. */
export interface Placed {
  /** sessions that were made or have changed; those of one visitor in order of time */
  changed: number[]
  /** sessions that were joined to others */
  gone: number[]
  /** lines that were there already, by their id */
  repeated: number
}

/** A session while its lines are being placed. */
interface Open extends Span {
  /** null = not stored yet */
  id: number | null
  key: string | null
  lines: Line[]
  joined: number[]
  /** its start when it was read; undefined for a new one */
  knownStartMs: number | undefined
  /** its lines lie in a block */
  packed: boolean
}

interface StoredSession {
  id: number | bigint
  visitor: string
  start_ms: number | bigint
  end_ms: number | bigint
  session_key: string | null
  block_id: number | bigint | null
}

/**
 * Gives lines their sessions, creating, stretching and joining sessions as needed, and writes them, each line with an id
 * once. Lines that name a session share it with all that name the same; others are cut by the site's limit. Must run in
 * a transaction, and for one visitor one call at a time.
 *
 * @param lines  of any visitors, in any order; lines of one instant keep theirs
 * @param idOf   what a line is known by, so that it counts once; undefined where nothing does
 * @param how    'fresh' spares looking for lines that are there already
 * @throws where lines are there already in spite of 'fresh': see isRepeat. The transaction is of no use then
 */
export async function placeLines(
  connection: Connection,
  site: SiteRow,
  lines: readonly Line[],
  idOf: (line: Line) => string | undefined = (line) => line.id,
  how: 'fresh' | 'unknown' = 'unknown',
): Promise<Placed> {
  const { fresh, keys } = await withoutRepeats(connection, site, lines, idOf, how)
  const placed: Placed = { changed: [], gone: [], repeated: lines.length - fresh.length }
  if (!fresh.length) return placed
  const limitMs = site.sessionLimitMin * 60_000
  const byVisitor = new Map<string, Line[]>()
  for (const line of fresh) {
    const own = byVisitor.get(line.visitor)
    if (own) own.push(line)
    else byVisitor.set(line.visitor, [line])
  }
  const stored = await nearSessions(connection, site, byVisitor, limitMs)
  placed.repeated += await openPacked(connection, site, byVisitor, stored, keys)
  const touched = new Set<Open>()
  for (const [visitor, own] of byVisitor) {
    own.sort((a, b) => a.t - b.t)
    const sessions = stored.get(visitor) ?? []
    for (const stretch of stretches(own, limitMs)) {
      const session = sessionFor(sessions, stretch, limitMs)
      touched.add(session)
    }
  }
  const living = [...touched].filter((session) => session.lines.length > 0)
  await createSessions(connection, site, living)
  for (const session of living) await joinSessions(connection, session)
  await stretchSessions(connection, living)
  await describeAgain(connection, site, living)
  await writeRows(
    connection,
    'INSERT INTO events (session_id, t, kind, line_key, body) VALUES (?, ?, ?, ?, ?)',
    living.flatMap((session) =>
      session.lines.map((line) => [
        session.id,
        line.t,
        line.kind,
        keys.get(line) ?? null,
        JSON.stringify(line),
      ]),
    ),
  )
  placed.changed = living.map((session) => session.id!)
  placed.gone = living.flatMap((session) => session.joined)
  return placed
}

const DUPLICATE = 1062

/** Whether an error says that a line was there already. */
export function isRepeat(error: unknown): boolean {
  const { errno, sqlMessage } = error as { errno?: number; sqlMessage?: string }
  return errno === DUPLICATE && (sqlMessage ?? '').includes('by_line')
}

async function withoutRepeats(
  connection: Connection,
  site: SiteRow,
  lines: readonly Line[],
  idOf: (line: Line) => string | undefined,
  how: 'fresh' | 'unknown',
) {
  const keys = new Map<Line, Buffer>()
  const first = new Map<string, Line>()
  const repeats = new Set<Line>()
  for (const line of lines) {
    const id = idOf(line)
    if (id === undefined) continue
    const key = lineKey(site.id, id)
    const text = key.toString('latin1')
    if (first.has(text)) repeats.add(line)
    else first.set(text, line)
    keys.set(line, key)
  }
  if (how === 'unknown' && first.size) {
    const wanted = [...first.values()].map((line) => keys.get(line)!)
    const known = await connection.query<{ line_key: Buffer }[]>(
      `SELECT line_key FROM events WHERE line_key IN (${wanted.map(() => '?').join(',')})`,
      wanted,
    )
    for (const { line_key } of known) repeats.add(first.get(line_key.toString('latin1'))!)
  }
  return { fresh: repeats.size ? lines.filter((line) => !repeats.has(line)) : lines, keys }
}

async function nearSessions(
  connection: Connection,
  site: SiteRow,
  byVisitor: ReadonlyMap<string, Line[]>,
  limitMs: number,
): Promise<Map<string, Open[]>> {
  const visitors = [...byVisitor.keys()]
  const times = [...byVisitor.values()].flatMap((own) => own.map((line) => line.t))
  const named = [...byVisitor.values()].some((own) => own.some((line) => line.session !== undefined))
  const fromMs = times.reduce((a, b) => Math.min(a, b)) - limitMs
  const toMs = times.reduce((a, b) => Math.max(a, b)) + limitMs
  const rows = await connection.query<StoredSession[]>(
    `SELECT id, visitor, start_ms, end_ms, session_key, block_id FROM sessions
     WHERE site_id = ? AND visitor IN (${visitors.map(() => '?').join(',')})
       AND (${named ? 'session_key IS NOT NULL OR' : ''} (end_ms >= ? AND start_ms <= ?))
     ORDER BY start_ms, id FOR UPDATE`,
    [site.id, ...visitors, fromMs, toMs],
  )
  const found = new Map<string, Open[]>(visitors.map((visitor) => [visitor, []]))
  for (const row of rows)
    found.get(row.visitor)?.push({
      id: Number(row.id),
      key: row.session_key,
      startMs: Number(row.start_ms),
      endMs: Number(row.end_ms),
      lines: [],
      joined: [],
      knownStartMs: Number(row.start_ms),
      packed: row.block_id !== null,
    })
  return found
}

/**
 * Opens the packed sessions that lines belong to, after dropping lines that they have already. A session that cannot be
 * opened, its lines being damaged, is passed over: the lines make another.
 *
 * @returns how many lines were dropped
 */
async function openPacked(
  connection: Connection,
  site: SiteRow,
  byVisitor: Map<string, Line[]>,
  stored: Map<string, Open[]>,
  keys: ReadonlyMap<Line, Buffer>,
): Promise<number> {
  const limitMs = site.sessionLimitMin * 60_000
  const touched = () =>
    [...byVisitor].flatMap(([visitor, lines]) =>
      stored
        .get(visitor)!
        .filter((session) => session.packed && lines.some((line) => belongs(line, session, limitMs))),
    )
  const first = touched()
  if (!first.length) return 0
  const known = await packedKeys(
    connection,
    site.id,
    first.map(({ id }) => id!),
  )
  let dropped = 0
  for (const [visitor, lines] of byVisitor) {
    const sets = stored.get(visitor)!.flatMap(({ id, packed }) => (packed ? (known.get(id!) ?? []) : []))
    if (!sets.length) continue
    const fresh = lines.filter((line) => {
      const key = keys.get(line)?.toString('latin1')
      return key === undefined || !sets.some((set) => set.has(key))
    })
    dropped += lines.length - fresh.length
    byVisitor.set(visitor, fresh)
  }
  const opened = new Set(
    await reopen(
      connection,
      site.id,
      touched().map(({ id }) => id!),
    ),
  )
  for (const sessions of stored.values()) {
    for (const session of sessions) if (opened.has(session.id ?? -1)) session.packed = false
    sessions.splice(0, sessions.length, ...sessions.filter(({ packed }) => !packed))
  }
  return dropped
}

function belongs(line: Line, session: Open, limitMs: number): boolean {
  return line.session === undefined
    ? session.key === null && line.t >= session.startMs - limitMs && line.t <= session.endMs + limitMs
    : session.key === line.session
}

/** One visitor's lines as runs that belong together: those that name one session, and the rest cut by inactivity. */
function stretches(ordered: readonly Line[], limitMs: number): { key: string | null; lines: Line[] }[] {
  const named = new Map<string, Line[]>()
  const rest: Line[] = []
  for (const line of ordered) {
    if (line.session === undefined) rest.push(line)
    else if (named.has(line.session)) named.get(line.session)!.push(line)
    else named.set(line.session, [line])
  }
  const cut = splitSessions(
    rest.map((line) => line.t),
    limitMs,
  ).map(([from, to]) => ({ key: null, lines: rest.slice(from, to) }))
  return [...[...named].map(([key, lines]) => ({ key, lines })), ...cut]
}

function sessionFor(sessions: Open[], stretch: { key: string | null; lines: Line[] }, limitMs: number): Open {
  const span = { startMs: stretch.lines[0]!.t, endMs: stretch.lines[stretch.lines.length - 1]!.t }
  const candidates = sessions.filter((session) => session.key === stretch.key)
  const chosen =
    stretch.key !== null ? candidates : touchedSessions(candidates, span, limitMs).map((i) => candidates[i]!)
  let session = chosen[0]
  if (!session) {
    session = {
      id: null,
      key: stretch.key,
      ...span,
      lines: [],
      joined: [],
      knownStartMs: undefined,
      packed: false,
    }
    sessions.push(session)
  }
  for (const other of chosen.slice(1)) {
    session.startMs = Math.min(session.startMs, other.startMs)
    session.endMs = Math.max(session.endMs, other.endMs)
    session.lines.push(...other.lines.splice(0))
    session.joined.push(...(other.id === null ? [] : [other.id]), ...other.joined)
    sessions.splice(sessions.indexOf(other), 1)
  }
  session.startMs = Math.min(session.startMs, span.startMs)
  session.endMs = Math.max(session.endMs, span.endMs)
  session.lines.push(...stretch.lines)
  session.lines.sort((a, b) => a.t - b.t)
  return session
}

const COLUMNS =
  'site_id, visitor, start_ms, end_ms, returning_visitor, device, country, channel, campaign, referrer, session_key'

async function createSessions(
  connection: Connection,
  site: SiteRow,
  sessions: readonly Open[],
): Promise<void> {
  const fresh = sessions.filter((session) => session.id === null)
  if (!fresh.length) return
  const visitors = [...new Set(fresh.map((session) => session.lines[0]!.visitor))]
  const first = await connection.query<{ visitor: string; first: number | bigint }[]>(
    `SELECT visitor, MIN(start_ms) AS first FROM sessions
     WHERE site_id = ? AND visitor IN (${visitors.map(() => '?').join(',')}) GROUP BY visitor`,
    [site.id, ...visitors],
  )
  const firstMs = new Map(first.map((row) => [row.visitor, Number(row.first)]))
  for (const session of fresh) {
    const { visitor } = session.lines[0]!
    firstMs.set(visitor, Math.min(firstMs.get(visitor) ?? Infinity, session.startMs))
  }
  const rows = fresh.map((session) => {
    const about = describeSession(site, session.lines)
    const { visitor } = session.lines[0]!
    return [
      site.id,
      visitor,
      session.startMs,
      session.endMs,
      about.returning || session.startMs > firstMs.get(visitor)! ? 1 : 0,
      ...described(about),
      session.key,
    ]
  })
  const one = `(${rows[0]!.map(() => '?').join(',')})`
  // One statement: InnoDB numbers its rows one after another, from the number it returns.
  const result = await connection.query<{ insertId: bigint | number }>(
    `INSERT INTO sessions (${COLUMNS}) VALUES ${rows.map(() => one).join(',')}`,
    rows.flat(),
  )
  fresh.forEach((session, i) => (session.id = Number(result.insertId) + i))
}

async function joinSessions(connection: Connection, session: Open): Promise<void> {
  for (const id of session.joined) {
    await connection.query('UPDATE events SET session_id = ? WHERE session_id = ?', [session.id, id])
    await connection.query('UPDATE recordings SET session_id = ? WHERE session_id = ?', [session.id, id])
    await connection.query('DELETE FROM sessions WHERE id = ?', [id])
  }
}

async function stretchSessions(connection: Connection, sessions: readonly Open[]): Promise<void> {
  const known = sessions.filter((session) => session.knownStartMs !== undefined)
  await writeRows(
    connection,
    'UPDATE sessions SET start_ms = ?, end_ms = ? WHERE id = ?',
    known.map(({ startMs, endMs, id }) => [startMs, endMs, id]),
  )
}

/** What comes before all that was known of a session says anew how it began. */
async function describeAgain(
  connection: Connection,
  site: SiteRow,
  sessions: readonly Open[],
): Promise<void> {
  const earlier = sessions.filter(
    ({ knownStartMs, startMs, lines }) =>
      knownStartMs !== undefined && startMs < knownStartMs && lines.some((line) => line.kind === 'page'),
  )
  await writeRows(
    connection,
    'UPDATE sessions SET device = ?, country = ?, channel = ?, campaign = ?, referrer = ? WHERE id = ?',
    earlier.map((session) => {
      return [...described(describeSession(site, session.lines)), session.id]
    }),
  )
}

/** Device, country, channel, campaign and referrer as the columns of that order. */
function described(about: ReturnType<typeof describeSession>): unknown[] {
  return [
    JSON.stringify(about.device),
    about.country,
    about.channel,
    about.campaign && JSON.stringify(about.campaign),
    about.referrer,
  ]
}
