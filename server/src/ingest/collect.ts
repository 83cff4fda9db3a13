import type { ReceivedBatch } from '@dust-trail/api'
import {
  batchSchema,
  cutTree,
  DEEPEST,
  isDeeper,
  itemSchema,
  lineSchema,
  snapshotSchema,
} from '@dust-trail/api'
import type { Line, RecordedNode, RecordItem, Snapshot } from '@dust-trail/core'
import { exceedsProps, fitLine, lineText, PROP_LIMITS } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { invalid, ProblemError } from '../problem.ts'
import { inTransaction, retried, writeRows } from '../store/database.ts'
import { LRUCache } from 'lru-cache'
import type { SiteRow } from '../store/models.ts'
import { COLLECT_BUDGETS } from './budgets.ts'
import { Lane } from './lane.ts'
import { placeLines } from '../store/place-lines.ts'
import type { Piece } from '../store/recordings.ts'
import { adoptPieces, NO_SESSION, packSnapshot, writePieces, writeSnapshots } from '../store/recordings.ts'

/** Clocks that differ by less are left alone: the way through the network takes time as well. */
const CLOCK_TOLERANCE_MS = 5000

/** Lines lie at most so far before, and so far after, the time at which they arrive. */
const OLDEST_MS = 30 * 86_400_000
const AHEAD_MS = 60_000

export interface CheckedBatch extends ReceivedBatch {
  /** what was left out, and why */
  refused: { what: 'line' | 'recording' | 'time' | 'budget'; reason: string }[]
}

/**
 * Checks what came in and puts its times on the server's clock. What cannot be read is left out, and the rest stays.
 *
 * @throws ProblemError that names the field, where the batch as a whole cannot be read
 */
export function checkBatch(
  text: string,
  receivedMs: number,
  {
    props = PROP_LIMITS.props,
    depth = DEEPEST,
    robot = false,
  }: { props?: number; depth?: number; robot?: boolean } = {},
): CheckedBatch {
  const limits = { ...PROP_LIMITS, props }
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
  const refused: CheckedBatch['refused'] = []
  const lines: Line[] = []
  for (const raw of batch.lines) {
    if (exceedsProps(raw, limits))
      refused.push({ what: 'budget', reason: 'properties of a line, or longer ones, than a line may have' })
    const line = lineSchema.safeParse({ ...(fitLine(raw, limits) as object), visitor: batch.visitor })
    if (!line.success) {
      const [issue] = line.error.issues
      refused.push({ what: 'line', reason: `${issue!.path.join('.') || 'the line'} ${issue!.message}` })
      continue
    }
    const t = line.data.t + shiftMs
    if (t < receivedMs - OLDEST_MS || t > receivedMs + AHEAD_MS) {
      const side = t < receivedMs ? 'more than 30 days before' : 'more than a minute after'
      refused.push({ what: 'time', reason: `its time lies ${side} the server’s clock` })
      continue
    }
    lines.push({ ...line.data, t, tab: batch.tab, ...(robot && { robot }) })
  }
  const cutNode = (raw: unknown, node: RecordedNode): RecordedNode => {
    if (!isDeeper(raw, Math.min(depth, DEEPEST))) return node
    refused.push({ what: 'budget', reason: 'what lies deeper in a recorded page than is kept' })
    return cutTree(node, depth)
  }
  const cut = (item: RecordItem): RecordItem =>
    item.k === 'change' && item.add
      ? { ...item, add: item.add.map(([parent, before, node]) => [parent, before, cutNode(node, node)]) }
      : item
  const items: RecordItem[] = []
  for (const raw of batch.items) {
    const item = itemSchema.safeParse(raw)
    if (item.success) items.push(cut(item.data))
    else
      refused.push({ what: 'recording', reason: `a step of the recording: ${item.error.issues[0]!.message}` })
  }
  const page = batch.snapshot === undefined ? undefined : snapshotSchema.safeParse(batch.snapshot)
  if (page && !page.success)
    refused.push({ what: 'recording', reason: `a recorded page: ${page.error.issues[0]!.message}` })
  const snapshot = page?.data && {
    ...page.data,
    root: cutNode((batch.snapshot as Snapshot).root, page.data.root),
  }
  return { ...batch, startMs: batch.startMs + shiftMs, lines, items, snapshot, refused }
}

export interface Collected {
  /** sessions that have changed and sessions that are no more, by id */
  changed: number[]
  gone: number[]
  repeated: boolean
  /** lines beyond what one session may have */
  tooMany: number
  /** the visitor has begun more sessions than one may: nothing was taken */
  tooManySessions: boolean
}

/**
 * Lines of several batches. Of equal ones without an id there are as many as the batch that has the most of them: it must
 * not matter which batches are written together.
 */
function linesOf(batches: readonly (readonly Line[])[]): Line[] {
  const all: Line[] = []
  const counts = new Map<string, number>()
  for (const lines of batches) {
    const own = new Map<string, number>()
    for (const line of lines) {
      if (line.id !== undefined || batches.length === 1) {
        all.push(line)
        continue
      }
      const text = lineText(line)
      const count = (own.get(text) ?? 0) + 1
      own.set(text, count)
      if (count <= (counts.get(text) ?? 0)) continue
      counts.set(text, count)
      all.push(line)
    }
  }
  return all
}

/** A batch on its way into the database. */
interface Coming {
  site: SiteRow
  batch: CheckedBatch
  snapshot: Piece['snapshot']
  receivedMs: number
}

/** Batches in one transaction: while one is committed the next gather. */
const TOGETHER = 64

const NOTHING: Collected = { changed: [], gone: [], repeated: false, tooMany: 0, tooManySessions: false }

/**
 * Writes batches so that what is acknowledged lasts, each once however often it comes. Those of one site are written one
 * group after the other, so that one visitor's sessions are cut one at a time.
 */
export class Collector {
  readonly #lanes = new Map<number, Lane<Coming, Collected>>()
  /** sessions that a visitor has begun within the hour */
  readonly #begun = new LRUCache<string, number>({ max: 50_000, ttl: 3_600_000, noUpdateTTL: true })

  constructor(
    private readonly sequelize: Sequelize,
    private readonly sessionsPerHour = COLLECT_BUDGETS.sessionsPerHour,
  ) {}

  /**
   * Keeps batches of some visitors waiting, after those that are under way. Resolves when these are done.
   *
   * @returns lets the others go on
   */
  hold(siteId: number, visitors: readonly string[]): Promise<() => void> {
    return this.#laneOf(siteId).hold(visitors)
  }

  /** Resolves once the batch is committed. */
  async collect(site: SiteRow, batch: CheckedBatch, receivedMs: number): Promise<Collected> {
    const snapshot = batch.snapshot && (await packSnapshot(batch.snapshot))
    return this.#laneOf(site.id).push({ site, batch, snapshot, receivedMs })
  }

  #laneOf(siteId: number): Lane<Coming, Collected> {
    let lane = this.#lanes.get(siteId)
    if (!lane) {
      lane = new Lane(
        ({ batch }) => batch.visitor,
        (group) => retried(() => this.#write(group)),
        TOGETHER,
      )
      this.#lanes.set(siteId, lane)
    }
    return lane
  }

  /** Writes a group of batches of one site, all or nothing. */
  async #write(group: readonly Coming[]): Promise<Collected[]> {
    const { site } = group[0]!
    const begun = (visitor: string) => this.#begun.get(`${site.id}/${visitor}`) ?? 0
    let begunBy: ReadonlyMap<string, number> = new Map()
    const collected = await inTransaction(this.sequelize, async (connection) => {
      const numberOf = ({ document, n }: { document: string; n: number | bigint }) => `${document} ${n}`
      const known = await connection.query<{ document: string; n: number }[]>(
        `SELECT document, n FROM batches WHERE site_id = ? AND (document, n) IN (${group.map(() => '(?, ?)').join(',')})`,
        [site.id, ...group.flatMap(({ batch }) => [batch.document, batch.n])],
      )
      const seen = new Set(known.map(numberOf))
      const fresh = group.filter(({ batch }) => {
        const number = numberOf(batch)
        if (seen.has(number)) return false
        seen.add(number)
        return true
      })
      await writeRows(
        connection,
        'INSERT INTO batches (site_id, document, n, received_ms) VALUES (?, ?, ?, ?)',
        fresh.map(({ batch, receivedMs }) => [site.id, batch.document, batch.n, receivedMs]),
      )
      // Who begins so many sessions is no person: what else they send is acknowledged and left out.
      const tooBusy = new Set(
        fresh.flatMap(({ batch: { visitor } }) => (begun(visitor) >= this.sessionsPerHour ? visitor : [])),
      )
      const placed = await placeLines(
        connection,
        site,
        linesOf(fresh.flatMap(({ batch }) => (tooBusy.has(batch.visitor) ? [] : [batch.lines]))),
      )
      begunBy = placed.begunBy
      await this.#writeRecordings(connection, site, fresh, placed.latest)
      const took = new Set(fresh)
      // What has changed is told once, with the first of them.
      const first = fresh[0]
      return group.map((one): Collected => {
        if (!took.has(one)) return { ...NOTHING, repeated: true }
        const told =
          one === first ? { changed: placed.changed, gone: placed.gone, tooMany: placed.tooMany } : {}
        return { ...NOTHING, ...told, tooManySessions: tooBusy.has(one.batch.visitor) }
      })
    })
    for (const [visitor, more] of begunBy) this.#begun.set(`${site.id}/${visitor}`, begun(visitor) + more)
    return collected
  }

  async #writeRecordings(
    connection: Connection,
    site: SiteRow,
    group: readonly Coming[],
    latest: ReadonlyMap<string, number>,
  ): Promise<void> {
    await writeSnapshots(
      connection,
      group.flatMap(({ snapshot }) => snapshot ?? []),
    )
    const pieces: (Piece & { sessionId: number; visitor: string })[] = []
    const sessionOf = new Map<string, number>()
    for (const { batch } of group) {
      const sessionId = batch.lines.length ? latest.get(batch.visitor) : undefined
      if (sessionId !== undefined) sessionOf.set(batch.document, sessionId)
    }
    for (const { batch, snapshot } of group) {
      const { visitor, document, n, piece, startMs, items } = batch
      if (!snapshot && !items.length) continue
      const sessionId =
        sessionOf.get(document) ?? (await this.#lastSession(connection, site, batch)) ?? NO_SESSION
      pieces.push({ sessionId, visitor, document, n, piece, startMs, items, snapshot })
    }
    await adoptPieces(connection, site.id, sessionOf)
    await writePieces(connection, site.id, pieces)
  }

  /**
   * The session of a batch that has no lines of its own: the one its document belongs to, or the one in which the visitor
   * was when the document began. Batches may come before those with the lines.
   */
  async #lastSession(
    connection: Connection,
    site: SiteRow,
    batch: CheckedBatch,
  ): Promise<number | undefined> {
    const limitMs = site.sessionLimitMin * 60_000
    const [row] = await connection.query<{ id: number }[]>(
      `SELECT session_id AS id FROM recordings WHERE site_id = ? AND document = ? AND session_id <> ?
       UNION ALL SELECT id FROM sessions WHERE site_id = ? AND visitor = ? AND start_ms <= ? AND end_ms >= ?
       ORDER BY id DESC LIMIT 1`,
      [
        ...[site.id, batch.document, NO_SESSION, site.id, batch.visitor],
        ...[batch.startMs + limitMs, batch.startMs - limitMs],
      ],
    )
    return row && Number(row.id)
  }
}
