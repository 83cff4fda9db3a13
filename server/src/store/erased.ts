import { createHash } from 'node:crypto'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'

/** Another server may have deleted somebody meanwhile. */
const FRESH_MS = 60_000

/** Visitors who were deleted, as hashes: nothing more is taken in under the names they had. */
export class Erased {
  readonly #bySite = new Map<number, { hashes: Set<string>; atMs: number }>()

  constructor(private readonly sequelize: Sequelize) {}

  async has(siteId: number, visitor: string, nowMs: number): Promise<boolean> {
    let known = this.#bySite.get(siteId)
    if (!known || nowMs - known.atMs > FRESH_MS) {
      const rows = await this.sequelize.query<{ hash: string }>(
        'SELECT hash FROM erased_visitors WHERE site_id = ?',
        { replacements: [siteId], type: QueryTypes.SELECT },
      )
      known = { hashes: new Set(rows.map(({ hash }) => hash)), atMs: nowMs }
      this.#bySite.set(siteId, known)
    }
    return known.hashes.has(hashOf(siteId, visitor))
  }

  async add(siteId: number, visitor: string): Promise<void> {
    const hash = hashOf(siteId, visitor)
    await this.sequelize.query('INSERT IGNORE INTO erased_visitors (site_id, hash) VALUES (?, ?)', {
      replacements: [siteId, hash],
    })
    this.#bySite.get(siteId)?.hashes.add(hash)
  }
}

function hashOf(siteId: number, visitor: string): string {
  return createHash('sha256').update(`${siteId} ${visitor}`).digest('hex')
}
