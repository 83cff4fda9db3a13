import type { Campaign, Channel, Device, Line, SessionRow } from '@dust-trail/core'
import { campaignOf, channelOf } from '@dust-trail/core'
import { QueryTypes } from 'sequelize'
import type { Sequelize } from 'sequelize'
import type { SiteRow } from './models.ts'

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

interface SessionRecord {
  id: number
  visitor: string
  returning_visitor: number
  device: Device | string
  country: string | null
  channel: Channel
  campaign: Campaign | string | null
}

const PAGE = 500

/** All sessions of a site with their lines, in order of id, some hundred at a time. */
export async function* readSessions(sequelize: Sequelize, siteId: number): AsyncGenerator<SessionRow[]> {
  let after = 0
  for (;;) {
    const records = await sequelize.query<SessionRecord>(
      'SELECT * FROM sessions WHERE site_id = ? AND id > ? ORDER BY id LIMIT ?',
      { replacements: [siteId, after, PAGE], type: QueryTypes.SELECT },
    )
    if (!records.length) return
    yield await withLines(sequelize, records)
    after = Number(records[records.length - 1]!.id)
  }
}

/** The sessions with these ids, those that exist. */
export async function readSessionsById(sequelize: Sequelize, ids: readonly number[]): Promise<SessionRow[]> {
  if (!ids.length) return []
  const records = await sequelize.query<SessionRecord>('SELECT * FROM sessions WHERE id IN (?) ORDER BY id', {
    replacements: [[...ids]],
    type: QueryTypes.SELECT,
  })
  return withLines(sequelize, records)
}

async function withLines(sequelize: Sequelize, records: readonly SessionRecord[]): Promise<SessionRow[]> {
  if (!records.length) return []
  const lines = await sequelize.query<{ session_id: number; body: string }>(
    'SELECT session_id, body FROM events WHERE session_id IN (?) ORDER BY session_id, t, id',
    { replacements: [records.map((record) => record.id)], type: QueryTypes.SELECT },
  )
  const bySession = new Map<number, Line[]>()
  for (const { session_id, body } of lines) {
    const line = JSON.parse(body) as Line
    const known = bySession.get(Number(session_id))
    if (known) known.push(line)
    else bySession.set(Number(session_id), [line])
  }
  return records.flatMap((record) => {
    const own = bySession.get(Number(record.id))
    if (!own) return []
    const campaign = parsed<Campaign>(record.campaign)
    return [
      {
        id: Number(record.id),
        visitor: record.visitor,
        returning: record.returning_visitor === 1,
        device: parsed<Device>(record.device) ?? {},
        country: record.country ?? undefined,
        channel: record.channel,
        source: campaign?.source,
        campaign: campaign?.name,
        lines: own,
      },
    ]
  })
}

/** JSON columns come back parsed or as text, by driver and column. */
function parsed<T>(value: T | string | null): T | null {
  return typeof value === 'string' ? (JSON.parse(value) as T) : value
}
