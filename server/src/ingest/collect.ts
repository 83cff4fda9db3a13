import type { ReceivedBatch } from '@dust-trail/api'
import { batchSchema, lineSchema } from '@dust-trail/api'
import type { Line } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { ProblemError, invalid } from '../problem.ts'
import { inTransaction, retried } from '../store/database.ts'
import type { SiteRow } from '../store/models.ts'
import type { Piece } from '../store/recordings.ts'
import { packSnapshot, writePieces, writeSnapshots } from '../store/recordings.ts'
import { placeLines } from '../store/place-lines.ts'

/** Clocks that differ by less are left alone: the way through the network takes time as well. */
const CLOCK_TOLERANCE_MS = 5000

export interface CheckedBatch extends Omit<ReceivedBatch, 'lines'> {
  lines: Line[]
}

/**
 * Checks what came in and puts its times on the server's clock.
 *
 * @throws ProblemError that names the field
 */
export function checkBatch(text: string, receivedMs: number): CheckedBatch {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new ProblemError(400, 'invalid-input', 'The batch is not JSON.', 'Send one JSON object a request.')
  }
  const read = batchSchema.safeParse(json)
  if (!read.success) throw invalid(read.error, 'The batch')
  const batch = read.data
  const ahead = receivedMs - batch.sentMs
  const shiftMs = Math.abs(ahead) > CLOCK_TOLERANCE_MS ? ahead : 0
  const lines = batch.lines.map((raw, i) => {
    const line = lineSchema.safeParse({ ...(raw as object), visitor: batch.visitor })
    if (!line.success) throw invalid(line.error, `Line ${i + 1} of the batch`)
    return { ...line.data, t: line.data.t + shiftMs, tab: batch.tab }
  })
  return { ...batch, startMs: batch.startMs + shiftMs, lines }
}

export interface Collected {
  /** sessions that have changed and sessions that are no more, by id */
  changed: number[]
  gone: number[]
  repeated: boolean
}

/** Writes batches so that what is acknowledged lasts, each once however often it comes. */
export class Collector {
  /** last piece of work per visitor: what follows waits for it, so that one visitor's sessions are cut one at a time */
  readonly #last = new Map<string, Promise<unknown>>()

  constructor(private readonly sequelize: Sequelize) {}

  /** Resolves once the batch is committed. */
  async collect(site: SiteRow, batch: CheckedBatch, receivedMs: number): Promise<Collected> {
    const snapshot = batch.snapshot && (await packSnapshot(batch.snapshot))
    const key = `${site.id}/${batch.visitor}`
    const before = this.#last.get(key) ?? Promise.resolve()
    const work = before
      .catch(() => undefined)
      .then(() => retried(() => this.#write(site, batch, snapshot, receivedMs)))
    this.#last.set(key, work)
    try {
      return await work
    } finally {
      if (this.#last.get(key) === work) this.#last.delete(key)
    }
  }

  #write(
    site: SiteRow,
    batch: CheckedBatch,
    snapshot: Piece['snapshot'],
    receivedMs: number,
  ): Promise<Collected> {
    return inTransaction(this.sequelize, async (connection) => {
      const fresh = await connection.query<{ affectedRows: number }>(
        'INSERT IGNORE INTO batches (site_id, document, n, received_ms) VALUES (?, ?, ?, ?)',
        [site.id, batch.document, batch.n, receivedMs],
      )
      if (fresh.affectedRows === 0) return { changed: [], gone: [], repeated: true }
      const { changed, gone } = await placeLines(connection, site, batch.lines)
      if (snapshot) await writeSnapshots(connection, [snapshot])
      if (snapshot || batch.items.length) {
        const sessionId = changed[changed.length - 1] ?? (await this.#lastSession(connection, site, batch))
        if (sessionId !== undefined)
          await writePieces(connection, site.id, [
            {
              sessionId,
              document: batch.document,
              n: batch.n,
              startMs: batch.startMs,
              items: batch.items,
              snapshot,
            },
          ])
      }
      return { changed, gone, repeated: false }
    })
  }

  /** The session of a batch that has no lines of its own: the one its document belongs to, or the visitor's latest. */
  async #lastSession(
    connection: Parameters<typeof placeLines>[0],
    site: SiteRow,
    batch: CheckedBatch,
  ): Promise<number | undefined> {
    const [row] = await connection.query<{ id: number }[]>(
      `SELECT session_id AS id FROM recordings WHERE site_id = ? AND document = ?
       UNION ALL SELECT id FROM sessions WHERE site_id = ? AND visitor = ? ORDER BY id DESC LIMIT 1`,
      [site.id, batch.document, site.id, batch.visitor],
    )
    return row && Number(row.id)
  }
}
