import type { Block, BlockCodes, BlockWords, Dictionaries, Line, LooseBlock } from '@dust-trail/core'
import {
  buildLoose,
  codesFor,
  decodeCoded,
  Dictionaries as OwnDictionaries,
  Dictionary,
  encodeBlock,
  openPacked,
} from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { QueryTypes } from 'sequelize'
import type { Sequelize } from 'sequelize'
import { inTransaction, writeRows } from './database.ts'
import { lineKey } from './line-key.ts'
import type { SiteRow } from './models.ts'
import type { SessionRecord } from './session-row.ts'
import { sessionRow } from './session-row.ts'
import { Damaged, sha256, squeeze, undamaged, unsqueeze, unsqueezed } from './squeezed.ts'

/** Sessions in one block, and those whose lines lie together within it. */
export const BLOCK_SESSIONS = 4096
const LINES_TOGETHER = 256
/** A line as it is stored, and what it is known by where that does not follow from its own id. */
interface StoredLine {
  key: Buffer | null
  body: string
}

interface EventRow {
  session_id: number | bigint
  line_key: Buffer | null
  body: string
}

/**
 * Packs sessions that have ended: their columns into a block, their lines beside it, their rows gone; all or nothing.
 *
 * @param endedBeforeMs  sessions with their last event before this can no longer grow on their own
 * @param least          fewer are left for later
 * @returns how many sessions and events were packed; a block holds at most BLOCK_SESSIONS
 */
export async function packEnded(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'id'>,
  endedBeforeMs: number,
  least: number,
): Promise<{ sessions: number; events: number }> {
  return inTransaction(sequelize, async (connection) => {
    const records = await connection.query<SessionRecord[]>(
      `SELECT * FROM sessions WHERE site_id = ? AND block_id IS NULL AND end_ms < ?
       ORDER BY start_ms, id LIMIT ? FOR UPDATE`,
      [site.id, endedBeforeMs, BLOCK_SESSIONS],
    )
    if (records.length < Math.max(1, least)) return { sessions: 0, events: 0 }
    const lines = await storedRows(
      connection,
      records.map(({ id }) => Number(id)),
    )
    const packed = records.flatMap((record) => {
      const own = lines.get(Number(record.id))
      return own ? [{ record, own }] : []
    })
    const dictionaries = new OwnDictionaries(new Dictionary())
    const rows = packed.map(({ record, own }) =>
      sessionRow(
        record,
        own.map(({ body }) => JSON.parse(body) as Line),
      ),
    )
    const block = buildLoose(rows, dictionaries)
    const blockId = await storeBlock(connection, site.id, block, dictionaries)
    await writeLines(
      connection,
      blockId,
      packed.map(({ own }) => own),
    )
    await writeRows(
      connection,
      'UPDATE sessions SET block_id = ?, block_pos = ? WHERE id = ?',
      packed.map(({ record }, position) => [blockId, position, Number(record.id)]),
    )
    await connection.query('DELETE FROM events WHERE session_id IN (?)', [
      packed.map(({ record }) => Number(record.id)),
    ])
    return { sessions: packed.length, events: block.events.count }
  })
}

/** Writes a block as it is stored; returns its id. */
export async function storeBlock(
  connection: Connection,
  siteId: number,
  block: LooseBlock,
  dictionaries: Dictionaries,
): Promise<number> {
  const { body, checksum } = await squeeze(encodeBlock(block, dictionaries))
  const { insertId } = await connection.query<{ insertId: number | bigint }>(
    'INSERT INTO blocks (site_id, sessions, events, checksum, `columns`) VALUES (?, ?, ?, ?, ?)',
    [siteId, block.sessions.count, block.events.count, checksum, body],
  )
  return Number(insertId)
}

async function storedRows(
  connection: Connection,
  ids: readonly number[],
): Promise<Map<number, StoredLine[]>> {
  const rows = await connection.query<EventRow[]>(
    'SELECT session_id, line_key, body FROM events WHERE session_id IN (?) ORDER BY session_id, t, id',
    [ids],
  )
  const bySession = new Map<number, StoredLine[]>()
  for (const { session_id, line_key, body } of rows) {
    const line = { key: line_key, body }
    const known = bySession.get(Number(session_id))
    if (known) known.push(line)
    else bySession.set(Number(session_id), [line])
  }
  return bySession
}

/** Lines of sessions in the order of a block: a line each, sessions apart by an empty one. */
async function writeLines(
  connection: Connection,
  blockId: number,
  sessions: readonly (readonly StoredLine[])[],
): Promise<void> {
  const pieces: unknown[][] = []
  for (let from = 0; from < sessions.length; from += LINES_TOGETHER) {
    const text = sessions
      .slice(from, from + LINES_TOGETHER)
      .map((lines) => lines.map(({ key, body }) => `${ownKey(key, body)}\t${body}`).join('\n'))
      .join('\n\n')
    const { body, checksum } = await squeeze(text)
    pieces.push([blockId, from / LINES_TOGETHER, checksum, body])
  }
  await writeRows(
    connection,
    'INSERT INTO block_lines (block_id, n, checksum, body) VALUES (?, ?, ?, ?)',
    pieces,
  )
}

/** The key to keep beside a line: none where it follows from the line's own id. */
function ownKey(key: Buffer | null, body: string): string {
  return key && (JSON.parse(body) as Line).id === undefined ? key.toString('hex') : ''
}

/** What a block says, and which of its sessions no longer lie in it. */
export interface ReadBlock {
  id: number
  block: Block
  holes: number[]
}

/** A block that could not be read: what is lost to the eye until it is restored. */
export interface DamagedBlock {
  id: number
  sessions: number
  reason: string
}

/** A block as it is stored. */
export interface StoredBlock {
  body: Uint8Array
  checksum: string
}

/** Makes a block of what is stored; whoever does it asks for the codes of its words. @throws Damaged */
export type Unpack = (
  stored: StoredBlock,
  codesOf: (words: BlockWords) => Promise<BlockCodes>,
) => Promise<Block>

interface BlockRecord {
  id: number
  sessions: number
  checksum: string
  columns: Buffer
}

/**
 * All blocks of a site, the newest first; one that is damaged is named and does not stop the rest.
 *
 * @param unpack  by whom
 * @param ahead   how many blocks are on their way at a time
 */
export async function* readBlocks(
  sequelize: Sequelize,
  siteId: number,
  dictionaries: Dictionaries,
  unpack: Unpack,
  ahead = 2,
): AsyncGenerator<(ReadBlock | { damaged: DamagedBlock }) & { of: number }> {
  const ids = await sequelize.query<{ id: number }>(
    'SELECT id FROM blocks WHERE site_id = ? ORDER BY id DESC',
    {
      replacements: [siteId],
      type: QueryTypes.SELECT,
    },
  )
  const holes = await sequelize.query<{ block_id: number; position: number }>(
    'SELECT h.block_id, h.position FROM block_holes h JOIN blocks b ON b.id = h.block_id WHERE b.site_id = ?',
    { replacements: [siteId], type: QueryTypes.SELECT },
  )
  const holesOf = new Map<number, number[]>()
  for (const { block_id, position } of holes) {
    const known = holesOf.get(Number(block_id))
    if (known) known.push(position)
    else holesOf.set(Number(block_id), [position])
  }
  /** when all blocks before have their codes: these do not depend on who is faster */
  let turn: Promise<unknown> = Promise.resolve()
  const read = async (id: number): Promise<ReadBlock | { damaged: DamagedBlock } | undefined> => {
    const before = turn
    let coded!: () => void
    turn = new Promise<void>((resolve) => (coded = resolve))
    try {
      const record = await recordOf(sequelize, id)
      if (!record) return undefined
      const { columns: body, checksum, sessions } = record
      try {
        const block = await unpack({ body, checksum }, async (words) => {
          await before
          const codes = codesFor(words, dictionaries)
          coded()
          return codes
        })
        return { id, block, holes: holesOf.get(id) ?? [] }
      } catch (error) {
        if (!(error instanceof Damaged)) throw error
        return { damaged: { id, sessions, reason: error.message } }
      }
    } finally {
      void before.then(coded)
    }
  }
  const under: ReturnType<typeof read>[] = []
  for (let k = 0; under.length || k < ids.length;) {
    while (k < ids.length && under.length < ahead) {
      const one = read(Number(ids[k++]!.id))
      // Whoever waits for an earlier one that fails is told of that one.
      one.catch(() => undefined)
      under.push(one)
    }
    const one = await under.shift()
    if (one) yield { ...one, of: ids.length }
  }
}

/** Unpacks in this thread. */
export function unpackHere(allocate?: (bytes: number) => ArrayBufferLike): Unpack {
  return async ({ body, checksum }, codesOf) => {
    const bytes = await unsqueezed(body, checksum)
    return undamaged(async () => {
      const packed = openPacked(bytes)
      return decodeCoded(packed, await codesOf(packed.head.words), allocate)
    })
  }
}

/** A block as it can be decoded, or what is wrong with it; undefined where it is not there any more. */
export async function readBytes(
  sequelize: Sequelize,
  id: number,
): Promise<{ bytes: Uint8Array; sessions: number } | { damaged: DamagedBlock } | undefined> {
  const record = await recordOf(sequelize, id)
  if (!record) return undefined
  const { sessions } = record
  try {
    return { bytes: await unsqueezed(record.columns, record.checksum), sessions }
  } catch (error) {
    if (!(error instanceof Damaged)) throw error
    return { damaged: { id, sessions, reason: error.message } }
  }
}

async function recordOf(sequelize: Sequelize, id: number): Promise<BlockRecord | undefined> {
  const [record] = await sequelize.query<BlockRecord>(
    'SELECT id, sessions, checksum, `columns` FROM blocks WHERE id = ?',
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return record
}

interface PackedPlace {
  id: number | bigint
  block_id: number | bigint
  block_pos: number
}

/** Lines of packed sessions by the session's id. A damaged piece is left out: its sessions are then missing here. */
async function packedLines(
  query: <T>(sql: string, values: unknown[]) => Promise<T[]>,
  places: readonly PackedPlace[],
): Promise<Map<number, StoredLine[]>> {
  const byPiece = new Map<string, PackedPlace[]>()
  for (const place of places) {
    const key = `${place.block_id}/${Math.floor(place.block_pos / LINES_TOGETHER)}`
    const known = byPiece.get(key)
    if (known) known.push(place)
    else byPiece.set(key, [place])
  }
  const found = new Map<number, StoredLine[]>()
  for (const [key, own] of byPiece) {
    const [blockId, n] = key.split('/').map(Number)
    const [piece] = await query<{ checksum: string; body: Buffer }>(
      'SELECT checksum, body FROM block_lines WHERE block_id = ? AND n = ?',
      [blockId, n],
    )
    if (!piece || sha256(piece.body) !== piece.checksum) continue
    const sessions = (await unsqueeze(piece.body)).toString().split('\n\n')
    for (const { id, block_pos } of own) {
      const text = sessions[block_pos % LINES_TOGETHER]
      if (text) found.set(Number(id), text.split('\n').map(storedLine))
    }
  }
  return found
}

function storedLine(text: string): StoredLine {
  const cut = text.indexOf('\t')
  return { key: cut ? Buffer.from(text.slice(0, cut), 'hex') : null, body: text.slice(cut + 1) }
}

/** Lines of sessions as text, packed or not, by the session's id, each session's in order of time. */
export async function lineTexts(
  sequelize: Sequelize,
  ids: readonly number[],
): Promise<Map<number, string[]>> {
  if (!ids.length) return new Map()
  const select = <T extends object>(sql: string, replacements: unknown[]) =>
    sequelize.query<T>(sql, { replacements, type: QueryTypes.SELECT })
  const places = await select<PackedPlace>(
    'SELECT id, block_id, block_pos FROM sessions WHERE id IN (?) AND block_id IS NOT NULL',
    [[...ids]],
  )
  const texts = new Map<number, string[]>()
  for (const [id, lines] of await packedLines((sql, values) => select(sql, values) as never, places))
    texts.set(
      id,
      lines.map(({ body }) => body),
    )
  const rows = await select<{ session_id: number; body: string }>(
    'SELECT session_id, body FROM events WHERE session_id IN (?) ORDER BY session_id, t, id',
    [[...ids]],
  )
  for (const { session_id, body } of rows) {
    const known = texts.get(Number(session_id))
    if (known) known.push(body)
    else texts.set(Number(session_id), [body])
  }
  return texts
}

/** Keys of the lines of packed sessions, as latin1 text. */
export async function packedKeys(
  connection: Connection,
  siteId: number,
  ids: readonly number[],
): Promise<Map<number, Set<string>>> {
  const places = await placesOf(connection, ids)
  const keys = new Map<number, Set<string>>()
  for (const [id, lines] of await packedLines((sql, values) => connection.query(sql, values), places))
    keys.set(id, new Set(lines.flatMap((line) => keyOf(siteId, line)?.toString('latin1') ?? [])))
  return keys
}

/**
 * Takes sessions out of their blocks: their lines are rows again, their places in the blocks are holes. Must run in a
 * transaction. A session whose lines are damaged stays where it is.
 *
 * @returns ids of the sessions that are open now
 */
export async function reopen(
  connection: Connection,
  siteId: number,
  ids: readonly number[],
): Promise<number[]> {
  const places = await placesOf(connection, ids)
  const lines = await packedLines((sql, values) => connection.query(sql, values), places)
  const open = places.filter(({ id }) => lines.has(Number(id)))
  await writeRows(
    connection,
    'INSERT INTO events (session_id, t, kind, line_key, body) VALUES (?, ?, ?, ?, ?)',
    open.flatMap(({ id }) =>
      lines.get(Number(id))!.map((line) => {
        const { t, kind } = JSON.parse(line.body) as Line
        return [Number(id), t, kind, keyOf(siteId, line), line.body]
      }),
    ),
  )
  await leaveBlocks(connection, open)
  await writeRows(
    connection,
    'UPDATE sessions SET block_id = NULL, block_pos = NULL WHERE id = ?',
    open.map(({ id }) => [Number(id)]),
  )
  return open.map(({ id }) => Number(id))
}

function keyOf(siteId: number, { key, body }: StoredLine): Buffer | null {
  if (key) return key
  const { id } = JSON.parse(body) as Line
  return id === undefined ? null : lineKey(siteId, id)
}

function placesOf(connection: Connection, ids: readonly number[]): Promise<PackedPlace[]> {
  return ids.length
    ? connection.query<PackedPlace[]>(
        'SELECT id, block_id, block_pos FROM sessions WHERE id IN (?) AND block_id IS NOT NULL ORDER BY id',
        [ids],
      )
    : Promise.resolve([])
}

/** Makes holes of sessions' places; a block with nothing but holes is deleted. */
async function leaveBlocks(connection: Connection, places: readonly PackedPlace[]): Promise<void> {
  await writeRows(
    connection,
    'INSERT INTO block_holes (block_id, position) VALUES (?, ?)',
    places.map(({ block_id, block_pos }) => [Number(block_id), block_pos]),
  )
  for (const blockId of new Set(places.map(({ block_id }) => Number(block_id))))
    await connection.query(
      `DELETE FROM blocks WHERE id = ? AND sessions = (SELECT COUNT(*) FROM block_holes WHERE block_id = ?)`,
      [blockId, blockId],
    )
}

/**
 * Deletes sessions with all that is theirs. What else lies in their blocks is opened, to be packed anew without them: of
 * deleted sessions nothing stays, in no block. Must run in a transaction.
 */
export async function deleteSessions(
  connection: Connection,
  siteId: number,
  ids: readonly number[],
): Promise<void> {
  if (!ids.length) return
  const blocks = [...new Set((await placesOf(connection, ids)).map(({ block_id }) => Number(block_id)))]
  if (blocks.length) {
    const others = await connection.query<{ id: number | bigint }[]>(
      'SELECT id FROM sessions WHERE block_id IN (?) AND id NOT IN (?)',
      [blocks, ids],
    )
    await reopen(
      connection,
      siteId,
      others.map(({ id }) => Number(id)),
    )
    // A block with sessions that could not be opened stays for their sake, with holes for the others.
    const kept = await connection.query<{ block_id: number | bigint }[]>(
      'SELECT DISTINCT block_id FROM sessions WHERE block_id IN (?) AND id NOT IN (?)',
      [blocks, ids],
    )
    const stuck = new Set(kept.map(({ block_id }) => Number(block_id)))
    await leaveBlocks(
      connection,
      (await placesOf(connection, ids)).filter(({ block_id }) => stuck.has(Number(block_id))),
    )
    const free = blocks.filter((id) => !stuck.has(id))
    if (free.length) await connection.query('DELETE FROM blocks WHERE id IN (?)', [free])
  }
  for (const table of ['events', 'recordings'])
    await connection.query(`DELETE FROM ${table} WHERE session_id IN (?)`, [ids])
  await connection.query('DELETE FROM sessions WHERE id IN (?)', [ids])
}
