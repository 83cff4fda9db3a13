import type { RecordedNode } from '@dust-trail/core/recording'

const SVG = 'http://www.w3.org/2000/svg'
const LEFT_OUT = new Set([
  ...[
    'script',
    'noscript',
    'template',
    'base',
    'link',
    'meta',
    'object',
    'embed',
    'applet',
    'frame',
    'frameset',
    'portal',
    'slot',
  ],
  ...['animate', 'animatemotion', 'animatetransform', 'set', 'handler', 'listener'],
])
/** Of these a box is a picture of nothing, so that it lies as theirs did. */
const PICTURES = new Set(['img', 'picture', 'svg'])
/** One pixel that cannot be seen. */
const NOTHING = 'data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7'
/** Shown as an empty box of their size. */
const BOXES = new Set(['iframe', 'video', 'audio', 'canvas'])
const LEFT_OUT_ATTRIBUTE =
  /^on|^(srcdoc|srcset|action|formaction|ping|target|download|nonce|http-equiv|is|autofocus|popovertarget|manifest|background|poster|data|code|classid|profile|value|checked)$/i
const NAME = /^[a-z][a-z0-9._-]*$/i
const ATTRIBUTE_NAME = /^[a-z_:@][\w.:@-]*$/i

/**
 * Makes a recorded element without its children, keeping nothing that could act: what is recorded may come from
 * anywhere and is taken for hostile, whatever capture has already left out.
 *
 * @returns null where the element is left out altogether
 */
export function safeElement(
  document: Document,
  node: Extract<RecordedNode, { tag: string }>,
): Element | null {
  const tag = node.tag.toLowerCase()
  if (LEFT_OUT.has(tag)) return null
  if (BOXES.has(tag) || (node.a?.['data-trail-box'] && !PICTURES.has(tag))) return box(document, node)
  const name = NAME.test(node.tag) ? node.tag : 'div'
  const element = node.svg ? document.createElementNS(SVG, name) : document.createElement(name)
  for (const [attribute, value] of Object.entries(node.a ?? {})) setSafely(element, attribute, value)
  if (PICTURES.has(tag)) {
    takeRoom(element, node)
    if (tag === 'img' && node.a?.['data-trail-box']) element.setAttribute('src', NOTHING)
  }
  if (element instanceof (document.defaultView ?? globalThis).HTMLElement && /^(input|textarea)$/.test(tag))
    element.setAttribute('autocomplete', 'off')
  return element
}

/** Sets a recorded attribute if it can do no harm; null takes it away. */
export function setSafely(element: Element, name: string, value: string | null): void {
  if (LEFT_OUT_ATTRIBUTE.test(name) && !isButtonLabel(element, name)) return
  if (!ATTRIBUTE_NAME.test(name)) return
  if (value === null) {
    element.removeAttribute(name)
    return
  }
  const kept = safeValue(element, name.toLowerCase(), value)
  if (kept !== null) element.setAttribute(name, kept)
}

function safeValue(element: Element, name: string, value: string): string | null {
  // Addresses lead nowhere; a link keeps one only so that it looks like a link.
  if (name === 'href' || name === 'xlink:href') return value.startsWith('#') ? value : '#'
  if (name === 'src')
    return element.localName === 'img' && /^(https?:|data:image\/)/i.test(value) ? value : null
  if (/^\s*(javascript|vbscript|data:text\/html)/i.test(value)) return null
  return value
}

function isButtonLabel(element: Element, name: string): boolean {
  return (
    name === 'value' &&
    element.localName === 'input' &&
    /^(button|submit|reset)$/i.test(element.getAttribute('type') ?? '')
  )
}

function box(document: Document, node: Extract<RecordedNode, { tag: string }>): Element {
  const element = document.createElement('div')
  for (const name of ['class', 'id', 'style']) {
    const value = node.a?.[name]
    if (value !== undefined) element.setAttribute(name, value)
  }
  takeRoom(element, node)
  element.style.outline = '1px dashed #7f8781'
  return element
}

/** Makes an element as large as it was, where only that was recorded of it. */
function takeRoom(element: HTMLElement | SVGElement, node: Extract<RecordedNode, { tag: string }>): void {
  const [width, height] = (node.a?.['data-trail-box'] ?? '').split('x').map(Number)
  if (!width || !height) return
  element.style.boxSizing = 'border-box'
  element.style.width = `${width}px`
  element.style.height = `${height}px`
}
