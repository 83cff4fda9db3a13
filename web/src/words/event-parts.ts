import type { EventCondition, EventValue, Kind, NumberTest, TextTest } from '@dust-trail/core'
import { CLICK_TRAITS, EFFECTS, KINDS } from '@dust-trail/core'

/** Kinds of events as people call them. */
export const KIND_WORDS: Record<Kind, string> = {
  page: 'page view',
  leave: 'end of a page view',
  click: 'click',
  input: 'field filled in',
  submit: 'form submitted',
  scroll: 'scroll',
  seen: 'element came into view',
  hide: 'tab hidden',
  show: 'tab shown again',
  out: 'pointer left at the top',
  error: 'script error',
  request: 'request',
  freeze: 'freeze',
  gesture: 'gesture',
  action: 'action sent by the site',
  signal: 'signal sent by the site',
  variant: 'variant given',
  answer: 'answer to a question',
  rest: 'pointer rested',
}

const NAMES: Partial<Record<Kind, string>> = {
  action: 'name of the action',
  gesture: 'gesture',
  signal: 'name of the signal',
  request: 'path of the request',
  error: 'message',
  variant: 'experiment',
  answer: 'question',
}
const TEXTS: Partial<Record<Kind, string>> = {
  click: 'text of the element',
  input: 'text of the field',
  submit: 'text of the form',
  seen: 'text of the element',
  variant: 'variant',
  answer: 'text of the answer',
}
const NUMBERS: Partial<Record<Kind, string>> = {
  page: 'status',
  request: 'status',
  scroll: 'depth, 0 to 1',
  input: 'characters',
  leave: 'milliseconds seen',
  freeze: 'milliseconds',
  rest: 'milliseconds',
  answer: 'score',
}
const AMOUNTS: Partial<Record<Kind, string>> = {
  page: 'milliseconds to load',
  request: 'milliseconds',
  input: 'milliseconds in the field',
  action: 'value',
}
const ON_ELEMENTS: readonly Kind[] = [
  'click',
  'input',
  'submit',
  'seen',
  'error',
  'request',
  'freeze',
  'gesture',
  'signal',
  'rest',
]

/** What of an event a part of a condition is about. */
export type PartOf =
  'page' | 'path' | 'element' | 'text' | 'name' | 'number' | 'amount' | 'property' | 'effect' | 'friction'

/** What can be asked of events of a kind, and how people call it. */
export function partsOf(kind: Kind): [PartOf, string][] {
  const named = (of: PartOf, words: string | undefined): [PartOf, string][] => (words ? [[of, words]] : [])
  return [
    ['page', 'page'],
    ['path', 'address'],
    ...named('element', ON_ELEMENTS.includes(kind) ? 'element' : undefined),
    ...named('text', TEXTS[kind]),
    ...named('name', NAMES[kind]),
    ...named('number', NUMBERS[kind]),
    ...named('amount', AMOUNTS[kind]),
    ['property', 'property'],
    ...named('effect', kind === 'click' ? 'effect' : undefined),
    ...named('friction', kind === 'click' ? 'friction' : undefined),
  ]
}

/** One part of a condition as it is being put together. */
export interface Part {
  of: PartOf
  /** of a property */
  key: string
  how: string
  value: string
}

/** How often it must have happened; "" = at all. */
export interface Often {
  how: '' | 'at least' | 'at most' | 'equal'
  times: string
}

export const TEXT_HOWS = {
  equal: 'is',
  'not equal': 'is not',
  containing: 'contains',
  'not containing': 'does not contain',
  'starting with': 'begins with',
  'ending with': 'ends with',
  matching: 'matches (* any, ? one)',
} as const
export const NUMBER_HOWS = {
  'at least': 'at least',
  'at most': 'at most',
  equal: 'is',
  'not equal': 'is not',
} as const

/** The ways in which a part can be held against a value. */
export function howsFor(of: PartOf): Record<string, string> {
  switch (of) {
    case 'effect':
    case 'friction':
      return { equal: 'is' }
    case 'number':
    case 'amount':
      return NUMBER_HOWS
    case 'property':
      return { ...TEXT_HOWS, 'at least': 'at least', 'at most': 'at most' }
    default:
      return TEXT_HOWS
  }
}

/** The values that a part can have, where these are few and always the same. */
export function fixedValues(of: PartOf): readonly string[] | undefined {
  return of === 'effect' ? EFFECTS : of === 'friction' ? CLICK_TRAITS : undefined
}

/** What to ask the data for, to suggest values. */
export function suggestionsFor({ of, key }: Part): { of: EventValue; key?: string } | undefined {
  switch (of) {
    case 'page':
    case 'path':
    case 'element':
    case 'text':
    case 'name':
      return { of }
    case 'property':
      return key ? { of: 'property value', key } : { of: 'property' }
    default:
      return undefined
  }
}

/** The condition that a kind and parts stand for; undefined while a part is not whole. */
export function eventFrom(kind: string, parts: readonly Part[]): EventCondition | undefined {
  const kindOf = KINDS.find((one) => one === kind)
  if (!kindOf) return undefined
  const each = parts.map(conditionOf)
  if (each.some((one) => one === undefined)) return undefined
  const whole = each as EventCondition[]
  const keys = whole.flatMap((one) => Object.keys(one))
  // Two parts about the same thing must both hold.
  return new Set(keys).size === keys.length
    ? whole.reduce<EventCondition>((joined, one) => ({ ...joined, ...one }), { kinds: [kindOf] })
    : { kinds: [kindOf], all: whole }
}

function conditionOf({ of, key, how, value }: Part): EventCondition | undefined {
  if (value === '') return undefined
  const number = Number(value)
  const isNumber = how === 'at least' || how === 'at most'
  const text = { is: how, to: value } as TextTest
  const numeric = { is: how, to: number } as NumberTest
  switch (of) {
    case 'number':
    case 'amount':
      return Number.isFinite(number) ? { [of]: numeric } : undefined
    case 'effect':
      return { effect: value as NonNullable<EventCondition['effect']> }
    case 'friction':
      return { friction: value as NonNullable<EventCondition['friction']> }
    case 'property':
      if (!key || (isNumber && !Number.isFinite(number))) return undefined
      // What looks like a number is one, wherever it is compared as a whole.
      return isNumber || (Number.isFinite(number) && (how === 'equal' || how === 'not equal'))
        ? { prop: { key, number: numeric } }
        : { prop: { key, text } }
    default:
      return { [of]: text }
  }
}

/** A count test; undefined = at least once. */
export function timesFrom({ how, times }: Often): NumberTest | undefined {
  const number = Number(times)
  return how && times !== '' && Number.isFinite(number) ? { is: how, to: number } : undefined
}
