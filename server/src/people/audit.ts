import { QueryTypes } from 'sequelize'
import type { Sequelize } from 'sequelize'

/** One thing that somebody did. */
export interface Done {
  /** null: of no site */
  siteId: number | null
  atMs: number
  who: string
  what: string
  path: string
  address: string
}

const MOST = 5000
/** What was done on a site, and when its people came in or tried to: that is of no site. */
const OF_SITE = `SELECT * FROM audit WHERE site_id = ?
  OR (site_id IS NULL AND who IN (SELECT a.email FROM accounts a JOIN roles r ON r.account_id = a.id WHERE r.site_id = ?))
  ORDER BY id DESC LIMIT ?`

/** Who changed what, when and from where. */
export class Audit {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Notes what was done; whoever did it does not wait for it. */
  note({ siteId, atMs, who, what, path, address }: Done): void {
    this.sequelize
      .query('INSERT INTO audit (site_id, at_ms, who, what, path, address) VALUES (?, ?, ?, ?, ?, ?)', {
        replacements: [
          siteId,
          atMs,
          who.slice(0, 254),
          what.slice(0, 120),
          path.slice(0, 500),
          address.slice(0, 64),
        ],
      })
      .catch(this.failed)
  }

  async ofSite(
    siteId: number,
  ): Promise<{ atMs: number; who: string; what: string; path: string; from: string }[]> {
    const rows = await this.sequelize.query<{
      at_ms: number | bigint
      who: string
      what: string
      path: string
      address: string
    }>(OF_SITE, {
      replacements: [siteId, siteId, MOST],
      type: QueryTypes.SELECT,
    })
    return rows.map(({ at_ms, who, what, path, address }) => ({
      ...{ atMs: Number(at_ms), who, what, path, from: address },
    }))
  }
}
