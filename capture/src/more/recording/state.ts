import { closestAround, hasAttribute, isConnected, localNameOf, matches } from '../../dom.ts'
import { askedStates } from './asked.ts'
import { privacy } from './privacy.ts'

/*
 * What a control shows and no attribute says. What was typed is never told but by its length; what was chosen only where
 * the level of the site, or the page itself, lets it be seen.
 */

/** Attributes in which a recording tells states of elements. */
export const STATES = [
  'checked',
  'selected',
  'value',
  'files',
  'length',
  'invalid',
  'valid',
  'undefined',
  'states',
  'range',
  'default',
] as const

/** How much stands in a field, as it may be told; given by the first part. */
export const fields = { lengthOf: (_field: HTMLElement): number => 0 }

/** Elements that the site has made itself, of which scripts can set states that no attribute tells. */
const isOwn = (tag: string) => tag.includes('-')
/** So many are looked at again and again. */
const MOST_OWN = 2000
/** Those of them that take part in forms. */
const inForms = new WeakSet<Element>()
const isControl = (tag: string) => /^(input|select|textarea|form|fieldset)$/.test(tag)
const LOOKS_TYPED = /^(text|search|email|url|tel|password|number|)$/
const SLIDES = /^(range|color)$/
const TICKS = /^(checkbox|radio)$/

/** Whether a selector holds; one that the browser does not know never does. */
export function is(element: Element, selector: string): boolean {
  try {
    return matches(element, selector)
  } catch {
    return false
  }
}

/** Whether what was chosen here may be told. */
function isTold(element: Element): boolean {
  return privacy.levelNow() !== 'hidden' || closestAround(element, '[data-trail-show]') !== null
}

/** The states of an element as attributes; none for most. */
function stateOf(element: Element, tag: string): Record<string, string> {
  const out: Record<string, string> = {}
  const set = (name: (typeof STATES)[number], value: string | number | boolean) =>
    (out[`data-trail-${name}`] = String(value))
  if (isOwn(tag)) {
    if (!matches(element, ':defined')) set('undefined', '')
    else {
      const held = [...askedStates].filter((name) => is(element, `:state(${name})`))
      const invalid = matches(element, ':invalid')
      if (invalid || matches(element, ':valid')) inForms.add(element)
      // Asked last: it goes through all that the element lies in.
      if ((!held.length && !invalid) || privacy.isStructureOnly(element)) return out
      if (held.length && isTold(element)) set('states', held.join(' '))
      if (invalid) set('invalid', '')
    }
    return out
  }
  const isOption = tag === 'option' && hasAttribute(element, 'selected')
  if ((!isControl(tag) && !isOption) || privacy.isStructureOnly(element)) return out
  const told = isTold(element)
  // Chosen from the start, which an attribute says that is not told itself.
  if (isOption) {
    if (told) set('default', '')
    return out
  }
  if (tag === 'input') {
    const input = element as HTMLInputElement
    const { type } = input
    if (TICKS.test(type)) {
      if (told) set('checked', input.indeterminate ? 'mixed' : input.checked)
      if (told && input.defaultChecked) set('default', '')
    } else if (SLIDES.test(type)) {
      if (told) set('value', input.value)
    } else if (type === 'file') {
      if (told && input.files?.length) set('files', input.files.length)
    } else if (LOOKS_TYPED.test(type) && input.value) set('length', fields.lengthOf(input))
  } else if (tag === 'select') {
    const select = element as HTMLSelectElement
    if (told) {
      const chosen: number[] = []
      const { options } = select
      for (let k = 0; k < options.length; k++) if (options[k]!.selected) chosen.push(k)
      set('selected', chosen.join(','))
    }
  } else if (tag === 'textarea') {
    if ((element as HTMLTextAreaElement).value) set('length', fields.lengthOf(element as HTMLElement))
  }
  if (matches(element, ':out-of-range')) set('range', 'out-of')
  else if (matches(element, ':in-range')) set('range', 'in')
  if (matches(element, ':invalid')) set('invalid', is(element, ':user-invalid') ? 'user' : '')
  else if (is(element, ':user-valid')) set('valid', 'user')
  return out
}

/** Controls of the recorded page, with the states that were written last. */
const controls = new Map<Element, Record<string, string>>()
let ownControls = 0

export function writeState(element: Element, tag: string): Record<string, string> {
  const state = stateOf(element, tag)
  const own = isOwn(tag)
  if (own && !controls.has(element) && ++ownControls > MOST_OWN) ownControls--
  else if (own || isControl(tag)) controls.set(element, state)
  return state
}

/** How much stands in a field has been told otherwise. */
export function noteLength(field: Element, length: number): void {
  const state = controls.get(field)
  if (state) state['data-trail-length'] = String(length)
}

type Change = [id: number, name: string, value: string | null]

/** What has changed in controls since it was written last. */
export function changedStates(numberOf: (element: Element) => number | undefined): Change[] {
  const out: Change[] = []
  for (const [element, before] of controls) {
    const id = numberOf(element)
    const tag = localNameOf(element)
    if (!id || !isConnected(element)) {
      controls.delete(element)
      if (isOwn(tag)) ownControls--
      continue
    }
    if (isOwn(tag) && !askedStates.size && !inForms.has(element)) continue
    const now = writeState(element, tag)
    for (const name of STATES) {
      const key = `data-trail-${name}`
      if (now[key] !== before[key]) out.push([id, key, now[key] ?? null])
    }
  }
  return out
}

/** How large a picture is by itself: where it cannot be shown, something empty takes its room. */
export const naturalSize = ({ naturalWidth, naturalHeight }: HTMLImageElement): string | null =>
  naturalWidth && naturalHeight ? `${naturalWidth}x${naturalHeight}` : null
