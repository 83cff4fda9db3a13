import type { DocumentRecording, MissingPart, PageVersion, RecordItem, Snapshot } from '@dust-trail/core'
import { pagePath, structureOf } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { promisify } from 'node:util'
import { deflate, deflateSync, inflate } from 'node:zlib'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { grouped } from '../grouped.ts'
import { sha256 } from './compression.ts'
import { writeRows } from './database.ts'

const inflated = promisify(inflate)
const deflated = promisify(deflate) as (data: string) => Promise<Buffer>

/** One piece of a recording on its way to storage. */
export interface Piece {
  document: string
  n: number
  /** which of the document's recording it is; missing where the sender does not count them */
  piece?: number | undefined
  startMs: number
  items: RecordItem[]
  snapshot?: PackedSnapshot | undefined
}

export interface PackedSnapshot {
  hash: string
  page: string
  body: Buffer
  /** what pages of the same structure have in common */
  structure: string
}

/** A snapshot ready to be stored once, however many sessions saw it. */
export async function packSnapshot(snapshot: Snapshot): Promise<PackedSnapshot> {
  const text = JSON.stringify(snapshot)
  const structure = sha256(structureOf(snapshot.root)).slice(0, 16)
  return { hash: sha256(text), page: pagePath(snapshot.url), body: await deflated(text), structure }
}

/** Stores snapshots that are not there yet. */
export async function writeSnapshots(
  connection: Connection,
  snapshots: readonly PackedSnapshot[],
): Promise<void> {
  const once = new Map(snapshots.map((snapshot) => [snapshot.hash, snapshot]))
  await writeRows(
    connection,
    'INSERT IGNORE INTO snapshots (hash, body, structure) VALUES (?, ?, ?)',
    [...once.values()].map(({ hash, body, structure }) => [hash, body, structure]),
  )
}

/** Session of pieces that came before any session they could belong to: they wait for the lines of their document. */
export const NO_SESSION = 0

/** Gives pieces that came before the lines of their document to the session of these. */
export async function adoptPieces(
  connection: Connection,
  siteId: number,
  sessionOf: ReadonlyMap<string, number>,
): Promise<void> {
  if (!sessionOf.size) return
  const early = await connection.query<{ document: string }[]>(
    'SELECT DISTINCT document FROM recordings WHERE session_id = ? AND site_id = ? AND document IN (?)',
    [NO_SESSION, siteId, [...sessionOf.keys()]],
  )
  for (const { document } of early)
    await connection.query(
      'UPDATE recordings SET session_id = ?, visitor = NULL WHERE session_id = ? AND site_id = ? AND document = ?',
      [sessionOf.get(document), NO_SESSION, siteId, document],
    )
}

/**
 * Stores pieces of a session's recordings; one that is there already is left as it is. Of one without a session the visitor
 * is kept.
 */
export async function writePieces(
  connection: Connection,
  siteId: number,
  pieces: readonly (Piece & { sessionId: number; visitor?: string })[],
): Promise<void> {
  await writeRows(
    connection,
    `INSERT IGNORE INTO recordings (session_id, site_id, visitor, document, n, piece, start_ms, page, snapshot_hash, checksum, body)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    pieces.map((piece) => {
      const body = deflateSync(JSON.stringify(piece.items))
      return [
        piece.sessionId,
        siteId,
        piece.sessionId === NO_SESSION ? piece.visitor : null,
        piece.document,
        piece.n,
        piece.piece ?? null,
        piece.startMs,
        piece.snapshot?.page ?? null,
        piece.snapshot?.hash ?? null,
        sha256(body),
        body,
      ]
    }),
  )
}

interface PieceRow {
  document: string
  n: number
  piece: number | null
  start_ms: number
  snapshot_hash: string | null
  checksum: string
  body: Buffer
}

/**
 * A session's recordings: the documents it has pieces of, from each document's beginning, even where that lies in an
 * earlier session. A damaged piece ends what can be shown of its document; it is counted. What never arrived is told.
 */
export async function readRecording(
  sequelize: Sequelize,
  sessionId: string,
): Promise<{ documents: DocumentRecording[]; damaged: number; missing: MissingPart[] }> {
  const rows = await sequelize.query<PieceRow>(
    `SELECT r.document, r.n, r.piece, r.start_ms, r.snapshot_hash, r.checksum, r.body
     FROM recordings r
     JOIN (SELECT DISTINCT site_id, document FROM recordings WHERE session_id = ?) d
       ON d.site_id = r.site_id AND d.document = r.document
     ORDER BY r.start_ms, r.document, r.n`,
    { replacements: [sessionId], type: QueryTypes.SELECT },
  )
  const documents: DocumentRecording[] = []
  const missing: MissingPart[] = []
  let damaged = 0
  for (const pieces of grouped(rows, (row) => row.document).values()) {
    const { document, start_ms } = pieces[0]!
    const startMs = Number(start_ms)
    const items: RecordItem[] = []
    const files = new Map<string, string>()
    const gaps = new Gaps()
    for (const piece of pieces) {
      if (sha256(piece.body) !== piece.checksum) {
        damaged++
        break
      }
      const own = JSON.parse((await inflated(piece.body)).toString()) as RecordItem[]
      gaps.next(piece.piece, own)
      for (const item of own)
        if (item.k === 'file') files.set(item.url, item.hash)
        else items.push(item)
    }
    const hash = pieces.find((piece) => piece.snapshot_hash)?.snapshot_hash
    const snapshot = hash ? await readSnapshot(sequelize, hash) : undefined
    if (snapshot) {
      items.sort((a, b) => a.at - b.at)
      documents.push({
        ...{ document, startMs, snapshot, items },
        ...(files.size && { files: Object.fromEntries(files) }),
      })
      for (const gap of gaps.found) missing.push({ document, startMs, ...gap, whole: false })
    } else missing.push({ document, startMs, fromMs: 0, toMs: gaps.lastMs, pieces: gaps.lost, whole: true })
  }
  return { documents, damaged, missing }
}

/** Where pieces of a document's recording are missing: their numbers have a hole. */
class Gaps {
  readonly found: Pick<MissingPart, 'fromMs' | 'toMs' | 'pieces'>[] = []
  lastMs = 0
  lost = 0
  #expected = 0

  next(piece: number | null, items: readonly RecordItem[]): void {
    // What lies at 0 is the rest of a large page, not something that happened then.
    const happened = items.filter(({ at }) => at > 0)
    if (piece !== null) {
      const pieces = Number(piece) - this.#expected
      if (pieces > 0) {
        this.found.push({ fromMs: this.lastMs, toMs: happened[0]?.at ?? this.lastMs, pieces })
        this.lost += pieces
      }
      this.#expected = Number(piece) + 1
    }
    for (const { at } of happened) this.lastMs = Math.max(this.lastMs, at)
  }
}

/**
 * What the addresses of pictures and fonts on a recorded page stood for: as one of the visitors had them whose recording began with
 * it, the one that tells of most among the latest.
 */
export async function filesOfSnapshot(
  sequelize: Sequelize,
  siteId: number,
  hash: string,
): Promise<Record<string, string>> {
  const rows = await sequelize.query<{ document: string; body: Buffer }>(
    `SELECT r.document, r.body FROM recordings r
     JOIN (SELECT DISTINCT document FROM
       (SELECT document FROM recordings WHERE site_id = ? AND snapshot_hash = ? ORDER BY start_ms DESC LIMIT ?) l) d
       ON d.document = r.document
     WHERE r.site_id = ? ORDER BY r.start_ms DESC, r.document, r.n LIMIT ?`,
    {
      replacements: [siteId, hash, DOCUMENTS_LOOKED_AT, siteId, PIECES_LOOKED_AT],
      type: QueryTypes.SELECT,
    },
  )
  let best: [string, string][] = []
  for (const pieces of grouped(rows, (row) => row.document).values()) {
    const files = new Map<string, string>()
    for (const { body } of pieces) {
      const text = (await inflated(body)).toString()
      if (!text.includes('"k":"file"')) continue
      for (const item of JSON.parse(text) as RecordItem[])
        if (item.k === 'file') files.set(item.url, item.hash)
    }
    if (files.size > best.length) best = [...files]
  }
  return Object.fromEntries(best)
}
const DOCUMENTS_LOOKED_AT = 5
const PIECES_LOOKED_AT = 60

/** Whether a page was recorded on a site. */
export async function isOnSite(sequelize: Sequelize, siteId: number, hash: string): Promise<boolean> {
  const rows = await sequelize.query(
    'SELECT 1 FROM recordings WHERE snapshot_hash = ? AND site_id = ? LIMIT 1',
    {
      replacements: [hash, siteId],
      type: QueryTypes.SELECT,
    },
  )
  return rows.length > 0
}

/** A stored snapshot; undefined where there is none or it is damaged (its hash is its checksum). */
export async function readSnapshot(sequelize: Sequelize, hash: string): Promise<Snapshot | undefined> {
  const [row] = await sequelize.query<{ body: Buffer }>('SELECT body FROM snapshots WHERE hash = ?', {
    replacements: [hash],
    type: QueryTypes.SELECT,
  })
  if (!row) return undefined
  const text = (await inflated(row.body)).toString()
  return sha256(text) === hash ? (JSON.parse(text) as Snapshot) : undefined
}

/** Versions of a page that are told apart; a page that differs for everybody has no versions to choose from. */
const MOST_VERSIONS = 20

/**
 * The versions in which some sessions saw some pages: recordings of the same structure, each with the recording that most of
 * them saw; the version that most saw first.
 */
export async function pageVersions(
  sequelize: Sequelize,
  siteId: number,
  pages: readonly string[],
  sessionIds: readonly string[],
): Promise<PageVersion[]> {
  if (!pages.length || !sessionIds.length) return []
  const rows = await sequelize.query<
    Record<'hash' | 'version', string> & Record<'sessions' | 'first' | 'last', number>
  >(
    `SELECT r.snapshot_hash AS hash, COALESCE(s.structure, LEFT(r.snapshot_hash, 16)) AS version,
       COUNT(DISTINCT r.session_id) AS sessions, MIN(r.start_ms) AS first, MAX(r.start_ms) AS last
     FROM recordings r JOIN snapshots s ON s.hash = r.snapshot_hash
     WHERE r.site_id = ? AND r.page IN (?) AND r.session_id IN (?)
     GROUP BY r.snapshot_hash, s.structure ORDER BY sessions DESC, r.snapshot_hash`,
    { replacements: [siteId, [...pages], [...sessionIds]], type: QueryTypes.SELECT },
  )
  const versions = new Map<string, PageVersion>()
  for (const { hash, version, sessions, first, last } of rows) {
    const known = versions.get(version)
    versions.set(version, {
      ...{ version, hash: known?.hash ?? hash, sessions: (known?.sessions ?? 0) + Number(sessions) },
      firstMs: Math.min(known?.firstMs ?? Infinity, Number(first)),
      lastMs: Math.max(known?.lastMs ?? -Infinity, Number(last)),
    })
  }
  return [...versions.values()]
    .sort((a, b) => b.sessions - a.sessions || a.version.localeCompare(b.version))
    .slice(0, MOST_VERSIONS)
}
