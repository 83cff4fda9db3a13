import type { DeviceClass } from '@dust-trail/core'
import type { Dice } from './chance.ts'

/** What no log ever shows: why somebody is here and what they are like. */
export interface Mind {
  /** how much they want a night; standard normal, shifted by channel */
  eager: number
  /** how well they hit and understand things; standard normal, lower on phones */
  skill: number
  /** how long they put up with trouble; standard normal */
  patience: number
}

export interface Arrival {
  channel: string
  landing: string
  referrer?: string
  campaign?: Record<string, string>
}

export interface Visitor {
  id: string
  device: DeviceClass
  os: string
  browser: string
  country: string
  mind: Mind
}

const ARRIVALS: readonly (readonly [Arrival, number])[] = [
  [{ channel: 'direct', landing: '/' }, 24],
  [{ channel: 'organic', landing: '/', referrer: 'https://search.example/' }, 22],
  [{ channel: 'organic', landing: '/nights', referrer: 'https://search.example/' }, 12],
  [
    {
      channel: 'paid',
      landing: '/nights',
      campaign: { utm_source: 'search.example', utm_medium: 'cpc', utm_campaign: 'winter-nights' },
    },
    14,
  ],
  [
    {
      channel: 'email',
      landing: '/nights/geminid-meteors',
      campaign: { utm_source: 'letter', utm_medium: 'email', utm_campaign: 'geminids' },
    },
    9,
  ],
  [
    {
      channel: 'social',
      landing: '/',
      referrer: 'https://social.example/',
      campaign: { utm_source: 'social.example', utm_medium: 'social' },
    },
    13,
  ],
  [{ channel: 'referral', landing: '/', referrer: 'https://moorland-walks.example/' }, 6],
]

const EAGERNESS: Record<string, number> = {
  direct: 0.3,
  organic: 0,
  paid: 0.1,
  email: 0.6,
  social: -0.6,
  referral: 0,
}
const PHONE_SHARE: Record<string, number> = {
  direct: 0.4,
  organic: 0.48,
  paid: 0.5,
  email: 0.45,
  social: 0.8,
  referral: 0.45,
}

export function arrivalOf(dice: Dice): Arrival {
  return dice.pick('arrival', ARRIVALS)
}

export function visitorOf(dice: Dice, number: number, arrival: Arrival): Visitor {
  const phones = PHONE_SHARE[arrival.channel]!
  const device = dice.pick<DeviceClass>('device', [
    ['mobile', phones],
    ['tablet', 0.08],
    ['desktop', 0.92 - phones],
  ])
  const os = dice.pick('os', SYSTEMS[device])
  return {
    id: `demo-${number.toString(36).padStart(4, '0')}`,
    device,
    os,
    browser: dice.pick('browser', BROWSERS[os]!),
    country: dice.pick('country', COUNTRIES),
    mind: {
      eager: dice.normal('eager') + EAGERNESS[arrival.channel]!,
      skill: dice.normal('skill') - (device === 'mobile' ? 0.3 : 0),
      patience: dice.normal('patience'),
    },
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
