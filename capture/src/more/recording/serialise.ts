import type { RecordedNode, Snapshot } from '@dust-trail/core/recording'
import { ASKED } from '@dust-trail/core/recording'
import {
  aroundOf,
  attributeOf,
  attributesOf,
  baseOf,
  bodyOf,
  boxOf,
  firstChildOf,
  hasAttribute,
  matches,
  localNameOf,
  namespaceOf,
  nextSiblingOf,
  pageOf,
  parentElementOf,
  rootOf,
  titleOf,
  typeOf,
  valueOf,
} from '../../dom.ts'
import { shadowOf } from '../shadows.ts'
import { heldKeys } from './asked.ts'
import { safeAttribute, safePicture } from './attributes.ts'
import { drawingValues } from './drawings.ts'
import type { NodeIds } from './nodes.ts'
import { privacy } from './privacy.ts'
import { adoptedNodes, styleNode } from './sheets.ts'
import { slotNames } from './slots.ts'
import { naturalSize, writeState } from './state.ts'

/** Nothing of them is shown. */
const SKIPPED = new Set(['script', 'noscript', 'template', 'base', 'meta', 'param', 'source', 'track'])
/** In these nobody counts elements. */
const UNCOUNTED = /^(head|picture|video|audio|object)$/

/** Elements of which nothing leaves but that they are there: rules count the elements before others. */
export const isSkipped = (node: Node) =>
  typeOf(node) === Node.ELEMENT_NODE && SKIPPED.has(localNameOf(node as Element))
const BUTTON = /^(button|submit|reset)$/
const SVG = 'http://www.w3.org/2000/svg'
/** Pictures of any kind: where nothing but structure leaves they are boxes. */
const PICTURE = /^(img|svg|picture|video|audio|canvas|iframe|object|embed)$/
/** Of these leaves how much room they take, too: what it follows from does not. */
const BOXED = /^(video|object|embed|select)$/
const EMBEDS = /^(object|embed)$/
const PICTURE_FILE = /\.(svg|png|jpe?g|gif|webp|avif)$/i
/** Of deeper trees what lies below is left out: the server takes no more. */
const DEEPEST = 500
/** Stand for the tree inside of an element and for the page inside of a frame. */
export const SHADOW = '#shadow'
export const FRAME = '#frame'

/** What holds for a node because of the elements above it. */
interface Above {
  /** text is the visitor's own, or the site asked for it to be hidden */
  masked: boolean
  /** nothing but structure leaves */
  bare: boolean
  /** text may be seen at the level of the site */
  shown: boolean
}

function aboveOf(node: Element | null): Above {
  const { isMasked, isStructureOnly, isShown } = privacy
  return { masked: isMasked(node), bare: isStructureOnly(node), shown: isShown(node) }
}

type Written = Extract<RecordedNode, { tag: string }>

/** A node and all below it as data: without scripts, handlers, comments and whatever is private. Null = left out. */
export function serialise(
  node: Node,
  ids: NodeIds,
  above = aboveOf(aroundOf(node)),
  depth = 0,
): RecordedNode | null {
  if (depth > DEEPEST) return null
  const type = typeOf(node)
  // Written out as it is in pages that are XML, which have texts of another kind.
  if (type === Node.TEXT_NODE || type === Node.CDATA_SECTION_NODE)
    return {
      id: ids.of(node),
      text: above.masked || !above.shown ? privacy.bullets(valueOf(node)) : privacy.safeText(node, true),
    }
  if (type !== Node.ELEMENT_NODE) return null
  const element = node as Element
  const tag = localNameOf(element).slice(0, 100)
  if (tag === 'style' || tag === 'link')
    return styleNode(element as HTMLStyleElement, ids) ?? placeOnly(element, ids)
  if (SKIPPED.has(tag)) return placeOnly(element, ids)
  const out: Written = { id: ids.of(node), tag }
  if (namespaceOf(element) === SVG) out.svg = true
  const bare = above.bare || privacy.isMask(element)
  const isBox = privacy.isBlock(element)
  const shown = above.shown || privacy.isTelling(element)
  const layer = layerOf(element)
  if (layer) out.a = { [LAYER]: layer }
  const inside = { masked: bare || above.masked || privacy.isField(element), bare, shown }
  const c: RecordedNode[] = []
  // Before its own attributes: the rules inside say which of them matter.
  const shadow = isBox || (bare && PICTURE.test(tag)) ? null : shadowOf(element)
  if (shadow) c.push(shadowNode(shadow, ids, inside, depth + 1))
  const around = { bare: bare || isBox, shown, choice: privacy.isChoice(element) }
  const attributes = attributesOf(element)
  for (let i = 0; i < attributes.length; i++) {
    const { name, value } = attributes[i]!
    const kept = safeAttribute(element, name, value, around)
    if (kept !== null) (out.a ??= {})[name] = kept
  }
  if (isBox || (bare && PICTURE.test(tag))) {
    asBox(out, element)
    return out
  }
  const held = bare ? undefined : heldKeys.get(element)
  if (held) (out.a ??= {})[ASKED] = held
  if (tag === 'html') Object.assign((out.a ??= {}), modeOf(element))
  if (
    tag === 'input' &&
    BUTTON.test((element as HTMLInputElement).type) &&
    !bare &&
    (element as HTMLInputElement).value
  )
    (out.a ??= {})['value'] = privacy.clean((element as HTMLInputElement).value, { labels: true })
  const isInstead = tag === 'object' && showsInside(element)
  if (isInstead) out.tag = 'span'
  else if (BOXED.test(tag) || (tag === 'input' && isNumber(element))) asBox(out, element)
  const shownThere =
    !isInstead && EMBEDS.test(tag) && pictureThere(element as HTMLObjectElement & HTMLEmbedElement)
  if (shownThere) out.a!['src'] = shownThere
  Object.assign((out.a ??= {}), slotNames(element, ids), writeState(element, tag))
  if (out.svg) Object.assign(out.a, drawingValues(element))
  const natural = tag === 'img' && !bare && naturalSize(element as HTMLImageElement)
  if (natural) out.a['data-trail-natural'] = natural
  if (!Object.keys(out.a).length) delete out.a
  if (tag === 'textarea') return out
  const page = tag === 'iframe' && pageIn(element as HTMLIFrameElement)
  const frame = page && frameNode(page, ids, inside, depth + 1)
  if (frame) c.push(frame)
  else if (tag === 'iframe') asBox(out, element)
  if (!PICTURE.test(tag) || tag === 'svg' || tag === 'picture' || isInstead)
    writeChildren(element, ids, inside, depth, c)
  if (c.length) out.c = c
  return out
}

function writeChildren(parent: Node, ids: NodeIds, above: Above, depth: number, into: RecordedNode[]): void {
  for (let child = firstChildOf(parent); child; child = nextSiblingOf(child)) {
    const written = serialise(child, ids, above, depth + 1)
    if (written) into.push(written)
  }
}

/** Of an element that is not shown: that it is there, where rules may count it. */
function placeOnly(element: Element, ids: NodeIds): RecordedNode | null {
  const around = parentElementOf(element)
  return around && UNCOUNTED.test(localNameOf(around)) ? null : { id: ids.of(element), tag: 'template' }
}

/** The tree inside of an element, with the sheets that it uses. */
function shadowNode(root: ShadowRoot, ids: NodeIds, above: Above, depth: number): RecordedNode {
  ids.met(root)
  const adopted = adoptedNodes(root, ids)
  const c: RecordedNode[] = []
  const out = { id: ids.of(root), tag: SHADOW, c }
  writeChildren(root, ids, above, depth, c)
  c.push(...adopted)
  return out
}

/** The tree inside of an element that has been written without it. */
export const lateShadow = (root: ShadowRoot, ids: NodeIds) => shadowNode(root, ids, aboveOf(root.host), 0)

/** The page in a frame of the same site; null for others. */
export function pageIn(frame: HTMLIFrameElement): Document | null {
  try {
    const page = frame.contentDocument
    return page && rootOf(page) ? page : null
  } catch {
    return null
  }
}

function frameNode(page: Document, ids: NodeIds, above: Above, depth: number): RecordedNode | null {
  ids.met(page)
  const written = serialise(rootOf(page)!, ids, above, depth + 1)
  if (!written) return null
  const root = 'tag' in written && written.tag !== 'html' ? around(written, ids) : written
  const adopted = 'c' in root && bodyOf(page) ? adoptedNodes(page, ids) : []
  if ('tag' in root) {
    root.c = [...(root.c ?? []), ...adopted]
  }
  return { id: ids.of(page), tag: FRAME, c: [root] }
}

/** A drawing that is a page of its own, in a page that shows nothing else. */
function around(drawing: RecordedNode, ids: NodeIds): RecordedNode {
  const style = 'height: 100%; margin: 0; overflow: hidden; line-height: 0'
  const body = { id: ids.of({}), tag: 'body', a: { style }, c: [drawing] }
  return { id: ids.of({}), tag: 'html', a: { style: 'height: 100%' }, c: [body] }
}

/** The page that a frame has now. */
export const lateFrame = (page: Document, frame: Element, ids: NodeIds) =>
  frameNode(page, ids, aboveOf(frame), 0)

/** Document types of pages that are laid out nearly as standards say (HTML Standard, section 13.2.6.4.1). */
const LIMITED = /^-\/\/W3C\/\/DTD (XHTML 1\.0|HTML 4\.01) (Transitional|Frameset)\/\//i

/** A page without a document type is laid out as browsers did before there were standards. */
function modeOf(html: Element): Record<string, string> | undefined {
  const page = pageOf(html)
  if (page?.compatMode === 'BackCompat') return { 'data-trail-mode': 'quirks' }
  return LIMITED.test(page?.doctype?.publicId ?? '') ? { 'data-trail-mode': 'limited' } : undefined
}

export const LAYER = 'data-trail-layer'

/** What a browser knows of lying above the page: a dialog that lets nothing else be used, and what popped up. */
const LAYERS = ['modal', 'popover-open', 'fullscreen'].filter((layer) =>
  window.CSS?.supports?.(`selector(:${layer})`),
)

export function layerOf(element: Element): string | null {
  return LAYERS.find((layer) => matches(element, `:${layer}`)) ?? null
}

/** How much room an element takes where nothing makes it larger or smaller. */
export function roomOf(element: Element): string {
  let { width, height } = boxOf(element)
  const { offsetWidth, offsetHeight } = element as HTMLElement
  if (Math.abs(width - offsetWidth) >= 1 || Math.abs(height - offsetHeight) >= 1) {
    width = offsetWidth
    height = offsetHeight
  }
  return `${Math.round(width * 100) / 100}x${Math.round(height * 100) / 100}`
}

/** A field as wide as the largest number that it takes, however many digits stand in it. */
export function isNumber(element: Element): boolean {
  return (
    (element as HTMLInputElement).type === 'number' &&
    (hasAttribute(element, 'min') || hasAttribute(element, 'max')) &&
    getComputedStyle(element).getPropertyValue('field-sizing') !== 'content'
  )
}

/** Whether an element for whatever kind of file shows what stands in it: it cannot show the file. */
function showsInside(element: Element): boolean {
  const range = document.createRange()
  range.selectNodeContents(element)
  return range.getClientRects().length > 0
}

/** The picture that an element for whatever kind of file shows; "" where it is something else. */
function pictureThere(element: HTMLObjectElement & HTMLEmbedElement): string {
  const address = attributeOf(element, 'data') ?? attributeOf(element, 'src') ?? ''
  const isPicture =
    /^image\//.test(attributeOf(element, 'type') ?? '') || PICTURE_FILE.test(address.split(/[?#]/)[0]!)
  return isPicture ? safePicture(address, baseOf(element)) : ''
}

/** Of an element leaves how much room it takes. */
function asBox(out: Written, element: Element): void {
  ;(out.a ??= {})['data-trail-box'] = roomOf(element)
}

/** The value of an attribute that has changed, as it may leave; null where it may not. */
export function changedAttribute(element: Element, name: string, value: string): string | null {
  const { bare, shown } = aboveOf(element)
  const choice = privacy.choiceOf(element) !== null
  // How a page marks what was chosen tells what it was.
  if (choice && /^(class|style|checked|selected|aria-.*|data-.*)$/.test(name)) return null
  return safeAttribute(element, name, value, {
    bare: bare || privacy.isBlock(element),
    shown,
    choice,
    changed: true,
  })
}

/** How much of a page is seen, px, and how wide it was laid out where that is something else. */
export interface View {
  w: number
  h: number
  layout: string | null
}

/** Whether this device has shown a page smaller than it is: none with a scroll bar beside the page does. */
let wasShrunk = false
/** A page that is too wide by so little is not worth it. */
const BAR = 24
export const LAYOUT = 'data-trail-layout'

/**
 * How much of the page can be seen at once. It is as wide as what it was laid out in, the scroll bar left out; but a phone
 * shows a page that is too wide for it smaller, and then `layout` says in how many px it was laid out.
 */
export function viewNow(): View {
  const laid = rootOf(document)?.clientWidth || innerWidth
  // Once: somebody may look at a part of it more closely.
  wasShrunk ||= (window.visualViewport?.scale ?? 1) < 0.99
  const isSmaller = wasShrunk && innerWidth - laid > BAR
  return {
    w: Math.max(1, isSmaller ? innerWidth : laid),
    h: Math.max(1, innerHeight),
    layout: isSmaller ? String(laid) : null,
  }
}

export function takeSnapshot(ids: NodeIds, { w, h, layout }: View = viewNow()): Snapshot {
  const html = rootOf(document)!
  const root = serialise(html, ids) as Written
  const adopted = adoptedNodes(document, ids)
  const head = root.c?.find((node): node is Written => 'tag' in node && node.tag === 'head')
  if (head && adopted.length) (head.c ??= []).push(...adopted)
  root.a = { ...root.a, ...schemeOf(html), ...(layout !== null && { [LAYOUT]: layout }) }
  return {
    url: privacy.cleanAddress(location.href),
    title: privacy.cleanTitle(titleOf(document)),
    width: w,
    height: h,
    root,
  }
}

/** Which of a page's two looks the visitor saw: that of whoever watches may be the other. */
function schemeOf(html: Element): Record<string, string> {
  const meta = document.querySelector('meta[name=color-scheme]')?.getAttribute('content') ?? ''
  const scheme = `${getComputedStyle(html).colorScheme} ${meta}`
  const dark =
    /\bdark\b/.test(scheme) &&
    (!/\blight\b/.test(scheme) || matchMedia('(prefers-color-scheme: dark)').matches)
  return dark
    ? { 'data-trail-scheme': 'dark' }
    : /\b(light|dark)\b/.test(scheme)
      ? { 'data-trail-scheme': 'light' }
      : {}
}
