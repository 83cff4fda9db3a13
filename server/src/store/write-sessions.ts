import type { Line, RecordItem } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { writeRows } from './database.ts'
import { eventRow, INSERT_EVENTS } from './event-row.ts'
import type { SiteRow } from './models.ts'
import { aboutLines } from './near-sessions.ts'
import type { PackedSnapshot } from './recordings.ts'
import { writePieces, writeSnapshots } from './recordings.ts'

/** A whole session that is known to be one: nothing of its visitor lies nearer than the session limit. */
export interface WholeSession {
  visitor: string
  /** ascending in time */
  lines: Line[]
  documents: { document: string; startMs: number; items: RecordItem[]; snapshot: PackedSnapshot }[]
}

/** Writes whole sessions in bulk, in the caller's transaction. Returns how many events were written. */
export async function writeSessions(
  connection: Connection,
  site: SiteRow,
  sessions: readonly WholeSession[],
): Promise<number> {
  const [{ last }] = await connection.query<[{ last: number | bigint }]>(
    'SELECT COALESCE(MAX(id), 0) AS last FROM sessions FOR UPDATE',
  )
  const ids = sessions.map((_, i) => Number(last) + 1 + i)
  await writeRows(
    connection,
    `INSERT INTO sessions (id, site_id, visitor, start_ms, end_ms, act_ms, line_count, returning_visitor)
     VALUES (?, ?, ?, ?, ?, ?, ?, 0)`,
    sessions.map(({ visitor, lines }, i) => {
      const { startMs, endMs, actMs, lineCount } = aboutLines(lines)
      return [ids[i], site.id, visitor, startMs, endMs, actMs, lineCount]
    }),
  )
  const events = sessions.flatMap((session, i) =>
    session.lines.map((line) => eventRow(site.id, ids[i]!, line)),
  )
  await writeRows(connection, INSERT_EVENTS, events)
  await writeSnapshots(
    connection,
    sessions.flatMap((session) => session.documents.map((document) => document.snapshot)),
  )
  await writePieces(
    connection,
    site.id,
    sessions.flatMap((session, i) =>
      session.documents.map((document) => ({ ...document, sessionId: ids[i]!, n: 0 })),
    ),
  )
  return events.length
}
