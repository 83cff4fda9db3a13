import type { Campaign, Channel, Device, Line, SessionRow } from '@dust-trail/core'

/** A row of the sessions table. */
export interface SessionRecord {
  id: number
  visitor: string
  returning_visitor: number
  device: Device | string
  country: string | null
  channel: Channel
  campaign: Campaign | string | null
}

/** A stored session with its lines as the core takes it. */
export function sessionRow(record: SessionRecord, lines: Line[]): SessionRow {
  const campaign = parsed<Campaign>(record.campaign)
  return {
    id: Number(record.id),
    visitor: record.visitor,
    returning: record.returning_visitor === 1,
    device: parsed<Device>(record.device) ?? {},
    country: record.country ?? undefined,
    channel: record.channel,
    source: campaign?.source,
    campaign: campaign?.name,
    lines,
  }
}

/** JSON columns come back parsed or as text, by driver and column. */
function parsed<T>(value: T | string | null): T | null {
  return typeof value === 'string' ? (JSON.parse(value) as T) : value
}
