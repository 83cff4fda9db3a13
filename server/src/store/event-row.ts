import type { Line } from '@dust-trail/core'
import { hash } from 'node:crypto'

/** 16 bytes that stand for a line's id within its site. */
export function lineKey(siteId: number, id: string): Buffer {
  return hash('md5', `${siteId}/${id}`, 'buffer')
}

export const INSERT_EVENTS = 'INSERT INTO events (session_id, t, kind, line_key, body) VALUES (?, ?, ?, ?, ?)'

/** A line as the values of INSERT_EVENTS. */
export function eventRow(siteId: number, sessionId: number, line: Line): unknown[] {
  return [
    sessionId,
    line.t,
    line.kind,
    line.id === undefined ? null : lineKey(siteId, line.id),
    JSON.stringify(line),
  ]
}
