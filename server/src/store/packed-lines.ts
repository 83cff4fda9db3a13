import type { Line } from '@dust-trail/core'
import { orderLines } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { grouped } from '../grouped.ts'
import { decompress, sha256 } from './compression.ts'

/** Sessions whose lines lie together within a block. */
export const LINES_TOGETHER = 256

export interface PackedPlace {
  id: number | bigint
  block_id: number | bigint
  block_pos: number
}

/** Lines of packed sessions by the session's id. A damaged piece is left out: its sessions are then missing here. */
export async function packedLines(
  query: <T>(sql: string, values: unknown[]) => Promise<T[]>,
  places: readonly PackedPlace[],
): Promise<Map<number, string[]>> {
  const byPiece = grouped(
    places,
    (place) => `${place.block_id}/${Math.floor(place.block_pos / LINES_TOGETHER)}`,
  )
  const found = new Map<number, string[]>()
  for (const [key, own] of byPiece) {
    const [blockId, n] = key.split('/').map(Number)
    const [piece] = await query<{ checksum: string; body: Buffer }>(
      'SELECT checksum, body FROM block_lines WHERE block_id = ? AND n = ?',
      [blockId, n],
    )
    if (!piece || sha256(piece.body) !== piece.checksum) continue
    const sessions = (await decompress(piece.body)).toString().split('\n\n')
    for (const { id, block_pos } of own) {
      const text = sessions[block_pos % LINES_TOGETHER]
      if (text) found.set(Number(id), text.split('\n').map(bodyOf))
    }
  }
  return found
}

/** A line's text: what stands before it, in blocks of earlier versions, is not used any more. */
function bodyOf(text: string): string {
  return text.slice(text.indexOf('\t') + 1)
}

/** Lines of sessions as text, packed or not, by the session's id, each session's in their order. */
export async function lineTexts(
  sequelize: Sequelize,
  ids: readonly number[],
): Promise<Map<number, string[]>> {
  const texts = await unorderedTexts(sequelize, ids)
  return new Map([...texts].map(([id, bodies]) => [id, inOrder(bodies)]))
}

/** The same in any order. */
export async function unorderedTexts(
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
    texts.set(id, lines)
  const rows = await select<{ session_id: number; body: string }>(
    'SELECT session_id, body FROM events WHERE session_id IN (?)',
    [[...ids]],
  )
  for (const [id, own] of grouped(rows, ({ session_id }) => Number(session_id)))
    texts.set(
      id,
      own.map(({ body }) => body),
    )
  return texts
}

/** Lines as text in their order. */
function inOrder(bodies: readonly string[]): string[] {
  const texts = new Map(bodies.map((body) => [JSON.parse(body) as Line, body]))
  return orderLines([...texts.keys()]).map((line) => texts.get(line)!)
}

export function placesOf(connection: Connection, ids: readonly number[]): Promise<PackedPlace[]> {
  return ids.length
    ? connection.query<PackedPlace[]>(
        'SELECT id, block_id, block_pos FROM sessions WHERE id IN (?) AND block_id IS NOT NULL ORDER BY id',
        [ids],
      )
    : Promise.resolve([])
}
