import type { Line, SessionRow } from '@dust-trail/core'
import { cutNamed, cutSessions, lineText, orderLines } from '@dust-trail/core'
import type { Connection } from 'mariadb'
import type { Sequelize } from 'sequelize'
import { grouped } from '../grouped.ts'
import { inTransaction, retried, writeRows } from './database.ts'
import { eventRow, INSERT_EVENTS } from './event-row.ts'
import type { SiteRow } from './models.ts'
import type { NewSession } from './insert-sessions.ts'
import { insertSessions } from './insert-sessions.ts'
import { piecesOf } from './near-sessions.ts'
import { BLOCK_SESSIONS, storeSessions } from './pack-sessions.ts'
import type { Placed } from './place-lines.ts'
import { MOST_LINES, placeLines } from './place-lines.ts'
import { sessionRow } from './session-row.ts'

/** What became of lines that were placed visitor by visitor; sessions of whole blocks are not listed one by one. */
export interface PlacedWhole extends Omit<Placed, 'begunBy' | 'latest'> {
  /** blocks that were made */
  blocks: number[]
}

export interface PlaceOptions {
  nowMs: number
  /** keeps what else arrives for some visitors waiting until it is released */
  hold?: ((visitors: readonly string[]) => Promise<() => void>) | undefined
  /** a line as JSON, where that is known without writing it */
  textOf?: (line: Line) => string
}

/** Lines in one transaction: many enough that committing costs little and blocks are large, few enough for memory. */
const LINES_TOGETHER = 32_768
/** Nobody's clock is so wrong, and no batch so late, that a session grows after this and its limit. */
const GRACE_MS = 60_000

/** Lines as groups of visitors, each visitor's lines in one group, each group to be written in one transaction. */
export function* visitorGroups(lines: readonly Line[]): Generator<Map<string, Line[]>> {
  let group = new Map<string, Line[]>()
  let count = 0
  for (const [visitor, own] of grouped(lines, (line) => line.visitor)) {
    group.set(visitor, own)
    count += own.length
    if (count < LINES_TOGETHER) continue
    yield group
    group = new Map()
    count = 0
  }
  if (group.size) yield group
}

/**
 * Places all lines of some visitors, in one transaction. Of visitors of whom nothing is stored sessions are cut here, and
 * those that have ended go into a block at once; the others' lines find their places as in placeLines.
 *
 */
export async function placeVisitors(
  sequelize: Sequelize,
  site: SiteRow,
  byVisitor: ReadonlyMap<string, Line[]>,
  { nowMs, hold, textOf = JSON.stringify }: PlaceOptions,
): Promise<PlacedWhole> {
  const release = await hold?.([...byVisitor.keys()])
  try {
    return await retried(() =>
      inTransaction(sequelize, async (connection) => {
        const stored = await storedVisitors(connection, site.id, [...byVisitor.keys()])
        const others = [...byVisitor].flatMap(([visitor, lines]) => (stored.has(visitor) ? lines : []))
        const placed = others.length
          ? await placeLines(connection, site, others)
          : { changed: [], gone: [], repeated: 0, tooMany: 0 }
        const fresh = [...byVisitor].filter(([visitor]) => !stored.has(visitor))
        const whole = await placeWhole(connection, site, fresh, nowMs, textOf)
        return {
          changed: [...placed.changed, ...whole.changed],
          gone: placed.gone,
          blocks: whole.blocks,
          repeated: placed.repeated + whole.repeated,
          tooMany: placed.tooMany + whole.tooMany,
        }
      }),
    )
  } finally {
    release?.()
  }
}

async function storedVisitors(
  connection: Connection,
  siteId: number,
  visitors: readonly string[],
): Promise<Set<string>> {
  const stored = new Set<string>()
  for (const some of piecesOf(visitors, 1000)) {
    const rows = await connection.query<{ visitor: string }[]>(
      'SELECT DISTINCT visitor FROM sessions WHERE site_id = ? AND visitor IN (?)',
      [siteId, some],
    )
    for (const { visitor } of rows) stored.add(visitor)
  }
  return stored
}

async function placeWhole(
  connection: Connection,
  site: SiteRow,
  byVisitor: readonly (readonly [string, Line[]])[],
  nowMs: number,
  textOf: (line: Line) => string,
) {
  const limitMs = site.sessionLimitMin * 60_000
  const whole: NewSession[] = []
  let repeated = 0
  let tooMany = 0
  for (const [visitor, lines] of byVisitor) {
    const once = withoutEqualIds(lines)
    repeated += lines.length - once.length
    const sessions = cutVisitor(once, limitMs)
    const firstMs = sessions.reduce((ms, { lines: own }) => Math.min(ms, own[0]!.t), Infinity)
    for (const { key, lines: all } of sessions) {
      const own = all.slice(0, MOST_LINES)
      tooMany += all.length - own.length
      whole.push({ visitor, key, lines: own, seenBefore: own[0]!.t > firstMs })
    }
  }
  const endedBeforeMs = nowMs - limitMs - GRACE_MS
  const hasEnded = ({ lines }: NewSession) => lines[lines.length - 1]!.t < endedBeforeMs
  const blocks: number[] = []
  for (const together of piecesOf(whole.filter(hasEnded), BLOCK_SESSIONS))
    blocks.push(await writePacked(connection, site, together, textOf))
  const open = whole.filter((one) => !hasEnded(one))
  const changed: number[] = []
  for (const together of piecesOf(open, 2000)) {
    const first = await insertSessions(connection, site.id, together)
    const rows = together.flatMap(({ lines }, i) => lines.map((line) => eventRow(site.id, first + i, line)))
    await writeRows(connection, INSERT_EVENTS, rows)
    changed.push(...together.map((_, i) => first + i))
  }
  return { changed, blocks, repeated, tooMany }
}

/** Of lines with one id only one: the same, whichever came first. */
function withoutEqualIds(lines: readonly Line[]): Line[] {
  const byId = new Map<string, Line>()
  for (const line of lines) {
    if (line.id === undefined) continue
    const before = byId.get(line.id)
    if (!before || lineText(line) < lineText(before)) byId.set(line.id, line)
  }
  return lines.filter((line) => line.id === undefined || byId.get(line.id) === line)
}

function cutVisitor(lines: readonly Line[], limitMs: number): { key: string | null; lines: Line[] }[] {
  return [...grouped(lines, ({ session }) => session)].flatMap(([key, own]) => {
    const ordered = orderLines(own)
    const cut = key === undefined ? cutSessions(ordered, limitMs) : cutNamed(ordered)
    return cut.map((session) => ({ key: key ?? null, lines: session }))
  })
}

async function writePacked(
  connection: Connection,
  site: SiteRow,
  sessions: readonly NewSession[],
  textOf: (line: Line) => string,
): Promise<number> {
  const ordered = [...sessions].sort((a, b) => a.lines[0]!.t - b.lines[0]!.t)
  const first = await insertSessions(connection, site.id, ordered)
  const rows: SessionRow[] = ordered.map(({ visitor, lines, seenBefore }, i) =>
    sessionRow(site, { id: first + i, visitor, returning_visitor: seenBefore ? 1 : 0 }, lines),
  )
  const { blockId } = await storeSessions(connection, site.id, rows, textOf)
  await connection.query('UPDATE sessions SET block_id = ?, block_pos = id - ? WHERE id BETWEEN ? AND ?', [
    blockId,
    first,
    first,
    first + ordered.length - 1,
  ])
  return blockId
}
