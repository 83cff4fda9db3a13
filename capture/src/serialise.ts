import type { RecordedNode } from '@dust-trail/core/recording'
import {
  attributesOf,
  boxOf,
  firstChildOf,
  matches,
  localNameOf,
  namespaceOf,
  nextSiblingOf,
  parentElementOf,
  rootOf,
  titleOf,
  typeOf,
  valueOf,
} from './dom.ts'
import { safeAttribute, safeCss } from './privacy/attributes.ts'
import { bullets, clean, cleanAddress, cleanTitle } from './privacy/scrubber.ts'
import {
  choiceOf,
  isBlock,
  isChoice,
  isField,
  isMask,
  isMasked,
  isShown,
  isStructureOnly,
  isTelling,
  safeText,
} from './privacy/shown.ts'

const SKIPPED = new Set(['script', 'noscript', 'template', 'base', 'object', 'embed', 'meta'])
const BUTTON = /^(button|submit|reset)$/
const SVG = 'http://www.w3.org/2000/svg'
/** Pictures of any kind: where nothing but structure leaves they are boxes. */
const PICTURE = /^(img|svg|picture|video|audio|canvas|iframe)$/
/** Of deeper trees what lies below is left out: the server takes no more. */
const DEEPEST = 500

/** Numbers for nodes: a node keeps its number as long as it lives. */
export class NodeIds {
  #last = 0
  #ids = new WeakMap<Node, number>()

  of(node: Node): number {
    let id = this.#ids.get(node)
    if (!id) this.#ids.set(node, (id = ++this.#last))
    return id
  }

  /** The number of a node that has been written; undefined for one that never was. */
  known(node: Node | null): number | undefined {
    return node ? this.#ids.get(node) : undefined
  }
}

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
  return { masked: isMasked(node), bare: isStructureOnly(node), shown: isShown(node) }
}

/** A node and all below it as data: without scripts, handlers, comments and whatever is private. Null = left out. */
export function serialise(
  node: Node,
  ids: NodeIds,
  above = aboveOf(parentElementOf(node)),
  depth = 0,
): RecordedNode | null {
  if (depth > DEEPEST) return null
  const type = typeOf(node)
  if (type === Node.TEXT_NODE)
    return {
      id: ids.of(node),
      text: above.masked || !above.shown ? bullets(valueOf(node)) : safeText(node, true),
    }
  if (type !== Node.ELEMENT_NODE) return null
  const element = node as Element
  const tag = localNameOf(element).slice(0, 100)
  if (tag === 'style' || tag === 'link') {
    const sheet = styleText(element as HTMLStyleElement)
    return sheet === undefined
      ? null
      : { id: ids.of(node), tag: 'style', c: [{ id: ids.of(sheetNode(element)), text: sheet }] }
  }
  if (SKIPPED.has(tag)) return null
  const out: RecordedNode = { id: ids.of(node), tag }
  if (namespaceOf(element) === SVG) out.svg = true
  const bare = above.bare || isMask(element)
  const shown = above.shown || isTelling(element)
  const layer = layerOf(element)
  if (layer) out.a = { [LAYER]: layer }
  const around = { bare: bare || isBlock(element), shown, choice: isChoice(element) }
  const attributes = attributesOf(element)
  for (let i = 0; i < attributes.length; i++) {
    const { name, value } = attributes[i]!
    const kept = safeAttribute(element, name, value, around)
    if (kept !== null) (out.a ??= {})[name] = kept
  }
  if (isBlock(element) || (bare && PICTURE.test(tag))) {
    asBox(out, element)
    return out
  }
  if (tag === 'input' && BUTTON.test((element as HTMLInputElement).type) && !bare)
    (out.a ??= {})['value'] = clean((element as HTMLInputElement).value, { labels: true })
  if (tag === 'iframe' || tag === 'video' || tag === 'canvas') asBox(out, element)
  if (tag === 'textarea') return out
  const inside = { masked: bare || above.masked || isField(element), bare, shown }
  for (let child = firstChildOf(element); child; child = nextSiblingOf(child)) {
    const written = serialise(child, ids, inside, depth + 1)
    if (written) (out.c ??= []).push(written)
  }
  return out
}

export const LAYER = 'data-trail-layer'

/** What a browser knows of lying above the page: a dialog that lets nothing else be used, and what popped up. */
const LAYERS = ['modal', 'popover-open'].filter((layer) => CSS.supports?.(`selector(:${layer})`))

export function layerOf(element: Element): string | null {
  return LAYERS.find((layer) => matches(element, `:${layer}`)) ?? null
}

/** Of an element leaves how much room it takes. */
function asBox(out: Extract<RecordedNode, { tag: string }>, element: Element): void {
  const { width, height } = boxOf(element)
  ;(out.a ??= {})['data-trail-box'] = `${Math.round(width)}x${Math.round(height)}`
}

/** The value of an attribute that has changed, as it may leave; null where it may not. */
export function changedAttribute(element: Element, name: string, value: string): string | null {
  const { bare, shown } = aboveOf(element)
  const choice = choiceOf(element) !== null
  // How a page marks what was chosen tells what it was.
  if (choice && /^(class|style|aria-.*|data-.*)$/.test(name)) return null
  return safeAttribute(element, name, value, { bare: bare || isBlock(element), shown, choice })
}

/** How many rules of a sheet were written down. */
const rulesOf = new WeakMap<CSSStyleSheet, number>()

/** Whether all rules of a sheet have been written down; those of a sheet of another site cannot be read at all. */
export const hasRules = (sheet: CSSStyleSheet) =>
  !rulesOf.has(sheet) || rulesOf.get(sheet) === sheet.cssRules.length

const sheetNodes = new WeakMap<Element, object>()

/** Stands for the text inside a style sheet, so that it has a number of its own. */
function sheetNode(element: Element): Node {
  let node = sheetNodes.get(element)
  if (!node) sheetNodes.set(element, (node = {}))
  return node as Node
}

/** The rules of a style or link element as text; undefined where it is neither or its rules cannot be read. */
function styleText(element: HTMLStyleElement | HTMLLinkElement): string | undefined {
  const { sheet } = element
  if (!sheet) return undefined
  try {
    let text = ''
    for (const rule of sheet.cssRules) text += `${rule.cssText}\n`
    rulesOf.set(sheet, sheet.cssRules.length)
    return safeCss(text, sheet.href ?? document.baseURI)
  } catch {
    return undefined
  }
}

export function takeSnapshot(ids: NodeIds): {
  url: string
  title: string
  width: number
  height: number
  root: RecordedNode
} {
  return {
    url: cleanAddress(location.href),
    title: cleanTitle(titleOf(document)),
    // Without the scroll bar: the width that the page was laid out in.
    width: Math.max(1, rootOf(document)!.clientWidth || innerWidth),
    height: Math.max(1, innerHeight),
    root: serialise(rootOf(document)!, ids)!,
  }
}
