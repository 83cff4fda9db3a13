import { eachAskedRule } from '@dust-trail/core/recording'

/** Attributes that rules ask for, with the values they ask for: words of the page. */
const asked = new Map<string, Set<string>>()
const ATTRIBUTE = /\[\s*([\w-]{1,60})\s*(?:[~|^$*]?=\s*["']?([^"'\]]{0,60}))?/g

/** States of the site's own elements that rules ask for. */
export const askedStates = new Set<string>()
const STATE = /:state\(\s*([\w-]{1,60})\s*\)/g

/** What rules ask of attributes that the recording has not as they are, by the key of each. */
export const askedRules = new Map<string, string>()
const MOST_RULES = 60
/** The keys of those that hold for an element, as they were told: one that moves is written anew with them. */
export const heldKeys = new WeakMap<Element, string>()

/** Rules of the page have come. */
export function noteAsked(text: string): void {
  if (text.includes(':state(')) for (const [, name] of text.matchAll(STATE)) askedStates.add(name!)
  eachAskedRule(text, (key, selector) => {
    if (askedRules.size < MOST_RULES) askedRules.set(key, selector)
    return ''
  })
  for (const [, name, value] of text.matchAll(ATTRIBUTE)) {
    const values = asked.get(name!) ?? new Set()
    asked.set(name!, values.add(value?.trim() ?? ''))
  }
}

/** Of an attribute what the page's rules ask for: all of it, that it is there, or nothing. */
export function askedValue(name: string, value: string): string | null {
  const values = asked.get(name)
  return values ? (values.has(value) ? value : '') : null
}
