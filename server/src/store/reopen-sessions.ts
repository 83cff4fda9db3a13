import type { Line } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { writeRows } from './database.ts'
import type { PackedPlace } from './packed-lines.ts'
import { eventRow, INSERT_EVENTS } from './event-row.ts'
import { packedLines, placesOf } from './packed-lines.ts'

/**
 * Takes sessions out of their blocks: their lines are rows again, their places in the blocks are holes. Must run in a
 * transaction. A session whose lines are damaged stays where it is.
 *
 * @returns ids of the sessions that are open now
 */
export async function reopen(
  connection: Connection,
  siteId: number,
  ids: readonly number[],
): Promise<number[]> {
  if (!ids.length) return []
  const places = await placesOf(connection, ids)
  const lines = await packedLines((sql, values) => connection.query(sql, values), places)
  const open = places.filter(({ id }) => lines.has(Number(id)))
  await writeRows(
    connection,
    INSERT_EVENTS,
    open.flatMap(({ id }) =>
      lines.get(Number(id))!.map((body) => eventRow(siteId, Number(id), JSON.parse(body) as Line)),
    ),
  )
  await leaveBlocks(connection, open)
  await writeRows(
    connection,
    'UPDATE sessions SET block_id = NULL, block_pos = NULL WHERE id = ?',
    open.map(({ id }) => [Number(id)]),
  )
  return open.map(({ id }) => Number(id))
}

/** Makes holes of sessions' places; a block with nothing but holes is deleted. */
export async function leaveBlocks(connection: Connection, places: readonly PackedPlace[]): Promise<void> {
  if (!places.length) return
  // Whoever makes holes in a block may delete it in the end: two that both began with holes would wait for each other.
  await connection.query('SELECT id FROM blocks WHERE id IN (?) ORDER BY id FOR UPDATE', [
    [...new Set(places.map(({ block_id }) => Number(block_id)))],
  ])
  await writeRows(
    connection,
    'INSERT INTO block_holes (block_id, position) VALUES (?, ?)',
    places.map(({ block_id, block_pos }) => [Number(block_id), block_pos]),
  )
  for (const blockId of new Set(places.map(({ block_id }) => Number(block_id))))
    await connection.query(
      `DELETE FROM blocks WHERE id = ? AND sessions = (SELECT COUNT(*) FROM block_holes WHERE block_id = ?)`,
      [blockId, blockId],
    )
}

/** What people have said of sessions. */
export const SAID_OF_SESSIONS = ['session_notes', 'session_tags', 'session_watched', 'session_links'] as const

/**
 * Deletes sessions with all that is theirs: they are gone at once. What blocks still hold of them is taken out when these
 * are rewritten (rewriteBlock), which they are marked for. Must run in a transaction.
 *
 * @returns hashes of pages that their recordings showed
 */
export async function deleteSessions(connection: Connection, ids: readonly number[]): Promise<string[]> {
  if (!ids.length) return []
  const places = await placesOf(connection, ids)
  await leaveBlocks(connection, places)
  const blocks = [...new Set(places.map(({ block_id }) => Number(block_id)))]
  if (blocks.length) await connection.query('UPDATE blocks SET rewrite = 1 WHERE id IN (?)', [blocks])
  const shown = await connection.query<{ hash: string }[]>(
    'SELECT DISTINCT snapshot_hash AS hash FROM recordings WHERE session_id IN (?) AND snapshot_hash IS NOT NULL',
    [ids],
  )
  for (const table of ['events', 'recordings', ...SAID_OF_SESSIONS])
    await connection.query(`DELETE FROM ${table} WHERE session_id IN (?)`, [ids])
  await connection.query('DELETE FROM sessions WHERE id IN (?)', [ids])
  return shown.map(({ hash }) => hash)
}
