import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { inTransaction } from './database.ts'
import { deleteUnseenPages } from './unseen-pages.ts'

/** What is large, with how many rows of it are deleted in one transaction: little enough to stand in nobody's way. */
const LARGE = { recordings: 1000, batches: 5000, sessions: 2000, blocks: 5, kept_files: 100 } as const

/** What else belongs to a site. What hangs on these by a foreign key goes with them. */
const SMALL = [
  ...[
    'funnels',
    'fixes',
    'trails',
    'imports',
    'actions',
    'segments',
    'refusals',
    'dismissed',
    'paths',
    'costs',
  ],
  ...['roles', 'tokens', 'mail_links', 'erased_visitors', 'site_secrets'],
  ...['session_notes', 'session_tags', 'session_watched', 'session_links'],
]

/** Tables with rows of sites: all of them have to be named here (a test compares them with the database). */
export const TABLES_OF_SITES: readonly string[] = [...Object.keys(LARGE), ...SMALL]

/** Takes a site away: from then on it is nowhere. What it had is deleted by `deleteOrphans`. */
export async function deleteSite(sequelize: Sequelize, siteId: number): Promise<void> {
  await sequelize.query('DELETE FROM sites WHERE id = ?', { replacements: [siteId] })
}

/**
 * Deletes what belongs to sites that are no more, piece by piece; what was broken off goes on the next time. That somebody deleted a
 * site stays in the log of who did what.
 *
 * @param hasTime  asked between two pieces
 */
export async function deleteOrphans(sequelize: Sequelize, hasTime: () => boolean): Promise<void> {
  for (const siteId of await orphanedSites(sequelize)) {
    for (const [table, atOnce] of Object.entries(LARGE))
      for (let deleted = atOnce as number; deleted === atOnce;) {
        if (!hasTime()) return
        deleted = await deletePiece(sequelize, table, siteId, atOnce)
      }
    for (const table of SMALL)
      await sequelize.query(`DELETE FROM ${table} WHERE site_id = ?`, { replacements: [siteId] })
  }
}

/** @returns how many rows are gone */
async function deletePiece(
  sequelize: Sequelize,
  table: string,
  siteId: number,
  atOnce: number,
): Promise<number> {
  const hasId = table !== 'batches' && table !== 'kept_files'
  const { deleted, shown } = await inTransaction(sequelize, async (connection) => {
    const rows = hasId
      ? await connection.query<{ id: number | bigint; hash?: string | null }[]>(
          `SELECT id${table === 'recordings' ? ', snapshot_hash AS hash' : ''} FROM ${table} WHERE site_id = ? ORDER BY id LIMIT ?`,
          [siteId, atOnce],
        )
      : []
    const ids = rows.map(({ id }) => Number(id))
    if (table === 'sessions' && ids.length)
      await connection.query('DELETE FROM events WHERE session_id IN (?)', [ids])
    const { affectedRows } =
      hasId && !ids.length
        ? { affectedRows: 0 }
        : await connection.query<{ affectedRows: number }>(
            hasId ? `DELETE FROM ${table} WHERE id IN (?)` : `DELETE FROM ${table} WHERE site_id = ? LIMIT ?`,
            hasId ? [ids] : [siteId, atOnce],
          )
    return { deleted: affectedRows, shown: rows.flatMap(({ hash }) => hash ?? []) }
  })
  await deleteUnseenPages(sequelize, shown)
  return deleted
}

async function orphanedSites(sequelize: Sequelize): Promise<number[]> {
  const ids = async (sql: string) =>
    (await sequelize.query<{ id: number }>(sql, { type: QueryTypes.SELECT })).map(({ id }) => Number(id))
  const known = new Set(await ids('SELECT id FROM sites'))
  // Without a condition the database goes from site to site in the index, not from row to row.
  const named = await ids(
    TABLES_OF_SITES.map((table) => `SELECT DISTINCT site_id AS id FROM ${table}`).join(' UNION '),
  )
  return named.filter((id) => id > 0 && !known.has(id))
}
