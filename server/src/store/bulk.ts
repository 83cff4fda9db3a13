import type { Line, RecordItem, SessionRow } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import { writeRows } from './database.ts'
import type { SiteRow } from './models.ts'
import type { PackedSnapshot } from './recordings.ts'
import { writePieces, writeSnapshots } from './recordings.ts'
import { lineKey } from './line-key.ts'
import { describeSession } from './sessions.ts'

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
    `INSERT INTO sessions (id, site_id, visitor, start_ms, end_ms, returning_visitor, device, country, channel, campaign, referrer)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    sessions.map((session, i) => {
      const about = describeSession(site, session.lines)
      return [
        ids[i],
        site.id,
        session.visitor,
        session.lines[0]!.t,
        session.lines[session.lines.length - 1]!.t,
        about.returning ? 1 : 0,
        JSON.stringify(about.device),
        about.country,
        about.channel satisfies SessionRow['channel'],
        about.campaign && JSON.stringify(about.campaign),
        about.referrer,
      ]
    }),
  )
  const events = sessions.flatMap((session, i) =>
    session.lines.map((line) => [
      ids[i],
      line.t,
      line.kind,
      line.id === undefined ? null : lineKey(site.id, line.id),
      JSON.stringify(line),
    ]),
  )
  await writeRows(
    connection,
    'INSERT INTO events (session_id, t, kind, line_key, body) VALUES (?, ?, ?, ?, ?)',
    events,
  )
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
