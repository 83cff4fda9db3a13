import type { Line } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { inTransaction, writeRows } from './database.ts'
import type { SiteRow } from './models.ts'
import { storeSessions } from './pack-sessions.ts'
import type { PackedPlace } from './packed-lines.ts'
import { packedLines } from './packed-lines.ts'
import type { SessionRecord } from './session-row.ts'
import { sessionRow } from './session-row.ts'

/** A block that took the place of another; `made` is undefined where nothing was left. */
export interface Rewritten {
  siteId: number
  old: number
  made: number | undefined
}

/**
 * Writes one block anew that deleted sessions have left, so that nothing of them stays; all or nothing. Sessions whose
 * lines are damaged stay in the old block, which is then kept.
 *
 * @returns undefined where no block is marked for it
 */
export async function rewriteBlock(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'id' | 'origins'>,
): Promise<Rewritten | undefined> {
  return inTransaction(sequelize, async (connection) => {
    const [block] = await connection.query<{ id: number | bigint }[]>(
      'SELECT id FROM blocks WHERE rewrite = 1 AND site_id = ? ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED',
      [site.id],
    )
    if (!block) return undefined
    const old = Number(block.id)
    const records = await connection.query<(SessionRecord & PackedPlace)[]>(
      `SELECT id, visitor, returning_visitor, block_id, block_pos FROM sessions
       WHERE block_id = ? ORDER BY block_pos FOR UPDATE`,
      [old],
    )
    const lines = await packedLines((sql, values) => connection.query(sql, values), records)
    const rows = records.flatMap((record) => {
      const own = lines.get(Number(record.id))
      return own
        ? [
            sessionRow(
              site,
              record,
              own.map((body) => JSON.parse(body) as Line),
            ),
          ]
        : []
    })
    if (rows.length < records.length) {
      await connection.query('UPDATE blocks SET rewrite = 0 WHERE id = ?', [old])
      return { siteId: site.id, old, made: old }
    }
    const made = rows.length ? (await storeSessions(connection, site.id, rows)).blockId : undefined
    await writeRows(
      connection,
      'UPDATE sessions SET block_id = ?, block_pos = ? WHERE id = ?',
      rows.map(({ id }, position) => [made, position, id]),
    )
    await connection.query('DELETE FROM blocks WHERE id = ?', [old])
    return { siteId: site.id, old, made }
  })
}
