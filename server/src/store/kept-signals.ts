import type { SignalTables, SignalThresholds } from '@dust-trail/core'
import { foundUnder, packSignals } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { compress } from './compression.ts'

/** Keeps the signals that were found in a stored block, in place of those that were kept of it; nothing where it has gone. */
export async function keepSignals(
  sequelize: Sequelize,
  blockId: number,
  found: SignalTables,
  limits: SignalThresholds,
): Promise<void> {
  const { body, checksum } = await compress(packSignals(found))
  await sequelize.query(
    `INSERT INTO block_signals (block_id, found_under, of_columns, checksum, body)
     SELECT id, ?, checksum, ?, ? FROM blocks WHERE id = ?
     ON DUPLICATE KEY UPDATE found_under = VALUES(found_under), of_columns = VALUES(of_columns),
       checksum = VALUES(checksum), body = VALUES(body)`,
    { replacements: [foundUnder(limits), checksum, body, blockId] },
  )
}
