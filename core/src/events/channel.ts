import type { Campaign } from './line.ts'
import { MAIL_HOSTS, SEARCH_HOSTS, SOCIAL_HOSTS } from './referrer-hosts.ts'

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

const MAIL = lookup(MAIL_HOSTS)
const SEARCH = lookup(SEARCH_HOSTS)
const SOCIAL = lookup(SOCIAL_HOSTS)

/** What hosts call themselves that are on no list. */
const SEARCH_WORDS = /(^|\.)(search|find|suche)\b/
const SOCIAL_WORDS = /(^|\.)(social|forum|community)\b/
const MAIL_WORDS = /^(mail|webmail|email|owa)\./

/**
 * The channel a session came through, from its campaign and, without one, its referrer.
 * Common practice, no source: a tagged medium beats the referrer; a referrer of the site itself is no referrer; hosts that
 * referrer-hosts.ts lists are mail, search or social, in this order.
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
  if (/^(e?_?mail|newsletter)$/.test(medium)) return 'Email'
  if (/^(display|banner|cpm)$/.test(medium)) return 'Display'
  if (medium === 'organic') return 'Organic search'
  if (/^(referral|affiliate|partner)$/.test(medium)) return 'Referral'
  if (medium || campaign?.source || campaign?.name) return 'Other campaign'
  const host = hostOf(referrer)
  if (!host || ownHosts.includes(host)) return 'Direct'
  if (isListed(host, MAIL) || MAIL_WORDS.test(host)) return 'Email'
  if (isListed(host, SEARCH) || SEARCH_WORDS.test(host)) return 'Organic search'
  if (isListed(host, SOCIAL) || SOCIAL_WORDS.test(host)) return 'Social'
  return 'Referral'
}

/** A list as it is looked up: hosts, and names that count under any ending. */
function lookup(list: readonly string[]): { hosts: ReadonlySet<string>; names: ReadonlySet<string> } {
  const names = list.filter((entry) => entry.endsWith('.*')).map((entry) => entry.slice(0, -2))
  return { hosts: new Set(list), names: new Set(names) }
}

/** Whether a list names a host: itself, one that it lies below, or its name under another ending. */
function isListed(host: string, { hosts, names }: ReturnType<typeof lookup>): boolean {
  const name = /^(?:www\.|m\.)?([^.]+)\.(?:com?\.|org\.)?[a-z]{2,}$/.exec(host)?.[1]
  if (name !== undefined && names.has(name)) return true
  for (let at = 0; at >= 0; at = host.indexOf('.', at + 1))
    if (hosts.has(at === 0 ? host : host.slice(at + 1))) return true
  return false
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
