import type { RecordedNode } from '@dust-trail/core/recording'
import { beDrawing, drawn, isDrawing } from './drawings.ts'
import { filesOf, NOTHING } from './files.ts'
import { setState } from './states.ts'

const SVG = 'http://www.w3.org/2000/svg'
const LEFT_OUT = new Set([
  ...['script', 'noscript', 'base', 'link', 'meta', 'applet', 'frame', 'frameset', 'portal'],
  ...['animate', 'animatemotion', 'animatetransform', 'set', 'handler', 'listener'],
])
/** Of these a box is a picture of nothing, so that it lies as theirs did. */
const PICTURES = new Set(['img', 'picture', 'svg'])
/** Shown as a picture where the file is one, else as an empty box of their size. */
const BOXES = new Set(['object', 'embed'])
/** Of these the recording has the size, since what it follows from is not in it. */
const EMPTY = new Set(['iframe', 'video', 'audio', 'select'])
/** Attributes with such a prefix say something only where their namespace is theirs. */
const SPACES: Record<string, string> = {
  xlink: 'http://www.w3.org/1999/xlink',
  xml: 'http://www.w3.org/XML/1998/namespace',
}
const MATH = 'http://www.w3.org/1998/Math/MathML'
const LEFT_OUT_ATTRIBUTE =
  /^on|^(srcdoc|srcset|action|formaction|ping|target|download|nonce|http-equiv|autofocus|autoplay|popovertarget|manifest|data|code|classid|profile|value|checked|sandbox|allow|shadowrootmode|csp|loading)$/i
/** Of an element of the site's own, which does nothing here, everything else is but a word that rules may ask for. */
const LEFT_OUT_OF_OWN = /^on|^(srcdoc|srcset|nonce|autofocus|popovertarget|shadowrootmode)$/i
/** Numbers by which something is drawn. */
const MEASURE = /^(progress|meter|li)$/
const NAME = /^[a-z][a-z0-9._-]*$/i
/** In HTML a colon is a letter like others; elsewhere what stands behind it would be the name. */
const HTML_NAME = /^[a-z][a-z0-9._:-]*$/i
/** Their names are names of the document (HTML Standard, section 3.1.5). */
const NAMING = /^(form|img|iframe|embed|object)$/i
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
  parent?: Node,
): Element | null {
  const tag = node.tag.toLowerCase()
  if (LEFT_OUT.has(tag)) return null
  // Holds the place of what is not shown.
  if (tag === 'template') return document.createElement(tag)
  const room = node.a?.['data-trail-box']
  const isPage = tag === 'iframe' && node.c?.length
  if (
    BOXES.has(tag) ||
    (room && !PICTURES.has(tag) && !EMPTY.has(tag) && tag !== 'canvas' && tag !== 'input')
  )
    return box(document, node)
  const space = node.svg ? SVG : tag === 'math' || (parent && isMath(parent)) ? MATH : undefined
  const isName = (space ? NAME : HTML_NAME).test(node.tag)
  const name = tag === 'canvas' ? 'img' : isName ? node.tag : 'div'
  const element = space ? document.createElementNS(space, name) : document.createElement(name)
  if (tag === 'canvas') beDrawing(element)
  for (const [attribute, value] of Object.entries(node.a ?? {})) setSafely(element, attribute, value)
  if (PICTURES.has(tag) || tag === 'canvas' || (EMPTY.has(tag) && !isPage)) {
    restyle(element)
    if (tag === 'img' && room) element.setAttribute('src', NOTHING)
    if (tag === 'iframe' && room) (element as HTMLElement).style.outline = '1px dashed #7f8781'
  }
  if (/^(input|textarea)$/.test(tag)) element.setAttribute('autocomplete', 'off')
  return element
}

/** Whether what lies in an element is part of a formula. */
function isMath(parent: Node): boolean {
  return (
    (parent as Element).namespaceURI === MATH &&
    !/^(mi|mo|mn|ms|mtext|annotation-xml)$/.test((parent as Element).localName)
  )
}

/** Sets a recorded attribute if it can do no harm; null takes it away. */
export function setSafely(element: Element, name: string, value: string | null): void {
  if (leftOutOf(element).test(name) && !isOwnValue(element, name)) return
  // What a page is asked for would be found there in place of the browser's own.
  if (name.toLowerCase() === 'name' && NAMING.test(element.localName)) return
  if (!ATTRIBUTE_NAME.test(name) || drawn(element, name.toLowerCase(), value)) return
  const plain = name.toLowerCase()
  const kept =
    value === null
      ? null
      : /^(id|name)$/.test(plain)
        ? unhiding(element, value)
        : safeValue(element, plain, value)
  const space = SPACES[/^[a-z]+(?=:)/.exec(plain)?.[0] ?? '']
  if (kept === null) {
    if (value === null) element.removeAttribute(name)
  } else if (space) element.setAttributeNS(space, plain, kept)
  else element.setAttribute(name, kept)
  if (/^(style|data-trail-(box|animated|scheme|layout))$/.test(plain))
    restyle(element, plain === 'style' ? filesOf(element.ownerDocument).inRules(value ?? '') : undefined)
  else if (plain === 'data-trail-natural') setRoom(element)
  else if (plain === 'src' || plain === 'data-trail-density') setDensity(element)
  else if (plain.startsWith('data-trail-')) setState(element, plain.slice('data-trail-'.length), value)
}

/** A form shows its fields under their names, in place of what it can do itself (HTML Standard, section 4.10.3). */
const HIDING =
  /^(node(Type|Value)|parent(Node|Element)|ownerDocument|localName|isConnected|(set|get|remove|has)Attribute(NS)?|replaceChildren|insertBefore|append|removeChild|childNodes|attributes|querySelector(All)?|textContent|shadowRoot|attachShadow|matches|cloneNode|outerHTML|getHTML|scrollTo|namespaceURI|getRootNode|show(Modal|Popover))$/
const FIELD = /^(button|fieldset|img|input|output|select|textarea)$/
const unhiding = ({ localName }: Element, name: string) =>
  FIELD.test(localName) && HIDING.test(name) ? `${name}-` : name

/** A picture for a screen of more than one dot to a px takes less room than it has dots. */
function setDensity(element: Element): void {
  const src = element.getAttribute('src') ?? sources.get(element)
  const density = Number(element.getAttribute('data-trail-density'))
  if (!src) return
  if (density > 0 && !empty.has(element) && /^(https?|data):.*[^\s,]$/.test(src)) {
    // Beside an address without a density it would be one of two to choose from.
    sources.set(element, src)
    element.removeAttribute('src')
    element.setAttribute('srcset', `${src} ${density}x`)
  } else {
    element.setAttribute('src', src)
    element.removeAttribute('srcset')
  }
}
const sources = new WeakMap<Element, string>()

/** Pictures that cannot be shown. */
const empty = new WeakSet<Element>()
/** One that cannot be shown takes as much room as it did. */
function setRoom(element: Element): void {
  if (empty.has(element)) element.setAttribute('src', emptyPicture(element))
}

function emptyPicture(element: Element): string {
  const [width, height] = (element.getAttribute('data-trail-natural') ?? '').split('x').map(Number)
  if (!width || !height) return NOTHING
  return `data:image/svg+xml,${encodeURIComponent(`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><path d="M0 0h${width}v${height}H0z" fill="#7f8781" fill-opacity=".15"/></svg>`)}`
}

const ownStyles = new WeakMap<Element, string>()
/** The style of an element with what is known of it otherwise: its room, where a script moved it. */
function restyle(element: Element, own?: string): void {
  if (own !== undefined) ownStyles.set(element, own)
  const style = ownStyles.get(element) ?? ''
  const more: string[] = []
  const told = (name: string) => element.getAttribute(`data-trail-${name}`) ?? ''
  const [width, height] = told('box').split('x').map(Number)
  if (width && height && !isDrawing(element))
    more.push(`box-sizing: border-box; width: ${width}px; height: ${height}px`)
  for (const part of told('animated').split(';'))
    if (part.trim())
      more.push(`${filesOf(element.ownerDocument).inRules(part.replaceAll('!important', ''))} !important`)
  const layout = Number(told('layout'))
  if (layout > 0 && element.localName === 'html') more.push(`width: ${layout}px !important`)
  const scheme = told('scheme')
  if (/^(light|dark)$/.test(scheme)) more.push(`color-scheme: ${scheme} !important`)
  const whole = [style.trim().replace(/;$/, ''), ...more].filter(Boolean).join('; ')
  if (whole) element.setAttribute('style', whole)
  else element.removeAttribute('style')
}

const PICTURE = /^(https?:|data:image\/)/i

function safeValue(element: Element, name: string, value: string): string | null {
  // Addresses lead nowhere; a link keeps one only so that it looks like a link.
  if (name === 'href' || name === 'xlink:href') {
    if (/^(image|feimage)$/i.test(element.localName)) return pictureAt(element, value) ?? null
    return value.startsWith('#') ? value : '#'
  }
  if (name === 'background' && !element.localName.includes('-'))
    return /^(body|table|t[rdh])$/.test(element.localName) ? (pictureAt(element, value) ?? null) : null
  if (name === 'poster') return element.localName === 'video' ? (pictureAt(element, value) ?? null) : null
  if (name === 'src') {
    if (!/^(img|input)$/.test(element.localName) || !PICTURE.test(value)) return null
    const picture = pictureAt(element, value)
    if (picture === undefined) empty.add(element)
    else empty.delete(element)
    return picture ?? emptyPicture(element)
  }
  if (/^\s*(javascript|vbscript|data:text\/html)/i.test(value)) return null
  if (name === 'style') return filesOf(element.ownerDocument).inRules(value)
  return value
}

const pictureAt = (element: Element, address: string) =>
  PICTURE.test(address) ? filesOf(element.ownerDocument).at(address) : undefined

function leftOutOf({ localName }: Element): RegExp {
  return localName.includes('-') ? LEFT_OUT_OF_OWN : LEFT_OUT_ATTRIBUTE
}

function isOwnValue(element: Element, name: string): boolean {
  if (name === 'checked') return element.localName !== 'input'
  return (
    name === 'value' &&
    (MEASURE.test(element.localName) ||
      (element.localName === 'input' && /^(button|submit|reset)$/i.test(element.getAttribute('type') ?? '')))
  )
}

function box(document: Document, node: Extract<RecordedNode, { tag: string }>): Element {
  // What shows a file lies in a line of text, as pictures do.
  const isFile = BOXES.has(node.tag.toLowerCase())
  const element = document.createElement(isFile ? 'img' : 'div')
  for (const name of ['class', 'id', 'style']) {
    const value = node.a?.[name]
    if (value !== undefined && name !== 'style') element.setAttribute(name, unhiding(element, value))
  }
  if (node.a?.['data-trail-box']) element.setAttribute('data-trail-box', node.a['data-trail-box'])
  const picture = pictureAt(element, node.a?.['src'] ?? '')
  if (isFile) element.setAttribute('src', picture ?? NOTHING)
  const edge = picture ? '' : '; outline: 1px dashed #7f8781'
  restyle(element, `${filesOf(document).inRules(node.a?.['style'] ?? '')}${edge}`)
  return element
}
