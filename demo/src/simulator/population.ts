import type { DeviceClass } from '@dust-trail/core'
import type { PartyVariant } from '../site/page.ts'
import type { Dice } from './chance.ts'

export const INTENTS = ['book', 'weather', 'hire', 'read', 'member', 'other'] as const
/** What somebody has come for. */
export type Intent = (typeof INTENTS)[number]

export const CHANNELS = ['direct', 'organic', 'paid', 'email', 'social', 'referral'] as const
export type ChannelName = (typeof CHANNELS)[number]

/** What no log ever shows: what they are like. */
export interface Mind {
  /** how much they want what they came for; standard normal, shifted by channel */
  eager: number
  /** how well they hit and understand things; standard normal, lower on phones */
  skill: number
  /** how long they put up with trouble; standard normal */
  patience: number
  /** how much they click about; standard normal, higher for the eager */
  habit: number
  /** how carefully they look at things, how little time they have, how much they can spend; standard normal */
  thorough: number
  urgent: number
  budget: number
}

export interface Arrival {
  channel: ChannelName
  landing: string
  referrer?: string
  campaign?: Record<string, string>
  /** what those who land there have come for; else it follows from the channel */
  intent?: Intent
}

export interface Visitor {
  id: string
  device: DeviceClass
  os: string
  browser: string
  country: string
  mind: Mind
  /** which layout of the party step this visitor is given */
  party: PartyVariant
}

const found = { channel: 'organic', referrer: 'https://search.example/' } as const
const paid = (landing: string, campaign: string): Arrival => ({
  channel: 'paid',
  landing,
  campaign: { utm_source: 'search.example', utm_medium: 'cpc', utm_campaign: campaign },
})
const letter = (landing: string, campaign: string): Arrival => ({
  channel: 'email',
  landing,
  campaign: { utm_source: 'letter', utm_medium: 'email', utm_campaign: campaign },
})
const shared = {
  channel: 'social',
  referrer: 'https://social.example/',
  campaign: { utm_source: 'social.example', utm_medium: 'social' },
} as const

const ARRIVALS: readonly (readonly [Arrival, number])[] = [
  [{ channel: 'direct', landing: '/' }, 22],
  [{ ...found, landing: '/' }, 16],
  [{ ...found, landing: '/nights', intent: 'book' }, 8],
  [{ ...found, landing: '/articles/first-telescope', intent: 'read' }, 5],
  [{ ...found, landing: '/articles/meteor-counting', intent: 'read' }, 3],
  [{ ...found, landing: '/hire', intent: 'hire' }, 4],
  [paid('/nights', 'winter-nights'), 6],
  [paid('/winter', 'midwinter'), 6],
  [paid('/gift', 'gifts'), 2],
  [letter('/nights/geminid-meteors', 'geminids'), 6],
  [letter('/', 'new-moon'), 3],
  [{ ...shared, landing: '/' }, 6],
  [{ ...shared, landing: '/articles/how-dark-is-dark', intent: 'read' }, 7],
  [{ channel: 'referral', landing: '/', referrer: 'https://moorland-walks.example/' }, 6],
]

const INTENT_SHARES: Record<ChannelName, Record<Intent, number>> = {
  direct: { book: 46, weather: 22, hire: 10, read: 7, member: 10, other: 5 },
  organic: { book: 44, weather: 12, hire: 16, read: 18, member: 4, other: 6 },
  paid: { book: 74, weather: 3, hire: 12, read: 3, member: 5, other: 3 },
  email: { book: 56, weather: 9, hire: 8, read: 12, member: 12, other: 3 },
  social: { book: 30, weather: 12, hire: 7, read: 42, member: 4, other: 5 },
  referral: { book: 45, weather: 10, hire: 14, read: 21, member: 5, other: 5 },
}
const EAGERNESS: Record<ChannelName, number> = {
  direct: 0.3,
  organic: 0,
  paid: 0.1,
  email: 0.6,
  social: -0.6,
  referral: 0,
}
const PHONE_SHARE: Record<ChannelName, number> = {
  direct: 0.4,
  organic: 0.48,
  paid: 0.5,
  email: 0.45,
  social: 0.8,
  referral: 0.45,
}

export function arrivalOf(dice: Dice, mix: Mix): Arrival {
  return dice.pick(
    'arrival',
    ARRIVALS.map(([arrival, weight]) => [arrival, weight * mix.channels[arrival.channel]!] as const),
  )
}

export function intentOf(dice: Dice, arrival: Arrival, mix: Mix): Intent {
  if (arrival.intent) return arrival.intent
  const shares = INTENT_SHARES[arrival.channel]
  return dice.pick(
    'intent',
    INTENTS.map((intent) => [intent, shares[intent] * mix.intents[intent]] as const),
  )
}

export function visitorOf(dice: Dice, number: number, arrival: Arrival, mix: Mix): Visitor {
  const phones = Math.min(0.9, Math.max(0.05, PHONE_SHARE[arrival.channel] + mix.phones))
  const device = dice.pick<DeviceClass>('device', [
    ['mobile', phones],
    ['tablet', 0.08],
    ['desktop', Math.max(0.02, 0.92 - phones)],
  ])
  const os = dice.pick('os', SYSTEMS[device])
  const eager = dice.normal('eager') + EAGERNESS[arrival.channel]
  return {
    id: `demo-${number.toString(36).padStart(4, '0')}`,
    device,
    os,
    browser: dice.pick('browser', BROWSERS[os]!),
    country: dice.pick('country', COUNTRIES),
    mind: {
      eager,
      skill: dice.normal('skill') - (device === 'mobile' ? mix.phoneSkill : 0),
      patience: dice.normal('patience'),
      habit: 0.5 * mix.eagerClicks * eager + 0.85 * dice.normal('habit'),
      thorough: dice.normal('thorough'),
      urgent: dice.normal('urgent'),
      budget: dice.normal('budget'),
    },
    party: dice.chance('party', 0.5) ? 'steps' : 'map',
  }
}

const SYSTEMS: Record<DeviceClass, readonly (readonly [string, number])[]> = {
  desktop: [
    ['Windows', 60],
    ['macOS', 30],
    ['Linux', 10],
  ],
  mobile: [
    ['Android', 55],
    ['iOS', 45],
  ],
  tablet: [
    ['iOS', 70],
    ['Android', 30],
  ],
}

const BROWSERS: Record<string, readonly (readonly [string, number])[]> = {
  Windows: [
    ['Chrome', 60],
    ['Edge', 25],
    ['Firefox', 15],
  ],
  macOS: [
    ['Safari', 55],
    ['Chrome', 45],
  ],
  Linux: [
    ['Firefox', 60],
    ['Chrome', 40],
  ],
  Android: [
    ['Chrome', 90],
    ['Firefox', 10],
  ],
  iOS: [['Safari', 100]],
}

const COUNTRIES = [
  ['IE', 46],
  ['GB', 34],
  ['DE', 8],
  ['FR', 6],
  ['US', 6],
] as const

/** What kind of people come. Factors of 1 and shifts of 0 are the design's. */
export interface Mix {
  channels: Record<string, number>
  intents: Record<Intent, number>
  /** added to the share of phones */
  phones: number
  /** what a phone takes away from skill */
  phoneSkill: number
  /** how strongly eagerness leads to booking, and to clicking about */
  eagerBooks: number
  eagerClicks: number
}
