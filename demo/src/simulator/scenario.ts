import type { DeviceClass } from '@dust-trail/core'
import { Dice } from './chance.ts'
import type { Mix } from './population.ts'
import { CHANNELS, INTENTS } from './population.ts'

interface Spot {
  /** path of the page, ":name" for any one part */
  page: string
  selector: string
}

interface FaultKind {
  what: string
  /** what it leaves in the data; empty where it leaves no friction signal at all */
  signals: readonly string[]
  /** where it can be; the first is its place by default */
  spots: Readonly<Record<string, Spot>>
}

/** Faults that can be switched off to learn what they cost: where each can be, and what it leaves in the data. */
export const FAULTS = {
  deadPicture: {
    what: 'a picture in a list looks clickable and is not',
    signals: ['rage click', 'dead click'],
    spots: {
      nights: { page: '/nights', selector: 'ul.nights > li.night > div.night-picture > svg' },
      hire: { page: '/hire', selector: 'ul.items > li.item > div.item-picture > svg' },
      articles: { page: '/articles', selector: 'ul.articles > li > div.article-picture > svg' },
    },
  },
  tinyArrows: {
    what: 'buttons are too small for fingers, which hit beside them',
    signals: ['rage click', 'dead click'],
    spots: {
      months: { page: '/nights', selector: 'div.month-picker' },
      gallery: { page: '/nights/:night', selector: 'div.gallery' },
    },
  },
  silentPromo: {
    what: 'a promo code in small letters is refused without a word',
    signals: ['rage click', 'dead click'],
    spots: { payment: { page: '/book/:night/payment', selector: 'button.apply' } },
  },
  scriptError: {
    what: 'a script fails when the form is sent on; only a second try gets through',
    signals: ['script error', 'dead click'],
    spots: {
      party: { page: '/book/:night/party', selector: '#party > button.button' },
      details: { page: '/book/:night/details', selector: '#details > button.button' },
      payment: { page: '/book/:night/payment', selector: '#payment > button.button' },
      hire: { page: '/hire/:item', selector: '#hire > button.button' },
    },
  },
  silentPhone: {
    what: 'phone numbers with spaces keep a form from being sent, and nothing says so',
    signals: ['rage click', 'failed submit', 'dead click'],
    spots: {
      details: { page: '/book/:night/details', selector: '#details > button.button' },
      hire: { page: '/hire/:item', selector: '#hire > button.button' },
    },
  },
  belowFold: {
    what: 'the main button lies below what most phones show',
    signals: [],
    spots: {
      hire: { page: '/hire/:item', selector: '#hire > button.button' },
      night: { page: '/nights/:night', selector: 'aside.buy > a.button' },
    },
  },
  shuttle: {
    what: 'two pages that can only be compared by going back and forth',
    signals: ['shuttle'],
    spots: {
      membership: { page: '/membership/:kind', selector: 'p.other > a' },
      hire: { page: '/hire/:item', selector: 'a.back-link' },
    },
  },
  slowPage: {
    what: 'a page that became very slow from one date on',
    signals: ['slow page'],
    spots: {
      night: { page: '/nights/:night', selector: 'body' },
      item: { page: '/hire/:item', selector: 'body' },
      nights: { page: '/nights', selector: 'body' },
    },
  },
  brokenLink: {
    what: 'a link to a page that is no longer there',
    signals: ['broken link'],
    spots: {
      winter: { page: '/winter', selector: 'div.hero-text > a.button' },
      gift: { page: '/gift', selector: 'div.hero-text > a.button' },
    },
  },
  deadEndSearch: {
    what: 'a search without results that offers no way on',
    signals: ['search without results'],
    spots: {
      book: { page: '/search', selector: 'main' },
      hire: { page: '/search', selector: 'main' },
    },
  },
  seatZone: {
    what: 'parts of a drawing look clickable and are not',
    signals: ['rage click', 'dead click'],
    spots: {
      party: { page: '/book/:night/party', selector: 'div.zone > div.zone-name' },
    },
  },
  longForm: {
    what: 'a long form that is given up at one field',
    signals: ['abandoned field'],
    spots: {
      car: { page: '/book/:night/details', selector: '#guest-car' },
      birth: { page: '/book/:night/details', selector: '#guest-birth' },
      street: { page: '/book/:night/details', selector: '#guest-street' },
    },
  },
} as const satisfies Record<string, FaultKind>
export type FaultName = keyof typeof FAULTS
export const FAULT_NAMES = Object.keys(FAULTS) as FaultName[]

/** What looks bad and costs nothing. */
export const DECOYS = {
  galleryClicks: {
    what: 'fast clicks through the gallery',
    page: '/nights/:night',
    selector: 'div.gallery > button.turn',
    signals: ['rage-like clicks'],
  },
  textClicks: {
    what: 'clicks on text while reading',
    page: 'any page with text',
    selector: 'p',
    signals: ['dead click'],
  },
  widgetError: {
    what: 'a script error of an embedded box, in one browser',
    page: '/',
    selector: 'body',
    signals: ['script error'],
  },
  stepperTaps: {
    what: 'quick tapping on the number of guests',
    page: '/book/:night/party',
    selector: 'div.stepper > button.more',
    signals: ['rage-like clicks'],
  },
  longReading: {
    what: 'long quiet reading',
    page: '/articles/:article',
    selector: 'main.article',
    signals: ['long page view'],
  },
  weatherChecks: {
    what: 'visitors who only check the weather and leave',
    page: '/',
    selector: 'section.weather',
    signals: ['quick exit'],
  },
} as const satisfies Record<
  string,
  { what: string; page: string; selector: string; signals: readonly string[] }
>
export type DecoyName = keyof typeof DECOYS
export const DECOY_NAMES = Object.keys(DECOYS) as DecoyName[]

/** Whom a fault hits; what is absent limits nothing. */
export interface Scope {
  devices?: readonly DeviceClass[]
  browsers?: readonly string[]
  channels?: readonly string[]
  /** share of the period at which it begins and ends */
  from?: number
  to?: number
}

export interface Planted {
  on: boolean
  spot: string
  /** odds of giving up over it, times this */
  strength: number
  scope: Scope
}

/** Ways in which people and troubles work besides the plain ones; each can be switched on alone. */
export const CAUSE_NAMES = ['leaving', 'traits', 'lasting', 'delay', 'around', 'letters', 'hesitant'] as const
export type CauseName = (typeof CAUSE_NAMES)[number]

/**
 * - leaving: people leave at any second, the urgent sooner
 * - traits: thoroughness, urgency and budget drive different steps
 * - lasting: who carried on in spite of a trouble is more likely to stop later
 * - delay: some who give up come back another day
 * - around: some who give up go on by another way
 * - letters: nights can be booked by letter, too
 * - hesitant: those of little money compare and waver, the thorough click about and correct what they wrote: both harmless
 */
export type Causes = Readonly<Record<CauseName, boolean>>

export interface Scenario {
  causes: Causes
  faults: Record<FaultName, Planted>
  decoys: Record<DecoyName, { on: boolean; often: number }>
  mix: Mix
}

const SCOPES: Partial<Record<FaultName, Scope>> = {
  tinyArrows: { devices: ['mobile'] },
  scriptError: { browsers: ['Firefox'] },
  belowFold: { devices: ['mobile'] },
  slowPage: { from: 0.55 },
}

/** The world as designed. */
export function designed(): Scenario {
  return {
    causes: each(CAUSE_NAMES, () => false),
    faults: each(FAULT_NAMES, (name) => ({
      on: true,
      spot: Object.keys(FAULTS[name].spots)[0]!,
      strength: 1,
      scope: SCOPES[name] ?? {},
    })),
    decoys: each(DECOY_NAMES, () => ({ on: true, often: 1 })),
    mix: {
      channels: each(CHANNELS, () => 1),
      intents: each(INTENTS, () => 1),
      phones: 0,
      phoneSkill: 0.3,
      eagerBooks: 1,
      eagerClicks: 1,
    },
  }
}

/**
 * Another world for each seed: places, scopes and strengths of the faults, and who comes, are drawn.
 *
 * @param causes  those that work besides the plain ones
 */
export function shuffled(seed: number, causes: readonly CauseName[] = []): Scenario {
  const dice = new Dice(`scenario ${seed}`)
  const factor = (name: string, spread: number) => Math.exp(spread * dice.normal(name))
  return {
    causes: each(CAUSE_NAMES, (name) => causes.includes(name)),
    faults: each(FAULT_NAMES, (name) => ({
      on: true,
      spot: dice.pick(
        `spot ${name}`,
        Object.keys(FAULTS[name].spots).map((spot) => [spot, 1] as const),
      ),
      // One in seven hardly matters, so that none can be taken for granted.
      strength: dice.chance(`hardly ${name}`, 1 / 7) ? 0.05 : factor(`strength ${name}`, 0.7),
      scope: drawnScope(dice, name),
    })),
    decoys: each(DECOY_NAMES, (name) => ({ on: true, often: factor(`often ${name}`, 0.6) })),
    mix: {
      channels: each(CHANNELS, (name) => factor(`channel ${name}`, 0.5)),
      intents: each(INTENTS, (name) => factor(`intent ${name}`, 0.35)),
      phones: 0.1 * dice.normal('phones'),
      phoneSkill: 0.3 * factor('phone skill', 0.6),
      eagerBooks: factor('eager books', 0.4),
      eagerClicks: factor('eager clicks', 0.5),
    },
  }
}

/** Everybody, or some devices, browsers, channels or days. A slow page always begins on some day. */
function drawnScope(dice: Dice, name: FaultName): Scope {
  if (name === 'slowPage') return { from: 0.2 + 0.6 * dice.roll(`from ${name}`) }
  const kind = dice.pick(`scope ${name}`, [
    ['all', 4],
    ['devices', 3],
    ['browsers', 2],
    ['channels', 2],
    ['days', 2],
  ])
  switch (kind) {
    case 'devices':
      return {
        devices: dice.pick(`devices ${name}`, [
          [['mobile'], 3],
          [['mobile', 'tablet'], 2],
          [['desktop'], 2],
        ]),
      }
    case 'browsers':
      return {
        browsers: dice.pick(`browsers ${name}`, [
          [['Firefox'], 1],
          [['Safari'], 2],
          [['Chrome'], 2],
        ]),
      }
    case 'channels':
      return {
        channels: dice.pick(
          `channels ${name}`,
          CHANNELS.map((channel) => [[channel, 'direct'], 1] as const),
        ),
      }
    case 'days': {
      const from = 0.7 * dice.roll(`from ${name}`)
      return { from, to: from + 0.3 }
    }
    default:
      return {}
  }
}

/** The same world with one fault or decoy switched off. */
export function without(scenario: Scenario, name: FaultName | DecoyName): Scenario {
  if (name in scenario.faults) {
    const fault = name as FaultName
    return {
      ...scenario,
      faults: { ...scenario.faults, [fault]: { ...scenario.faults[fault], on: false } },
    }
  }
  const decoy = name as DecoyName
  return {
    ...scenario,
    decoys: { ...scenario.decoys, [decoy]: { ...scenario.decoys[decoy], on: false } },
  }
}

function each<K extends string, V>(keys: readonly K[], value: (key: K) => V): Record<K, V> {
  return Object.fromEntries(keys.map((key) => [key, value(key)])) as Record<K, V>
}
