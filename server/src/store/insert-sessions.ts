import type { Line } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { aboutLines } from './near-sessions.ts'

/** A session that has no row yet. */
export interface NewSession {
  visitor: string
  /** what its sender calls it; null = nothing */
  key: string | null
  /** in order */
  lines: readonly Line[]
  seenBefore: boolean
}

/** Gives sessions rows, at least one; returns the first one's id, which the others follow. */
export async function insertSessions(
  connection: Connection,
  siteId: number,
  sessions: readonly NewSession[],
): Promise<number> {
  const rows = sessions.map(({ visitor, key, lines, seenBefore }) => {
    const { startMs, endMs, actMs, lineCount } = aboutLines(lines)
    return [siteId, visitor, startMs, endMs, seenBefore ? 1 : 0, key, actMs, lineCount]
  })
  const one = `(${rows[0]!.map(() => '?').join(',')})`
  // One statement: InnoDB numbers its rows one after another, from the number it returns.
  const { insertId } = await connection.query<{ insertId: bigint | number }>(
    `INSERT INTO sessions (site_id, visitor, start_ms, end_ms, returning_visitor, session_key, act_ms, line_count)
     VALUES ${rows.map(() => one).join(',')}`,
    rows.flat(),
  )
  return Number(insertId)
}
