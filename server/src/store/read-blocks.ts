import type {
  Allocate,
  Block,
  BlockCodes,
  BlockWords,
  Columns,
  Dictionaries,
  SignalTables,
  SignalThresholds,
} from '@dust-trail/core'
import {
  codesFor,
  decodeCoded,
  findSignals,
  foundUnder,
  joinSignals,
  readPackedHead,
  THRESHOLDS,
  unpackSignals,
} from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { asDamaged, DamagedError, decompressChecked, readChecked } from './compression.ts'

/** What a block says, and which of its sessions no longer lie in it. */
export interface ReadBlock {
  id: number
  block: Block
  holes: number[]
  /** under which its signals were found */
  thresholds: SignalThresholds
  /** whether these were kept with it, rather than found when it was read */
  kept: boolean
}

/** A block that could not be read: what is lost to the eye until it is restored. */
export interface DamagedBlock {
  id: number
  sessions: number
  reason: string
}

/** Bytes as they are stored. */
export interface StoredBytes {
  body: Uint8Array
  checksum: string
}

/** A block as it is stored. */
export interface StoredBlock extends StoredBytes {
  /** kept with it, found under the thresholds it is read for; undefined where there are none */
  signals?: StoredBytes | undefined
}

/** Makes a block of what is stored; it asks `codesOf` for the codes of the block's words. @throws DamagedError */
export type Unpack = (
  stored: StoredBlock,
  codesOf: (words: BlockWords) => Promise<BlockCodes>,
  thresholds: SignalThresholds,
) => Promise<Pick<ReadBlock, 'block' | 'kept'>>

interface BlockRecord {
  id: number
  sessions: number
  checksum: string
  columns: Buffer
}

interface RecordWithSignals extends BlockRecord {
  signals_checksum: string | null
  signals: Buffer | null
}

/**
 * All blocks of a site, the newest first; one that is damaged is named and does not stop the rest.
 *
 * @param unpack      decompresses and decodes, here or in a thread
 * @param ahead       how many blocks are on their way at a time
 * @param only        ids of those that are wanted; all where it is missing
 * @param thresholds  under which signals are found
 */
export async function* readBlocks(
  sequelize: Sequelize,
  siteId: number,
  dictionaries: Dictionaries,
  unpack: Unpack,
  ahead = 2,
  only?: readonly number[],
  thresholds: () => SignalThresholds = () => THRESHOLDS,
): AsyncGenerator<(ReadBlock | { damaged: DamagedBlock }) & { of: number }> {
  const ids = await sequelize.query<{ id: number }>(
    `SELECT id FROM blocks WHERE site_id = ? ${only ? 'AND id IN (?)' : ''} ORDER BY id DESC`,
    { replacements: [siteId, only], type: QueryTypes.SELECT },
  )
  const holes = await sequelize.query<{ block_id: number; position: number }>(
    `SELECT h.block_id, h.position FROM block_holes h JOIN blocks b ON b.id = h.block_id
     WHERE b.site_id = ? ${only ? 'AND b.id IN (?)' : ''}`,
    { replacements: [siteId, only], type: QueryTypes.SELECT },
  )
  const holesOf = new Map<number, number[]>()
  for (const { block_id, position } of holes) {
    const positions = holesOf.get(Number(block_id))
    if (positions) positions.push(position)
    else holesOf.set(Number(block_id), [position])
  }
  /** when all blocks before have their codes: these do not depend on who is faster */
  let turn: Promise<unknown> = Promise.resolve()
  const read = async (id: number): Promise<ReadBlock | { damaged: DamagedBlock } | undefined> => {
    const before = turn
    let coded!: () => void
    turn = new Promise<void>((resolve) => (coded = resolve))
    try {
      const limits = thresholds()
      const record = await recordWithSignals(sequelize, id, limits)
      if (!record) return undefined
      const { columns: body, checksum, sessions, signals_checksum: own, signals: found } = record
      const signals = own !== null && found !== null ? { body: found, checksum: own } : undefined
      try {
        const codesOf = async (words: BlockWords) => {
          await before
          const codes = codesFor(words, dictionaries)
          coded()
          return codes
        }
        const read = await unpack({ body, checksum, signals }, codesOf, limits)
        return { id, ...read, holes: holesOf.get(id) ?? [], thresholds: limits }
      } catch (error) {
        if (!(error instanceof DamagedError)) throw error
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
      // A failure is reported when this block's turn comes; until then it must not count as unhandled.
      one.catch(() => undefined)
      under.push(one)
    }
    const one = await under.shift()
    if (one) yield { ...one, of: ids.length }
  }
}

/** Unpacks in this thread. */
export function unpackHere(allocate?: (bytes: number) => ArrayBufferLike): Unpack {
  return async ({ body, checksum, signals }, codesOf, thresholds) => {
    const bytes = await decompressChecked(body, checksum)
    return asDamaged(async () => {
      const packed = readPackedHead(bytes)
      const columns = decodeCoded(packed, await codesOf(packed.head.words), allocate)
      return joinKept(columns, signals, thresholds, allocate)
    })
  }
}

/** Columns with the signals that were kept with them; where none were, or what was is damaged, they are found. */
export function joinKept(
  columns: Columns,
  signals: StoredBytes | undefined,
  thresholds: SignalThresholds,
  allocate?: Allocate,
): Pick<ReadBlock, 'block' | 'kept'> {
  const kept = signals && readSignals(columns, signals, allocate)
  const found = kept ?? findSignals(columns, thresholds, allocate)
  return { block: joinSignals(columns, found), kept: kept !== undefined }
}

function readSignals(
  columns: Columns,
  { body, checksum }: StoredBytes,
  allocate?: Allocate,
): SignalTables | undefined {
  try {
    return unpackSignals(readChecked(body, checksum), columns, allocate)
  } catch {
    return undefined
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
    return { bytes: await decompressChecked(record.columns, record.checksum), sessions }
  } catch (error) {
    if (!(error instanceof DamagedError)) throw error
    return { damaged: { id, sessions, reason: error.message } }
  }
}

/** The same with what is kept of its signals, found under these thresholds in these very columns. */
async function recordWithSignals(
  sequelize: Sequelize,
  id: number,
  limits: SignalThresholds,
): Promise<RecordWithSignals | undefined> {
  const [record] = await sequelize.query<RecordWithSignals>(
    `SELECT b.id, b.sessions, b.checksum, b.\`columns\`, s.checksum AS signals_checksum, s.body AS signals
     FROM blocks b
     LEFT JOIN block_signals s ON s.block_id = b.id AND s.of_columns = b.checksum AND s.found_under = ?
     WHERE b.id = ?`,
    { replacements: [foundUnder(limits), id], type: QueryTypes.SELECT },
  )
  return record
}

async function recordOf(sequelize: Sequelize, id: number): Promise<BlockRecord | undefined> {
  const [record] = await sequelize.query<BlockRecord>(
    'SELECT id, sessions, checksum, `columns` FROM blocks WHERE id = ?',
    { replacements: [id], type: QueryTypes.SELECT },
  )
  return record
}
