import { attributeOf, closestTo, hasAttribute, localNameOf, parentElementOf, valueOf } from './dom.ts'

const FIELD = 'input,textarea,select,[contenteditable=""],[contenteditable=true],[data-trail-mask]'

/** What the visitor has typed on this page, so that a page that repeats it does not give it away. */
const typed = new Map<Element, string>()

export function remember(field: Element, value: string): void {
  if (value.trim().length >= 3) typed.set(field, value.trim())
  else typed.delete(field)
}

/** True where the text under this node is the visitor's own, or the site asked for it to be hidden. */
export function isMasked(node: Element | null): boolean {
  return !!node && closestTo(node, FIELD) !== null
}

/** Whether an element of this tag holds what visitors type or choose. */
export function isField(tag: string): boolean {
  return tag === 'input' || tag === 'textarea' || tag === 'select'
}

export function bullets(text: string): string {
  return text.replaceAll(/\S/g, '•')
}

/** The text with everything that the visitor typed on this page replaced by bullets. */
export function withoutTyped(text: string): string {
  if (!typed.size) return text
  let out = text
  for (const value of typed.values()) if (out.includes(value)) out = out.replaceAll(value, bullets(value))
  return out
}

export function safeText(node: Node): string {
  const text = valueOf(node)
  return isMasked(parentElementOf(node)) ? bullets(text) : withoutTyped(text)
}

/** A label people would use for the element, never what was typed. At most 80 characters. */
export function labelOf(element: Element): string {
  if (isMasked(element)) {
    const field = element as HTMLInputElement
    if (/^(button|submit|reset)$/.test(field.type)) return field.value.slice(0, 80)
    if (hasAttribute(element, 'data-trail-mask')) return ''
    const label =
      attributeOf(element, 'aria-label') ?? field.labels?.[0]?.textContent ?? field.placeholder ?? ''
    return withoutTyped(singleSpaced(label))
  }
  const named = attributeOf(element, 'aria-label') ?? attributeOf(element, 'alt')
  return withoutTyped(singleSpaced(named ?? visibleText(element)))
}

/** The text under an element, its masked parts as bullets; reads no more than a label needs. */
function visibleText(element: Element): string {
  let text = ''
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT)
  while (text.length < 200 && walker.nextNode()) {
    const parent = parentElementOf(walker.currentNode)
    if (parent && !/^(script|style|noscript)$/.test(localNameOf(parent)))
      text += `${safeText(walker.currentNode)} `
  }
  return text
}

function singleSpaced(text: string): string {
  return text.replaceAll(/\s+/g, ' ').trim().slice(0, 80)
}

/** An address without what may be personal: of the query only campaign parameters keep their values. */
export function cleanUrl(href: string): string {
  try {
    const url = new URL(href, location.href)
    for (const [name] of [...url.searchParams]) if (!name.startsWith('utm_')) url.searchParams.set(name, '')
    url.hash = ''
    url.username = url.password = ''
    return url.href.slice(0, 2048)
  } catch {
    return ''
  }
}
