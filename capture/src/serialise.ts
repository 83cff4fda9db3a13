import type { RecordedNode } from '@dust-trail/core/recording'
import {
  attributesOf,
  boxOf,
  firstChildOf,
  localNameOf,
  namespaceOf,
  nextSiblingOf,
  parentElementOf,
  rootOf,
  titleOf,
  typeOf,
  valueOf,
} from './dom.ts'
import { bullets, cleanUrl, isField, isMasked, withoutTyped } from './mask.ts'

const SKIPPED = new Set(['script', 'noscript', 'template', 'base', 'object', 'embed', 'meta'])
const DROPPED_ATTRIBUTE = new Set([
  ...['srcdoc', 'nonce', 'integrity', 'value', 'checked', 'srcset', 'sizes'],
  ...['action', 'formaction', 'ping', 'crossorigin'],
])
const SCRIPT_ADDRESS = /^\s*(javascript|vbscript|data:text\/html)/i
const BUTTON = /^(button|submit|reset)$/
const SVG = 'http://www.w3.org/2000/svg'
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

/**
 * A node and all below it as data: without scripts, handlers, comments and whatever was typed. Null = left out.
 *
 * @param masked  whether text here is hidden already because of an element above
 */
export function serialise(
  node: Node,
  ids: NodeIds,
  masked = isMasked(parentElementOf(node)),
  depth = 0,
): RecordedNode | null {
  if (depth > DEEPEST) return null
  const type = typeOf(node)
  if (type === Node.TEXT_NODE)
    return { id: ids.of(node), text: masked ? bullets(valueOf(node)) : withoutTyped(valueOf(node)) }
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
  const attributes = attributesOf(element)
  let hidden = masked || isField(tag)
  for (let i = 0; i < attributes.length; i++) {
    const { name, value } = attributes[i]!
    const kept = safeAttribute(element, name, value)
    if (name === 'data-trail-mask' || (name === 'contenteditable' && value !== 'false')) hidden = true
    if (kept !== null) (out.a ??= {})[name] = kept
  }
  if (tag === 'input' && BUTTON.test((element as HTMLInputElement).type))
    (out.a ??= {})['value'] = (element as HTMLInputElement).value
  if (tag === 'iframe' || tag === 'video' || tag === 'canvas') {
    const { width, height } = boxOf(element)
    ;(out.a ??= {})['data-trail-box'] = `${Math.round(width)}x${Math.round(height)}`
  }
  if (tag === 'textarea') return out
  for (let child = firstChildOf(element); child; child = nextSiblingOf(child)) {
    const written = serialise(child, ids, hidden, depth + 1)
    if (written) (out.c ??= []).push(written)
  }
  return out
}

/** The attribute's value as it may be recorded, or null where it may not. */
export function safeAttribute(element: Element, name: string, value: string): string | null {
  const plain = name.toLowerCase()
  if (
    plain.startsWith('on') ||
    DROPPED_ATTRIBUTE.has(plain) ||
    (value.includes(':') && SCRIPT_ADDRESS.test(value))
  )
    return null
  if (name === 'href' || name === 'xlink:href') return value.startsWith('#') ? value : ''
  if (name === 'src')
    return localNameOf(element) === 'img' ? absolute((element as HTMLImageElement).currentSrc || value) : null
  return withoutTyped(value)
}

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
    const base = sheet.href ?? document.baseURI
    let text = ''
    for (const rule of sheet.cssRules) text += `${rule.cssText}\n`
    return text.replaceAll(/url\(\s*(['"]?)([^'")]+)\1\s*\)/g, (_, quote: string, address: string) =>
      /^(data:|#)/.test(address) ? `url(${quote}${address}${quote})` : `url("${absolute(address, base)}")`,
    )
  } catch {
    return undefined
  }
}

function absolute(address: string, base = document.baseURI): string {
  if (address.startsWith('data:image/')) return address
  try {
    return new URL(address, base).href
  } catch {
    return ''
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
    url: cleanUrl(location.href),
    title: withoutTyped(titleOf(document)).slice(0, 2048),
    // Without the scroll bar: the width that the page was laid out in.
    width: Math.max(1, rootOf(document)!.clientWidth || innerWidth),
    height: Math.max(1, innerHeight),
    root: serialise(rootOf(document)!, ids)!,
  }
}
