import { randomBytes } from 'node:crypto'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'

/** A secret of a site, made when it is needed first; it never leaves the server but in a backup. */
export async function siteSecret(sequelize: Sequelize, siteId: number): Promise<Buffer> {
  await sequelize.query('INSERT IGNORE INTO site_secrets (site_id, secret) VALUES (?, ?)', {
    replacements: [siteId, randomBytes(32)],
  })
  const [row] = await sequelize.query<{ secret: Buffer }>(
    'SELECT secret FROM site_secrets WHERE site_id = ?',
    {
      replacements: [siteId],
      type: QueryTypes.SELECT,
    },
  )
  return row!.secret
}
