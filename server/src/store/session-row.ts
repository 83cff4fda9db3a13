import type { Campaign, Channel, Device, Line, SessionRow } from '@dust-trail/core'
import { campaignOf, channelOf, orderLines, trafficClass } from '@dust-trail/core'
import type { SiteRow } from './models.ts'

/** A row of the sessions table, as far as it says what its lines do not. */
export interface SessionRecord {
  id: number
  visitor: string
  /** 1 = a session of this visitor began before */
  returning_visitor: number
}

/** A stored session with its lines as the core takes it. All but who it was follows from the lines. */
export function sessionRow(
  site: Pick<SiteRow, 'origins'>,
  record: SessionRecord,
  lines: readonly Line[],
): SessionRow {
  const ordered = orderLines(lines)
  const { campaign, returning, ...about } = describeSession(site, ordered)
  return {
    id: Number(record.id),
    visitor: record.visitor,
    returning: returning || record.returning_visitor !== 0,
    ...about,
    traffic: trafficClass(ordered),
    source: campaign?.source,
    campaign: campaign?.name,
    lines: ordered,
  }
}

/**
 * What a session is known by: device and place from the first of its lines that has one, campaign and referrer from its
 * landing.
 *
 * @param lines  in order
 */
function describeSession(
  site: Pick<SiteRow, 'origins'>,
  lines: readonly Line[],
): {
  device: Device
  country: string | undefined
  channel: Channel
  campaign: Campaign | undefined
  /** the sender knows the visitor from before */
  returning: boolean
} {
  const landing = lines.find((line) => line.kind === 'page')
  const campaign = landing?.campaign ?? campaignOf(landing?.url ?? '')
  const hosts = site.origins.map((origin) => new URL(origin).host)
  return {
    device: lines.find((line) => line.device)?.device ?? {},
    country: lines.find((line) => line.country)?.country,
    channel: channelOf(campaign, landing?.referrer, hosts),
    campaign,
    returning: lines.some((line) => line.returning === true),
  }
}
