import { attributeOf, closestTo, matches, quiet, textOf } from '../dom.ts'
import { watching } from '../listen.ts'
import { targetOf } from '../target.ts'
import { learnOwnWords, remember, rememberWhole } from './typed.ts'

const WRITTEN =
  'textarea,select,input:not([type=button],[type=submit],[type=reset]),[contenteditable],[role=textbox],[role=searchbox],[role=spinbutton],[role=combobox]'

/** Fields that were used, with what was last seen in them. */
const used = new Map<HTMLElement, string>()
const MOST_FIELDS = 200

/** The field that an event is about: one that is written or chosen in. */
export function fieldOf(target: EventTarget | null | undefined): HTMLElement | null {
  const element = target as HTMLElement | null | undefined
  // Of whatever window it is.
  if (element?.nodeType !== Node.ELEMENT_NODE) return null
  if (matches(element, WRITTEN)) return element
  const around = closestTo(element, WRITTEN) as HTMLElement | null
  return around && matches(around, '[contenteditable],[role]')
    ? around
    : element.isContentEditable
      ? element
      : null
}

/** What stands in a field, in the words that a page would show of it. */
export function contentOf(field: HTMLElement): string {
  const { files, options, selectedOptions } = field as HTMLInputElement & HTMLSelectElement
  if (files && matches(field, '[type=file]'))
    return [...files].map(({ name }) => `${name}\n${name.replace(/\.[^.]*$/, '')}`).join('\n')
  if (options && selectedOptions) return [...selectedOptions].map((option) => option.text).join('\n')
  return 'value' in field ? String(field.value) : (textOf(field) ?? '')
}

/** Whether the length of what is in a field tells something that may be told. */
export function isFreeText(field: HTMLElement): boolean {
  return !matches(
    field,
    'select,input[type=radio],input[type=checkbox],input[type=file],input[type=password]',
  )
}

/** Boxes and radios hold a word of the page's program, not of the visitor. */
export const isTick = (field: HTMLElement) => matches(field, 'input[type=radio],input[type=checkbox]')

function look(field: HTMLElement, left: boolean): void {
  if (isTick(field)) return
  const before = used.get(field) ?? ''
  // Of a long text what came first: it is looked at with each key.
  const now = contentOf(field).slice(0, 5000)
  if (used.size < MOST_FIELDS || used.has(field)) used.set(field, now)
  if (now === before && !left) return
  // What does not go on from what was there was not typed letter by letter.
  if (before && !now.startsWith(before) && !before.startsWith(now)) rememberWhole(before)
  if (before.length > now.length) rememberWhole(before)
  if (left || !isFreeText(field) || attributeOf(field, 'readonly') !== null) rememberWhole(now)
  else remember(now)
}

/** Looks once more at all fields: a page may show what was typed before anybody has heard that something was. */
export function lookAtFields(): void {
  for (const field of used.keys()) look(field, false)
}

/** The page goes: what stands in its fields is known on the next one. */
export function leaveFields(): void {
  for (const field of used.keys()) look(field, true)
}

/** Follows what is typed and chosen, in shadow trees and in frames of the same site as well. */
export function watchTyping(root: Window): void {
  watchTypingIn(root, root.document)
  root.addEventListener(
    'load',
    quiet(({ target }: Event) => watchFrame(target)),
    { capture: true, passive: true },
  )
  for (const frame of root.document.querySelectorAll('iframe')) watchFrame(frame)
}

/** Follows what is typed and chosen in a window, or in a shadow tree that tells nobody around it. */
export function watchTypingIn(root: EventTarget, page: Document): void {
  const hear = (left: boolean, words = false) =>
    quiet((event: Event) => {
      if (!watching.on) return
      const field = fieldOf(targetOf(event))
      if (!field) return
      if (words) learnOwnWords(textsOf(page))
      look(field, left)
    })
  const listen = (name: string, handle: (event: Event) => void) =>
    root.addEventListener(name, handle, { capture: true, passive: true })
  listen('focusin', hear(false, true))
  for (const name of ['keydown', 'beforeinput', 'input']) listen(name, hear(false))
  for (const name of ['change', 'focusout']) listen(name, hear(true))
}

const watched = new WeakSet<Document>()

function watchFrame(target: EventTarget | null): void {
  try {
    const inner = (target as HTMLIFrameElement | null)?.contentWindow
    // Of another site it is not ours to look into, and the browser says so.
    if (!inner?.document || watched.has(inner.document)) return
    watched.add(inner.document)
    watchTyping(inner)
  } catch {
    // Said above.
  }
}

/** Texts of a page that were not chosen from a list and are not its code. */
function* textsOf(document: Document): Generator<string> {
  const walker = document.createTreeWalker(document.documentElement, NodeFilter.SHOW_TEXT)
  while (walker.nextNode()) {
    const text = walker.currentNode as Text
    if (text.parentElement && !matches(text.parentElement, 'script,style,noscript,option,textarea'))
      yield text.data
  }
}
