/*
 * The browser's own functions, taken when the script starts. A page may call a form field `closest` or `localName`, which
 * hides the form's own, or put something else in their place: what the page has is never trusted.
 */

type Getter<N, V> = (node: N) => V

function getter<N, V>(prototype: object, name: string): Getter<N, V> {
  const read = Object.getOwnPropertyDescriptor(prototype, name)?.get
  // A browser that has it elsewhere gives it as any other property.
  return (node) => (read ? read.call(node) : (node as Record<string, unknown>)[name]) as V
}

export function method<N, A extends unknown[], R>(
  prototype: object,
  name: string,
): (node: N, ...given: A) => R {
  const call = (prototype as Record<string, (...given: A) => R>)[name]!
  return (node, ...given) => call.apply(node, given)
}

export const localNameOf = getter<Element, string>(Element.prototype, 'localName')
export const namespaceOf = getter<Element, string | null>(Element.prototype, 'namespaceURI')
export const attributesOf = getter<Element, NamedNodeMap>(Element.prototype, 'attributes')
export const previousOf = getter<Element, Element | null>(Element.prototype, 'previousElementSibling')
export const nextOf = getter<Element, Element | null>(Element.prototype, 'nextElementSibling')
export const typeOf = getter<Node, number>(Node.prototype, 'nodeType')
/** The text of a text node. */
export const valueOf = getter<Node, string>(CharacterData.prototype, 'data')
export const textOf = getter<Node, string | null>(Node.prototype, 'textContent')
export const parentOf = getter<Node, Node | null>(Node.prototype, 'parentNode')
export const parentElementOf = getter<Node, Element | null>(Node.prototype, 'parentElement')
export const firstChildOf = getter<Node, Node | null>(Node.prototype, 'firstChild')
export const nextSiblingOf = getter<Node, Node | null>(Node.prototype, 'nextSibling')
export const pageOf = getter<Node, Document | null>(Node.prototype, 'ownerDocument')
export const baseOf = getter<Node, string>(Node.prototype, 'baseURI')
export const isConnected = getter<Node, boolean>(Node.prototype, 'isConnected')
/** What a tree hangs on: a shadow tree on its host, a page in a frame on the frame. */
export function outsideOf(root: Node): Element | null {
  if (root === document || typeOf(root) === Node.ELEMENT_NODE) return null
  const { host, defaultView } = root as { host?: Element; defaultView?: Window | null }
  return host ?? defaultView?.frameElement ?? null
}

/** A window with functions of its own. */
export type Realm = Window & typeof globalThis

/** The window of a page in a frame; null for all else. */
export const realmOf = (root: Node): Realm | null =>
  root === document ? null : ((root as Partial<Document>).defaultView ?? null)

/** The element a node lies in, out of shadow trees and frames too. */
export function aroundOf(node: Node): Element | null {
  const parent = parentOf(node)
  return parent && (typeOf(parent) === Node.ELEMENT_NODE ? (parent as Element) : outsideOf(parent))
}

export const rootOf = getter<Document, HTMLElement | null>(Document.prototype, 'documentElement')
export const headOf = getter<Document, HTMLHeadElement | null>(Document.prototype, 'head')
export const bodyOf = getter<Document, HTMLElement | null>(Document.prototype, 'body')
export const mediaOf = getter<StyleSheet, MediaList>(window.StyleSheet?.prototype ?? {}, 'media')
export const slotOf = getter<Element, HTMLSlotElement | null>(Element.prototype, 'assignedSlot')
export const titleOf = getter<Document, string>(Document.prototype, 'title')

export const attributeOf = method<Element, [string], string | null>(Element.prototype, 'getAttribute')
export const hasAttribute = method<Element, [string], boolean>(Element.prototype, 'hasAttribute')
export const closestTo = method<Element, [string], Element | null>(Element.prototype, 'closest')
export const rootNodeOf = method<Node, [], Node>(Node.prototype, 'getRootNode')
/** The nearest such element around a node, out of shadow trees and frames too. */
export function closestAround(node: Element, selector: string): Element | null {
  let found: Element | null = null
  for (let at: Element | null = node; at && !found; at = outsideOf(rootNodeOf(at)))
    found = closestTo(at, selector)
  return found
}
export const matches = method<Element, [string], boolean>(Element.prototype, 'matches')
export const boxOf = method<Element, [], DOMRect>(Element.prototype, 'getBoundingClientRect')

/** JSON, the network and timers as they were when the script started. */
const stringify: (value: unknown) => string = JSON.stringify.bind(JSON)
/** As JSON says it, also where a page has arrays say something else (old libraries did). */
export function toJson(value: unknown): string {
  const told = [Array.prototype, Object.prototype].filter((owner) => 'toJSON' in owner) as {
    toJSON?: unknown
  }[]
  if (!told.length) return stringify(value)
  const held = told.map(({ toJSON }) => toJSON)
  for (const owner of told) delete owner.toJSON
  try {
    return stringify(value)
  } finally {
    told.forEach((owner, k) => (owner.toJSON = held[k]))
  }
}
export const send: typeof fetch = window.fetch.bind(window)
export const beacon = navigator.sendBeacon?.bind(navigator) as Navigator['sendBeacon'] | undefined
const Packer = window.CompressionStream as typeof CompressionStream | undefined
const Answer = window.Response
const Bytes = window.Blob
/** The text packed as gzip (RFC 1952), away from the page's thread; undefined where the browser cannot. */
export async function packed(text: string): Promise<ArrayBuffer | undefined> {
  if (!Packer) return undefined
  try {
    return await new Answer(new Bytes([text]).stream().pipeThrough(new Packer('gzip'))).arrayBuffer()
  } catch {
    return undefined
  }
}
const setTimer = window.setTimeout.bind(window)
/** Does something later; a mistake of ours never reaches the page. */
export const later = (work: () => void, ms?: number) => setTimer(quiet(work), ms)

/** The same work, whose mistakes nobody hears of: the visitor's page matters more than what we would have learnt. */
export function quiet<A extends unknown[]>(work: (...given: A) => void): (...given: A) => void {
  return (...given) => {
    try {
      work(...given)
    } catch {
      // Said above.
    }
  }
}
/** Puts a function in the place of the browser's own; where the page lets nobody, that one stays. */
export const replace = quiet((owner: object, name: string, by: unknown) => {
  ;(owner as Record<string, unknown>)[name] = by
})
/** The same for a property. */
export const redefine = quiet((owner: object, name: string, property: PropertyDescriptor) => {
  Object.defineProperty(owner, name, property)
})
export const now: () => number = Date.now.bind(Date)
