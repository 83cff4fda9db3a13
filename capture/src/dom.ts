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

function method<N, A extends unknown[], R>(prototype: object, name: string): (node: N, ...given: A) => R {
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
export const isConnected = getter<Node, boolean>(Node.prototype, 'isConnected')
export const rootOf = getter<Document, HTMLElement | null>(Document.prototype, 'documentElement')
export const bodyOf = getter<Document, HTMLElement | null>(Document.prototype, 'body')
export const titleOf = getter<Document, string>(Document.prototype, 'title')

export const attributeOf = method<Element, [string], string | null>(Element.prototype, 'getAttribute')
export const hasAttribute = method<Element, [string], boolean>(Element.prototype, 'hasAttribute')
export const closestTo = method<Element, [string], Element | null>(Element.prototype, 'closest')
export const matches = method<Element, [string], boolean>(Element.prototype, 'matches')
export const boxOf = method<Element, [], DOMRect>(Element.prototype, 'getBoundingClientRect')

/** JSON, the network and timers as they were when the script started. */
export const toJson: (value: unknown) => string = JSON.stringify.bind(JSON)
export const send: typeof fetch = window.fetch.bind(window)
export const beacon = navigator.sendBeacon?.bind(navigator) as Navigator['sendBeacon'] | undefined
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
export const now: () => number = Date.now.bind(Date)
