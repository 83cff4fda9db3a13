import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { deleteSessions } from './blocks.ts'
import { inTransaction } from './database.ts'
import type { SiteRow } from './models.ts'

export type Retention = Pick<SiteRow, 'retentionDays' | 'recordingDays'>

const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000
/** Sessions deleted in one transaction: little enough not to stand in the way of what comes in. */
const AT_ONCE = 2000

/** How many sessions have ended, and how many recordings have begun, before what a retention keeps. */
export async function countOlder(
  sequelize: Sequelize,
  siteId: number,
  { retentionDays, recordingDays }: Retention,
  nowMs: number,
): Promise<{ sessions: number; recordings: number }> {
  const count = async (sql: string, days: number | null) => {
    if (days === null) return 0
    const [row] = await sequelize.query<{ n: number }>(sql, {
      type: QueryTypes.SELECT,
      replacements: [siteId, nowMs - days * DAY_MS],
    })
    return Number(row!.n)
  }
  return {
    sessions: await count(
      'SELECT COUNT(*) AS n FROM sessions WHERE site_id = ? AND end_ms < ?',
      retentionDays,
    ),
    recordings: await count(
      'SELECT COUNT(DISTINCT session_id) AS n FROM recordings WHERE site_id = ? AND start_ms < ?',
      least(retentionDays, recordingDays),
    ),
  }
}

/** Deletes what is older than a retention keeps, some sessions at a time; yields the ids of sessions that are gone. */
export async function* deleteOlder(
  sequelize: Sequelize,
  siteId: number,
  { retentionDays, recordingDays }: Retention,
  nowMs: number,
): AsyncGenerator<number[]> {
  for (;;) {
    if (retentionDays === null) break
    const rows = await sequelize.query<{ id: number }>(
      'SELECT id FROM sessions WHERE site_id = ? AND end_ms < ? ORDER BY end_ms LIMIT ?',
      { type: QueryTypes.SELECT, replacements: [siteId, nowMs - retentionDays * DAY_MS, AT_ONCE] },
    )
    if (!rows.length) break
    const ids = rows.map(({ id }) => Number(id))
    await inTransaction(sequelize, async (connection) => {
      await deleteSessions(connection, siteId, ids)
    })
    yield ids
  }
  if (recordingDays !== null) await deleteRecordings(sequelize, siteId, nowMs - recordingDays * DAY_MS)
  if (retentionDays !== null || recordingDays !== null) await deleteUnseenPages(sequelize)
}

async function deleteRecordings(sequelize: Sequelize, siteId: number, beforeMs: number): Promise<void> {
  let deleted: number
  do {
    deleted = await inTransaction(sequelize, async (connection) => {
      const done = await connection.query<{ affectedRows: number }>(
        'DELETE FROM recordings WHERE site_id = ? AND start_ms < ? ORDER BY id LIMIT ?',
        [siteId, beforeMs, AT_ONCE * 4],
      )
      return done.affectedRows
    })
  } while (deleted)
}

function least(a: number | null, b: number | null): number | null {
  return a === null ? b : b === null ? a : Math.min(a, b)
}

/**
 * Deletes all sessions of a visitor with what belongs to them, and pages that no other recording shows.
 *
 * @returns ids of the sessions that are gone
 */
export async function deleteVisitor(
  sequelize: Sequelize,
  siteId: number,
  visitor: string,
): Promise<number[]> {
  const ids = await inTransaction(sequelize, async (connection) => {
    const rows = await connection.query<{ id: number | bigint }[]>(
      'SELECT id FROM sessions WHERE site_id = ? AND visitor = ? FOR UPDATE',
      [siteId, visitor],
    )
    const found = rows.map(({ id }) => Number(id))
    await deleteSessions(connection, siteId, found)
    return found
  })
  if (ids.length) await deleteUnseenPages(sequelize)
  return ids
}

/** Pages that no recording shows any more. */
async function deleteUnseenPages(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    'DELETE FROM snapshots WHERE NOT EXISTS (SELECT 1 FROM recordings WHERE snapshot_hash = snapshots.hash)',
  )
}

/** Keeps every site to its retention: at the start, every hour, and when it is changed. */
export class Keeper {
  #timer: NodeJS.Timeout | undefined
  #work: Promise<void> = Promise.resolve()
  #stopped = false

  constructor(
    private readonly sequelize: Sequelize,
    private readonly engines: Engines,
    private readonly failed: (error: unknown) => void,
  ) {}

  start(): void {
    const all = () => {
      for (const site of this.engines.all()) void this.keep(site)
    }
    all()
    this.#timer = setInterval(all, HOUR_MS)
  }

  /** Brings one site in line, after what is under way. Resolves when it is done. */
  keep(site: LoadedSite): Promise<void> {
    this.#work = this.#work.then(() => this.#keep(site)).catch(this.failed)
    return this.#work
  }

  /** Ends after the transaction that is under way. */
  async stop(): Promise<void> {
    this.#stopped = true
    clearInterval(this.#timer)
    await this.#work
  }

  async #keep({ row }: LoadedSite): Promise<void> {
    if (row.retentionDays === null && row.recordingDays === null) return
    for await (const gone of deleteOlder(this.sequelize, row.id, row, Date.now())) {
      this.engines.changed(row, { changed: [], gone, repeated: false })
      if (this.#stopped) return
    }
  }
}
