import type { Line, SessionRow } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { turns } from '../turns.ts'
import type { SiteRow } from './models.ts'
import { unorderedTexts } from './packed-lines.ts'
import type { SessionRecord } from './session-row.ts'
import { sessionRow } from './session-row.ts'

const PAGE = 500

/** All sessions of a site that are not packed, with their lines, in order of id, some hundred at a time. */
export async function* readOpenSessions(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'id' | 'origins'>,
): AsyncGenerator<SessionRow[]> {
  let after = 0
  for (;;) {
    const records = await sequelize.query<SessionRecord>(
      'SELECT id, visitor, returning_visitor FROM sessions WHERE site_id = ? AND block_id IS NULL AND id > ? ORDER BY id LIMIT ?',
      { replacements: [site.id, after, PAGE], type: QueryTypes.SELECT },
    )
    if (!records.length) return
    yield await withLines(sequelize, site, records)
    after = Number(records[records.length - 1]!.id)
  }
}

/** The sessions with these ids, those that exist, packed or not. */
export async function readSessionsById(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'origins'>,
  ids: readonly number[],
): Promise<SessionRow[]> {
  if (!ids.length) return []
  const records = await sequelize.query<SessionRecord>(
    'SELECT id, visitor, returning_visitor FROM sessions WHERE id IN (?) ORDER BY id',
    {
      replacements: [[...ids]],
      type: QueryTypes.SELECT,
    },
  )
  return withLines(sequelize, site, records)
}

async function withLines(
  sequelize: Sequelize,
  site: Pick<SiteRow, 'origins'>,
  records: readonly SessionRecord[],
): Promise<SessionRow[]> {
  const texts = await unorderedTexts(
    sequelize,
    records.map(({ id }) => Number(id)),
  )
  const rows: SessionRow[] = []
  const letOthers = turns()
  for (const record of records) {
    const lines = texts.get(Number(record.id))?.map((text) => JSON.parse(text) as Line)
    if (lines) rows.push(sessionRow(site, record, lines))
    await letOthers()
  }
  return rows
}
