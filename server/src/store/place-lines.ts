import type { Line, Running } from '@dust-trail/core'
import { cutAgain, cutNamed, goOn, lineText, orderLines } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { grouped } from '../grouped.ts'
import { writeRows } from './database.ts'
import { eventRow, INSERT_EVENTS, lineKey } from './event-row.ts'
import type { SiteRow } from './models.ts'
import { insertSessions } from './insert-sessions.ts'
import type { StoredLineOf, StoredSession } from './near-sessions.ts'
import { aboutLines, DELETED_BEFORE, linesOfSessions, nearSessions, piecesOf } from './near-sessions.ts'
import { leaveBlocks, reopen, SAID_OF_SESSIONS } from './reopen-sessions.ts'

/** What became of lines that were placed. */
export interface Placed {
  /** sessions that were made or have changed; those of one visitor in order of time */
  changed: number[]
  /** sessions that were joined to others */
  gone: number[]
  /** lines that were there already */
  repeated: number
  /** lines left out since their session has as many as one may have */
  tooMany: number
  /** by visitor how many sessions there are that were not */
  begunBy: Map<string, number>
  /** by visitor the session in which the latest of the lines lies */
  latest: Map<string, number>
}

/** Lines of one session beyond which no more are taken. */
export const MOST_LINES = Number(process.env['LINES_PER_SESSION'] ?? 20_000)

/** A session as it is to be. */
interface Target {
  /** undefined = not stored yet */
  stored: StoredSession | undefined
  visitor: string
  key: string | null
  /** in order */
  lines: Line[]
  /** those that are to be written as rows */
  write: Line[]
  /** those of them that are new */
  fresh: Line[]
  /** rows that lie in other sessions so far */
  move: number[]
  /** sessions that become part of this one */
  joined: StoredSession[]
  /** how the session then stands, where `lines` are only those that are added to it */
  added: Running | undefined
}

/**
 * Gives lines their sessions and writes them: those that name a session share it with all that name the same, others are
 * cut by the site's limit (see cutSessions). The same lines make the same sessions whatever the order and the pieces in
 * which they come. A line with an id counts once; of lines without, a session has as many equal ones as came together at
 * most. Must run in a transaction, and for one visitor one call at a time.
 *
 * @param lines  of any visitors, in any order
 */
export async function placeLines(
  connection: Connection,
  site: SiteRow,
  lines: readonly Line[],
): Promise<Placed> {
  const placed: Placed = {
    changed: [],
    gone: [],
    repeated: 0,
    tooMany: 0,
    begunBy: new Map(),
    latest: new Map(),
  }
  if (!lines.length) return placed
  const fresh = await withoutKnownIds(connection, site, lines)
  placed.repeated = lines.length - fresh.length
  const byVisitor = grouped(fresh, ({ visitor }) => visitor)
  const near = await nearSessions(connection, site, byVisitor)
  const limitMs = site.sessionLimitMin * 60_000
  const all: Target[] = []
  const again: { visitor: string; key: string | null; lines: Line[]; near: StoredSession[] }[] = []
  for (const [visitor, own] of byVisitor)
    for (const [name, together] of grouped(own, ({ session }) => session)) {
      const key = name ?? null
      const stored = (near.get(visitor) ?? []).filter((session) => session.key === key)
      const added = addedTo(stored, together, limitMs)
      if (added) all.push(added)
      else again.push({ visitor, key, lines: together, near: stored })
    }
  const storedLines = await linesOfSessions(
    connection,
    again.flatMap((one) => one.near),
  )
  for (const one of again) {
    const cut = cutWithStored(one, storedLines, limitMs)
    placed.repeated += cut.repeated
    all.push(...cut.targets)
  }
  for (const target of all) placed.tooMany += dropTooMany(target)
  // Of a session that has as many lines as it may have nothing is written.
  const targets = all.filter(({ lines: own }) => own.length > 0)
  for (const { visitor, stored } of targets)
    if (!stored) placed.begunBy.set(visitor, (placed.begunBy.get(visitor) ?? 0) + 1)
  await writeTargets(connection, site, targets)
  const endMs = new Map<string, number>()
  for (const { visitor, stored, lines: own } of targets) {
    const ms = own[own.length - 1]!.t
    if (ms < (endMs.get(visitor) ?? -Infinity)) continue
    endMs.set(visitor, ms)
    placed.latest.set(visitor, stored!.id)
  }
  const flagged = await flagSeenBefore(connection, site, targets)
  placed.changed = [...new Set([...targets.map(({ stored }) => stored!.id), ...flagged])]
  placed.gone = targets.flatMap(({ joined }) => joined.map(({ id }) => id))
  return placed
}

/** Lines without those whose id is a row already, and of several with one id only the first. */
async function withoutKnownIds(
  connection: Connection,
  site: SiteRow,
  lines: readonly Line[],
): Promise<readonly Line[]> {
  const first = new Map<string, Line>()
  const repeats = new Set<Line>()
  for (const line of lines) {
    if (line.id === undefined) continue
    const key = lineKey(site.id, line.id).toString('latin1')
    const before = first.get(key)
    if (!before) first.set(key, line)
    // Of two lines with one id the same one counts, whichever came first.
    else if (lineText(line) < lineText(before)) {
      first.set(key, line)
      repeats.add(before)
    } else repeats.add(line)
  }
  for (const keys of piecesOf([...first.keys()], 2000)) {
    const stored = await connection.query<{ line_key: Buffer }[]>(
      `SELECT line_key FROM events WHERE line_key IN (${keys.map(() => '?').join(',')})`,
      keys.map((key) => Buffer.from(key, 'latin1')),
    )
    for (const { line_key } of stored) repeats.add(first.get(line_key.toString('latin1'))!)
  }
  return repeats.size ? lines.filter((line) => !repeats.has(line)) : lines
}

/** The session that lines only add to, as most do while it goes on; undefined where more must be looked at. */
function addedTo(stored: readonly StoredSession[], lines: readonly Line[], limitMs: number) {
  if (!stored.length) return undefined
  const last = stored.reduce((a, b) => (b.startMs > a.startMs ? b : a))
  if (last.place) return undefined
  // One that ended within the limit before is part of something longer, which is cut by the clock.
  if (stored.some((other) => other !== last && other.endMs >= last.startMs - limitMs)) return undefined
  const ordered = orderLines(lines)
  if (last.key !== null && stored.length > 1) return undefined
  // A line without an id may be there already, unless it comes after all that are.
  if (ordered.some(({ t, id }) => id === undefined && t <= last.endMs)) return undefined
  const running = goOn(last, ordered, last.key === null ? limitMs : Infinity)
  if (!running) return undefined
  const target: Target = {
    ...{ stored: last, visitor: last.visitor, key: last.key },
    ...{ lines: ordered, write: ordered, fresh: ordered, move: [], joined: [], added: running },
  }
  return target
}

/** Cuts stored sessions again together with what has come. */
function cutWithStored(
  {
    visitor,
    key,
    lines,
    near,
  }: { visitor: string; key: string | null; lines: Line[]; near: StoredSession[] },
  storedLines: ReadonlyMap<number, StoredLineOf[]>,
  limitMs: number,
) {
  // Sessions whose lines are damaged stay as they are: what belongs to them makes others.
  const readable = near.filter(({ id }) => storedLines.has(id))
  const known = readable.map(({ id }) => storedLines.get(id)!)
  const { fresh: coming, repeated } = withoutStored(lines, known.flat())
  const byId = new Map(readable.map((session) => [session.id, session]))
  const ofLine = new Map(known.flat().map((one) => [one.line, one]))
  const sessions = known.map((ofSession) => ofSession.map(({ line }) => line))
  if (!coming.length) return { targets: [], repeated }
  const cut =
    key === null
      ? cutAgain(sessions, coming, orderLines, limitMs)
      : cutNamed(orderLines([...sessions.flat(), ...coming]), sessions.length > 1)
  const targets: Target[] = []
  const taken = new Set<number>()
  for (const session of cut) {
    const owners = new Set(session.flatMap((line) => ofLine.get(line)?.session ?? []))
    const free = [...owners].filter((id) => !taken.has(id)).sort((a, b) => a - b)
    const id = free[0]
    if (id !== undefined) taken.add(id)
    const stored = id === undefined ? undefined : byId.get(id)
    const fresh = session.filter((line) => !ofLine.has(line))
    const asBefore = stored && owners.size === 1 && session.length === storedLines.get(stored.id)!.length
    if (asBefore && !fresh.length) continue
    const target: Target = {
      stored,
      visitor,
      key,
      lines: session,
      write: [],
      fresh,
      move: [],
      joined: [],
      added: undefined,
    }
    for (const line of session) {
      const one = ofLine.get(line)
      if (!one || one.row === null) target.write.push(line)
      else if (one.session !== stored?.id) target.move.push(one.row)
    }
    targets.push(target)
  }
  // A session that no longer has lines of its own goes to the one that took its first.
  for (const session of readable) {
    if (taken.has(session.id)) continue
    const [first] = storedLines.get(session.id)!
    targets.find((target) => target.lines.includes(first!.line))?.joined.push(session)
  }
  return { targets, repeated }
}

/** Lines that are not stored yet: by id, or else as many equal ones as there are more than those stored. */
function withoutStored(lines: readonly Line[], stored: readonly StoredLineOf[]) {
  if (!stored.length) return { fresh: [...lines], repeated: 0 }
  const times = new Set(lines.map(({ t }) => t))
  const ids = new Set<string>()
  const left = new Map<string, number>()
  for (const { line } of stored) {
    if (line.id !== undefined) ids.add(line.id)
    else if (times.has(line.t)) {
      const text = lineText(line)
      left.set(text, (left.get(text) ?? 0) + 1)
    }
  }
  const fresh = lines.filter((line) => {
    if (line.id !== undefined) return !ids.has(line.id)
    if (!left.size) return true
    const text = lineText(line)
    const equal = left.get(text) ?? 0
    if (equal > 0) left.set(text, equal - 1)
    return equal === 0
  })
  return { fresh, repeated: lines.length - fresh.length }
}

/** Leaves out what is too much for one session, of what is new; returns how many lines that are. */
function dropTooMany(target: Target): number {
  const { stored, lines, write, fresh, added } = target
  const before = added ? stored!.lineCount : lines.length - fresh.length
  const most = Math.max(0, MOST_LINES - before)
  if (fresh.length <= most) return 0
  const left = new Set(fresh.slice(most))
  target.write = write.filter((line) => !left.has(line))
  target.lines = lines.filter((line) => !left.has(line))
  if (added && target.lines.length) {
    const about = aboutLines(target.lines)
    target.added = {
      startMs: added.startMs,
      endMs: Math.max(stored!.endMs, about.endMs),
      actMs: Math.max(stored!.actMs!, about.actMs ?? 0),
    }
  }
  return left.size
}

async function writeTargets(
  connection: Connection,
  site: SiteRow,
  targets: readonly Target[],
): Promise<void> {
  const opened = targets.flatMap(({ stored, joined }) => (stored ? [stored, ...joined] : joined))
  await leaveBlocks(
    connection,
    opened.flatMap(({ place }) => place ?? []),
  )
  await createSessions(connection, site, targets)
  await writeRows(
    connection,
    `UPDATE sessions SET start_ms = ?, end_ms = ?, act_ms = ?, line_count = ?, block_id = NULL, block_pos = NULL
     WHERE id = ?`,
    targets.map(({ stored, lines, added }) => {
      const { startMs, endMs, actMs } = added ?? aboutLines(lines)
      return [startMs, endMs, actMs, lines.length + (added ? stored!.lineCount : 0), stored!.id]
    }),
  )
  for (const { stored, move, joined } of targets) {
    for (const rows of piecesOf(move, 1000))
      await connection.query('UPDATE events SET session_id = ? WHERE id IN (?)', [stored!.id, rows])
    for (const { id } of joined) {
      // Where both have the same tag the one that is there stays.
      for (const table of ['recordings', ...SAID_OF_SESSIONS])
        await connection.query(`UPDATE IGNORE ${table} SET session_id = ? WHERE session_id = ?`, [
          stored!.id,
          id,
        ])
      for (const table of SAID_OF_SESSIONS)
        await connection.query(`DELETE FROM ${table} WHERE session_id = ?`, [id])
      await connection.query('DELETE FROM sessions WHERE id = ?', [id])
    }
  }
  await writeRows(
    connection,
    INSERT_EVENTS,
    targets.flatMap(({ stored, write }) => write.map((line) => eventRow(site.id, stored!.id, line))),
  )
}

/** Gives those that are not stored yet a row, and an id. */
async function createSessions(
  connection: Connection,
  site: SiteRow,
  targets: readonly Target[],
): Promise<void> {
  const fresh = targets.filter(({ stored }) => !stored)
  for (const together of piecesOf(fresh, 2000)) {
    const first = await insertSessions(
      connection,
      site.id,
      together.map((target) => ({ ...target, seenBefore: false })),
    )
    together.forEach((target, i) => {
      const { visitor, key, lines } = target
      const { startMs, endMs, actMs } = aboutLines(lines)
      const id = first + i
      target.stored = {
        ...{ id, visitor, key, startMs, endMs, actMs },
        ...{ lineCount: 0, seenBefore: 0, place: null },
      }
    })
  }
}

interface SeenRecord {
  id: number | bigint
  start_ms: number | bigint
  first_ms: number | bigint
  returning_visitor: number
  block_id: number | bigint | null
}

/**
 * Marks sessions of visitors that were seen before: those that began after the visitor's first one. What arrives late can
 * be earlier than all that was there; then the one that was the first until now is marked, too. Where the earlier
 * sessions were deleted the mark stays (DELETED_BEFORE).
 *
 * @returns ids of sessions whose mark has changed
 */
async function flagSeenBefore(
  connection: Connection,
  site: SiteRow,
  targets: readonly Target[],
): Promise<number[]> {
  const began = targets.filter(
    ({ stored, lines, added, joined }) =>
      !added && (stored!.lineCount === 0 || joined.length > 0 || lines[0]!.t !== stored!.startMs),
  )
  const changes: { id: number; seenBefore: number; packed: boolean }[] = []
  const of = new Map(began.map((target) => [target.stored!.id, target]))
  const idsOf = (visitors: readonly string[]) => {
    const wanted = new Set(visitors)
    return began.flatMap(({ visitor, stored }) => (wanted.has(visitor) ? stored!.id : []))
  }
  for (const visitors of piecesOf([...new Set(began.map(({ visitor }) => visitor))], 500)) {
    const rows = await connection.query<SeenRecord[]>(
      `SELECT s.id, s.start_ms, s.returning_visitor, s.block_id, f.first_ms FROM sessions s
       JOIN (SELECT visitor, MIN(start_ms) AS first_ms FROM sessions
             WHERE site_id = ? AND visitor IN (?) GROUP BY visitor) f ON f.visitor = s.visitor
       WHERE s.site_id = ? AND s.visitor IN (?)
         AND (s.id IN (?) OR (s.returning_visitor = 0 AND s.start_ms > f.first_ms))`,
      [site.id, visitors, site.id, visitors, idsOf(visitors)],
    )
    for (const row of rows) {
      const id = Number(row.id)
      const target = of.get(id)
      const before = target ? [...(target.stored!.lineCount ? [target.stored!] : []), ...target.joined] : []
      const lasting = before.some(({ seenBefore }) => seenBefore === DELETED_BEFORE)
      const seenBefore = lasting ? DELETED_BEFORE : Number(row.start_ms) > Number(row.first_ms) ? 1 : 0
      if (seenBefore === row.returning_visitor) continue
      changes.push({ id, seenBefore, packed: row.block_id !== null })
    }
  }
  // What a block says of a session cannot be changed in it.
  await reopen(
    connection,
    site.id,
    changes.flatMap(({ id, packed }) => (packed ? [id] : [])),
  )
  await writeRows(
    connection,
    'UPDATE sessions SET returning_visitor = ? WHERE id = ?',
    changes.map(({ id, seenBefore }) => [seenBefore, id]),
  )
  return changes.map(({ id }) => id)
}
