import type { Campaign } from './line.ts'

export const CHANNELS = [
  'Direct',
  'Organic search',
  'Paid search',
  'Social',
  'Paid social',
  'Email',
  'Display',
  'Referral',
  'Other campaign',
] as const
export type Channel = (typeof CHANNELS)[number]

const SEARCH_HOST = /(^|\.)(search|find|suche)\b|\bsearch\./
const SOCIAL_HOST = /(^|\.)(social|forum|community)\b/

/**
 * The channel a session came through, from its campaign and, without one, its referrer.
 * Common practice, no source: a tagged medium beats the referrer; a referrer of the site itself is no referrer.
 *
 * @param ownHosts  hosts of the site, lower case
 */
export function channelOf(
  campaign: Campaign | undefined,
  referrer: string | undefined,
  ownHosts: readonly string[],
): Channel {
  const medium = campaign?.medium?.toLowerCase().replaceAll(/[\s-]/g, '_') ?? ''
  if (/^(cpc|ppc|paid|paid_search|sem)$/.test(medium)) return 'Paid search'
  if (/^paid_?social$/.test(medium)) return 'Paid social'
  if (/^(social|social_media)$/.test(medium)) return 'Social'
  if (/^e?_?mail|newsletter$/.test(medium)) return 'Email'
  if (/^(display|banner|cpm)$/.test(medium)) return 'Display'
  if (medium === 'organic') return 'Organic search'
  if (/^(referral|affiliate|partner)$/.test(medium)) return 'Referral'
  if (medium || campaign?.source || campaign?.name) return 'Other campaign'
  const host = hostOf(referrer)
  if (!host || ownHosts.includes(host)) return 'Direct'
  if (SEARCH_HOST.test(host)) return 'Organic search'
  if (SOCIAL_HOST.test(host)) return 'Social'
  return 'Referral'
}

/** Campaign from the `utm_*` parameters of a landing address; undefined where it has none. */
export function campaignOf(url: string): Campaign | undefined {
  const query = url.split('#')[0]!.split('?')[1]
  if (!query) return undefined
  const given = new URLSearchParams(query)
  const campaign: Campaign = {}
  for (const [field, parameter] of [
    ['source', 'utm_source'],
    ['medium', 'utm_medium'],
    ['name', 'utm_campaign'],
    ['term', 'utm_term'],
    ['content', 'utm_content'],
  ] as const) {
    const value = given.get(parameter)
    if (value) campaign[field] = value
  }
  return Object.keys(campaign).length ? campaign : undefined
}

function hostOf(url: string | undefined): string {
  if (!url) return ''
  try {
    return new URL(url).host.toLowerCase()
  } catch {
    return ''
  }
}
