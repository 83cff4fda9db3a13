import type { Block, BlockCodes, BlockWords, Dictionaries, SignalThresholds } from '@dust-trail/core'
import { codesFor, decodeCoded, readPackedHead, THRESHOLDS, withSignals } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { asDamaged, DamagedError, decompressChecked } from './compression.ts'

/** What a block says, and which of its sessions no longer lie in it. */
export interface ReadBlock {
  id: number
  block: Block
  holes: number[]
  /** under which its signals were found */
  thresholds: SignalThresholds
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

/** Makes a block of what is stored; it asks `codesOf` for the codes of the block's words. @throws DamagedError */
export type Unpack = (
  stored: StoredBlock,
  codesOf: (words: BlockWords) => Promise<BlockCodes>,
  thresholds: SignalThresholds,
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
      const record = await recordOf(sequelize, id)
      if (!record) return undefined
      const { columns: body, checksum, sessions } = record
      try {
        const codesOf = async (words: BlockWords) => {
          await before
          const codes = codesFor(words, dictionaries)
          coded()
          return codes
        }
        const limits = thresholds()
        const block = await unpack({ body, checksum }, codesOf, limits)
        return { id, block, holes: holesOf.get(id) ?? [], thresholds: limits }
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
  return async ({ body, checksum }, codesOf, thresholds) => {
    const bytes = await decompressChecked(body, checksum)
    return asDamaged(async () => {
      const packed = readPackedHead(bytes)
      const columns = decodeCoded(packed, await codesOf(packed.head.words), allocate)
      return withSignals(columns, thresholds, allocate)
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
    return { bytes: await decompressChecked(record.columns, record.checksum), sessions }
  } catch (error) {
    if (!(error instanceof DamagedError)) throw error
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
