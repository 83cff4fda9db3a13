import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core'
import { holds, mayHold, wantedOf } from '@dust-trail/core'
import { promisify } from 'node:util'
import { inflate } from 'node:zlib'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'

const inflated = promisify(inflate)
/** Sessions whose pieces are read at once. */
const AT_ONCE = 50

/**
 * Sessions on whose pages something was, as they looked at first or came to look later. Looks at one after the other in the
 * order given, as long as there is time.
 *
 * @param hasTime  asked between the sessions
 * @returns those found in their order, and how many were looked at
 */
export async function searchRecordings(
  sequelize: Sequelize,
  sessionIds: readonly number[],
  words: string,
  hasTime: () => boolean,
): Promise<{ found: number[]; looked: number }> {
  const wanted = wantedOf(words)
  /** by page whether it has it: many sessions saw the same one */
  const pages = new Map<string, boolean>()
  const select = <Row extends object>(sql: string, replacements: unknown[]) =>
    sequelize.query<Row>(sql, { replacements, type: QueryTypes.SELECT })
  const found: number[] = []
  let looked = 0
  for (; looked < sessionIds.length && hasTime();) {
    const some = sessionIds.slice(looked, looked + AT_ONCE)
    const pieces = await select<{ session_id: number; snapshot_hash: string | null; body: Buffer }>(
      'SELECT session_id, snapshot_hash, body FROM recordings WHERE session_id IN (?)',
      [some],
    )
    const hashes = [...new Set(pieces.flatMap(({ snapshot_hash }) => snapshot_hash ?? []))]
    const unknown = hashes.filter((hash) => !pages.has(hash))
    const bodies = unknown.length
      ? await select<{ hash: string; body: Buffer }>('SELECT hash, body FROM snapshots WHERE hash IN (?)', [
          unknown,
        ])
      : []
    for (const { hash, body } of bodies) {
      const text = await textOf(body)
      pages.set(hash, mayHold(text, wanted) && holds((JSON.parse(text) as Snapshot).root, wanted))
    }
    const having = new Set<number>()
    for (const { session_id, snapshot_hash, body } of pieces) {
      const id = Number(session_id)
      if (having.has(id)) continue
      if (snapshot_hash && pages.get(snapshot_hash)) having.add(id)
      else {
        const text = await textOf(body)
        if (
          mayHold(text, wanted) &&
          addedIn(JSON.parse(text) as RecordItem[]).some((node) => holds(node, wanted))
        )
          having.add(id)
      }
    }
    found.push(...some.filter((id) => having.has(id)))
    looked += some.length
  }
  return { found, looked }
}

/** What a damaged piece says is nothing. */
async function textOf(body: Buffer): Promise<string> {
  try {
    return (await inflated(body)).toString()
  } catch {
    return '[]'
  }
}

/** What came to a page after its beginning. */
function addedIn(items: readonly RecordItem[]): RecordedNode[] {
  return items.flatMap((item) =>
    item.k === 'change'
      ? [
          ...(item.add ?? []).map(([, , node]) => node),
          ...(item.text ?? []).map(([id, text]): RecordedNode => ({ id, text })),
        ]
      : [],
  )
}
