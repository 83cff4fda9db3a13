import type { Campaign, Channel, Device, Line, SessionRow } from '@dust-trail/core'
import { campaignOf, channelOf } from '@dust-trail/core'
import { QueryTypes } from 'sequelize'
import type { Sequelize } from 'sequelize'
import { lineTexts } from './blocks.ts'
import type { SiteRow } from './models.ts'
import type { SessionRecord } from './session-row.ts'
import { sessionRow } from './session-row.ts'

/** What a session is known by, from its first lines: device and place from any, campaign and referrer from its landing. */
export function describeSession(
  site: Pick<SiteRow, 'origins'>,
  lines: readonly Line[],
): {
  device: Device
  country: string | null
  channel: Channel
  campaign: Campaign | null
  referrer: string | null
  returning: boolean
} {
  const landing = lines.find((line) => line.kind === 'page')
  const campaign = landing?.campaign ?? campaignOf(landing?.url ?? '') ?? null
  const referrer = landing?.referrer ?? null
  const hosts = site.origins.map((origin) => new URL(origin).host)
  return {
    device: lines.find((line) => line.device)?.device ?? {},
    country: lines.find((line) => line.country)?.country ?? null,
    channel: channelOf(campaign ?? undefined, referrer ?? undefined, hosts),
    campaign,
    referrer,
    returning: lines.some((line) => line.returning === true),
  }
}

const PAGE = 500

/** All sessions of a site that are not packed, with their lines, in order of id, some hundred at a time. */
export async function* readOpenSessions(sequelize: Sequelize, siteId: number): AsyncGenerator<SessionRow[]> {
  let after = 0
  for (;;) {
    const records = await sequelize.query<SessionRecord>(
      'SELECT * FROM sessions WHERE site_id = ? AND block_id IS NULL AND id > ? ORDER BY id LIMIT ?',
      { replacements: [siteId, after, PAGE], type: QueryTypes.SELECT },
    )
    if (!records.length) return
    yield await withLines(sequelize, records)
    after = Number(records[records.length - 1]!.id)
  }
}

/** The sessions with these ids, those that exist, packed or not. */
export async function readSessionsById(sequelize: Sequelize, ids: readonly number[]): Promise<SessionRow[]> {
  if (!ids.length) return []
  const records = await sequelize.query<SessionRecord>('SELECT * FROM sessions WHERE id IN (?) ORDER BY id', {
    replacements: [[...ids]],
    type: QueryTypes.SELECT,
  })
  return withLines(sequelize, records)
}

async function withLines(sequelize: Sequelize, records: readonly SessionRecord[]): Promise<SessionRow[]> {
  const texts = await lineTexts(
    sequelize,
    records.map(({ id }) => Number(id)),
  )
  return records.flatMap((record) => {
    const own = texts.get(Number(record.id))
    return own
      ? [
          sessionRow(
            record,
            own.map((text) => JSON.parse(text) as Line),
          ),
        ]
      : []
  })
}
