import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { inTransaction } from './database.ts'
import type { KeptFiles } from './kept-files.ts'
import type { SiteRow } from './models.ts'
import { DELETED_BEFORE, piecesOf } from './near-sessions.ts'
import { deleteSessions } from './reopen-sessions.ts'
import { NO_SESSION } from './recordings.ts'
import { deleteOrphans } from './delete-site.ts'
import { deleteUnseenPages } from './unseen-pages.ts'

export type Retention = Pick<SiteRow, 'retentionDays' | 'recordingDays'>

const DAY_MS = 86_400_000
const HOUR_MS = 3_600_000
/* By index alone, whatever there is: checked by EXPLAIN on 100,000 recordings. */
export const OLD_SESSIONS = 'SELECT id FROM sessions WHERE site_id = ? AND end_ms < ? ORDER BY end_ms LIMIT ?'
export const OLD_RECORDINGS =
  'SELECT id, snapshot_hash AS hash FROM recordings WHERE site_id = ? AND start_ms < ? ORDER BY start_ms LIMIT ?'
export const OLD_BATCHES = 'DELETE FROM batches WHERE received_ms < ? ORDER BY received_ms LIMIT ?'
const BATCHES_AT_ONCE = 5000
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
    const rows = await sequelize.query<{ id: number }>(OLD_SESSIONS, {
      type: QueryTypes.SELECT,
      replacements: [siteId, nowMs - retentionDays * DAY_MS, AT_ONCE],
    })
    if (!rows.length) break
    const ids = rows.map(({ id }) => Number(id))
    const shown = await inTransaction(sequelize, async (connection) => {
      await rememberVisitors(connection, siteId, ids)
      return deleteSessions(connection, ids)
    })
    await deleteUnseenPages(sequelize, shown)
    yield ids
  }
  if (recordingDays !== null) await deleteRecordings(sequelize, siteId, nowMs - recordingDays * DAY_MS)
}

/** Whose earlier sessions are deleted was seen before all the same: the later ones keep that for good. */
async function rememberVisitors(
  connection: Connection,
  siteId: number,
  ids: readonly number[],
): Promise<void> {
  await connection.query(
    `UPDATE sessions later JOIN sessions earlier
       ON later.site_id = earlier.site_id AND later.visitor = earlier.visitor
     SET later.returning_visitor = ?
     WHERE earlier.site_id = ? AND earlier.id IN (?) AND later.returning_visitor = 1`,
    [DELETED_BEFORE, siteId, ids],
  )
}

async function deleteRecordings(sequelize: Sequelize, siteId: number, beforeMs: number): Promise<void> {
  for (;;) {
    const { shown, deleted } = await inTransaction(sequelize, async (connection) => {
      const rows = await connection.query<{ id: number | bigint; hash: string | null }[]>(OLD_RECORDINGS, [
        siteId,
        beforeMs,
        AT_ONCE,
      ])
      const ids = rows.map(({ id }) => Number(id))
      if (ids.length) await connection.query('DELETE FROM recordings WHERE id IN (?)', [ids])
      return { deleted: ids.length, shown: rows.flatMap(({ hash }) => hash ?? []) }
    })
    if (!deleted) return
    await deleteUnseenPages(sequelize, shown)
  }
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
  const { ids, shown } = await inTransaction(sequelize, async (connection) => {
    const rows = await connection.query<{ id: number | bigint }[]>(
      'SELECT id FROM sessions WHERE site_id = ? AND visitor = ? FOR UPDATE',
      [siteId, visitor],
    )
    const found = rows.map(({ id }) => Number(id))
    const shown = await deleteSessions(connection, found)
    const early = [NO_SESSION, siteId, visitor]
    const pages = await connection.query<{ hash: string }[]>(
      `SELECT snapshot_hash AS hash FROM recordings
       WHERE session_id = ? AND site_id = ? AND visitor = ? AND snapshot_hash IS NOT NULL`,
      early,
    )
    await connection.query(
      'DELETE FROM recordings WHERE session_id = ? AND site_id = ? AND visitor = ?',
      early,
    )
    return { ids: found, shown: [...shown, ...pages.map(({ hash }) => hash)] }
  })
  await deleteUnseenPages(sequelize, shown)
  return ids
}

/** What there is of a visitor: sessions that name them, and pieces of recordings of these sessions. */
export async function countOfVisitor(
  sequelize: Sequelize,
  siteId: number,
  visitor: string,
  ids: readonly number[],
): Promise<{ sessions: number; recordings: number }> {
  const counted = async (sql: string, replacements: unknown[]) => {
    const [row] = await sequelize.query<{ n: number | bigint }>(sql, {
      replacements,
      type: QueryTypes.SELECT,
    })
    return Number(row?.n ?? 0)
  }
  let recordings = 0
  for (const some of piecesOf(ids, 500))
    recordings += await counted('SELECT COUNT(*) AS n FROM recordings WHERE session_id IN (?)', [some])
  recordings += await counted(
    'SELECT COUNT(*) AS n FROM recordings WHERE session_id = ? AND site_id = ? AND visitor = ?',
    [NO_SESSION, siteId, visitor],
  )
  return {
    sessions: await counted('SELECT COUNT(*) AS n FROM sessions WHERE site_id = ? AND visitor = ?', [
      siteId,
      visitor,
    ]),
    recordings,
  }
}

/** A batch that comes again after so long has only lines that are too old to be taken: see ingest/collect.ts. */
export const BATCHES_KEPT_MS = 32 * DAY_MS

/** Forgets the numbers of batches that can add nothing any more, and pieces whose lines can come no more. */
export async function forgetBatches(sequelize: Sequelize, nowMs: number): Promise<void> {
  await sequelize.query('DELETE FROM recordings WHERE session_id = ? AND start_ms < ?', {
    replacements: [NO_SESSION, nowMs - BATCHES_KEPT_MS],
  })
  let deleted = BATCHES_AT_ONCE
  while (deleted === BATCHES_AT_ONCE)
    deleted = await inTransaction(sequelize, async (connection) => {
      const { affectedRows } = await connection.query<{ affectedRows: number }>(OLD_BATCHES, [
        nowMs - BATCHES_KEPT_MS,
        BATCHES_AT_ONCE,
      ])
      return affectedRows
    })
}

/** Keeps every site to its retention: at the start, every hour, and when it is changed. */
export class RetentionJob {
  #timer: NodeJS.Timeout | undefined
  #work: Promise<void> = Promise.resolve()
  #stopped = false

  constructor(
    private readonly sequelize: Sequelize,
    private readonly engines: Engines,
    private readonly files: KeptFiles,
    private readonly failed: (error: unknown) => void,
  ) {}

  start(): void {
    const all = () => {
      for (const site of this.engines.all()) void this.keep(site)
      this.#work = this.#work.then(() => forgetBatches(this.sequelize, Date.now())).catch(this.failed)
      void this.clear()
    }
    all()
    this.#timer = setInterval(all, HOUR_MS)
  }

  /** Brings one site in line, after what is under way. Resolves when it is done. */
  keep(site: LoadedSite): Promise<void> {
    this.#work = this.#work.then(() => this.#keep(site)).catch(this.failed)
    return this.#work
  }

  /** Deletes what is left of sites that are no more. Resolves when it is done. */
  clear(): Promise<void> {
    this.#work = this.#work.then(() => deleteOrphans(this.sequelize, () => !this.#stopped)).catch(this.failed)
    return this.#work
  }

  /** Ends after the transaction that is under way. */
  async stop(): Promise<void> {
    this.#stopped = true
    clearInterval(this.#timer)
    await this.#work
  }

  async #keep({ row }: LoadedSite): Promise<void> {
    if (row.auditDays !== null)
      await this.sequelize.query('DELETE FROM audit WHERE site_id = ? AND at_ms < ?', {
        replacements: [row.id, Date.now() - row.auditDays * DAY_MS],
      })
    const days = least(row.retentionDays, row.recordingDays)
    if (days === null) return
    await this.files.deleteUnused(row.id, Date.now() - days * DAY_MS)
    for await (const gone of deleteOlder(this.sequelize, row.id, row, Date.now())) {
      this.engines.changed(row, { changed: [], gone })
      if (this.#stopped) return
    }
  }
}
