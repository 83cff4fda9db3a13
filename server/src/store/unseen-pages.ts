import type { Sequelize } from 'sequelize'
import { piecesOf } from './near-sessions.ts'

/* By index alone, whatever there is: checked by EXPLAIN on 100,000 recordings. */
export const UNSEEN_PAGES =
  'DELETE FROM snapshots WHERE hash IN (?) AND NOT EXISTS (SELECT 1 FROM recordings WHERE snapshot_hash = snapshots.hash)'

/** Of pages that were shown by what is deleted those that no other recording shows. */
export async function deleteUnseenPages(sequelize: Sequelize, hashes: readonly string[]): Promise<void> {
  for (const some of piecesOf([...new Set(hashes)], 500))
    await sequelize.query(UNSEEN_PAGES, { replacements: [some] })
}
