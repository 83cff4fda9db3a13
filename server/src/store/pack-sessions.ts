import type { DenseBlock, Line, SessionRow } from '@dust-trail/core'
import { buildDenseBlock, Dictionaries, Dictionary, encodeBlock } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { grouped } from '../grouped.ts'
import { compress } from './compression.ts'
import { inTransaction, writeRows } from './database.ts'
import type { SiteRow } from './models.ts'
import { LINES_TOGETHER } from './packed-lines.ts'
import type { SessionRecord } from './session-row.ts'
import { sessionRow } from './session-row.ts'

/**
 * Packs sessions that have ended: their columns into a block, their lines beside it, their rows gone; all or nothing.
 *
 * @param endedBeforeMs  sessions with their last event before this can no longer grow on their own
 * @param least          fewer are left for later
 * @returns how many sessions and events were packed; a block holds at most BLOCK_SESSIONS
 */
export async function packEnded(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'id' | 'origins'>,
  endedBeforeMs: number,
  least: number,
): Promise<{ sessions: number; events: number }> {
  return inTransaction(sequelize, async (connection) => {
    // Sessions that somebody is adding to are left for later, so that nobody waits for anybody.
    const records = await connection.query<(SessionRecord & { start_ms: number | bigint })[]>(
      `SELECT id, visitor, returning_visitor, start_ms FROM sessions
       WHERE site_id = ? AND block_id IS NULL AND end_ms < ? ORDER BY end_ms, id LIMIT ? FOR UPDATE SKIP LOCKED`,
      [site.id, endedBeforeMs, BLOCK_SESSIONS],
    )
    if (records.length < Math.max(1, least)) return { sessions: 0, events: 0 }
    const ids = records.map(({ id }) => Number(id))
    const lines = await storedLines(connection, ids)
    const rows = records
      .sort((a, b) => Number(a.start_ms) - Number(b.start_ms) || a.id - b.id)
      .flatMap((record) => {
        const own = lines.get(Number(record.id))
        return own ? [sessionRow(site, record, own)] : []
      })
    const { blockId, events } = await storeSessions(connection, site.id, rows)
    await writeRows(
      connection,
      'UPDATE sessions SET block_id = ?, block_pos = ? WHERE id = ?',
      rows.map(({ id }, position) => [blockId, position, id]),
    )
    // By this index, or a small table would be read, and locked, as a whole.
    await connection.query('DELETE e FROM events e FORCE INDEX (by_session) WHERE e.session_id IN (?)', [
      rows.map(({ id }) => id),
    ])
    return { sessions: rows.length, events }
  })
}

/** Writes sessions as a block and their lines beside it. */
export async function storeSessions(
  connection: Connection,
  siteId: number,
  rows: readonly SessionRow[],
  textOf?: (line: Line) => string,
): Promise<{ blockId: number; events: number }> {
  const dictionaries = new Dictionaries(new Dictionary())
  const block = buildDenseBlock(rows, dictionaries)
  const blockId = await storeBlock(connection, siteId, block, dictionaries)
  await writeLines(
    connection,
    blockId,
    rows.map(({ lines }) => lines),
    textOf,
  )
  return { blockId, events: block.events.count }
}

/** Writes a block as it is stored; returns its id. */
export async function storeBlock(
  connection: Connection,
  siteId: number,
  block: DenseBlock,
  dictionaries: Dictionaries,
): Promise<number> {
  const { body, checksum } = await compress(encodeBlock(block, dictionaries))
  const { insertId } = await connection.query<{ insertId: number | bigint }>(
    'INSERT INTO blocks (site_id, sessions, events, checksum, `columns`) VALUES (?, ?, ?, ?, ?)',
    [siteId, block.sessions.count, block.events.count, checksum, body],
  )
  return Number(insertId)
}

async function storedLines(connection: Connection, ids: readonly number[]): Promise<Map<number, Line[]>> {
  const rows = await connection.query<{ session_id: number | bigint; body: string }[]>(
    'SELECT session_id, body FROM events WHERE session_id IN (?)',
    [ids],
  )
  const bySession = grouped(rows, ({ session_id }) => Number(session_id))
  return new Map([...bySession].map(([id, own]) => [id, own.map(({ body }) => JSON.parse(body) as Line)]))
}

/** Lines of sessions in the order of a block: a line each, sessions apart by an empty one. */
export async function writeLines(
  connection: Connection,
  blockId: number,
  sessions: readonly (readonly Line[])[],
  textOf: (line: Line) => string = JSON.stringify,
): Promise<void> {
  const pieces: unknown[][] = []
  for (let from = 0; from < sessions.length; from += LINES_TOGETHER) {
    const text = sessions
      .slice(from, from + LINES_TOGETHER)
      .map((lines) => lines.map((line) => `\t${textOf(line)}`).join('\n'))
      .join('\n\n')
    const { body, checksum } = await compress(text)
    pieces.push([blockId, from / LINES_TOGETHER, checksum, body])
  }
  await writeRows(
    connection,
    'INSERT INTO block_lines (block_id, n, checksum, body) VALUES (?, ?, ?, ?)',
    pieces,
  )
}

/** Sessions in one block. */
export const BLOCK_SESSIONS = 4096
