import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core/recording'
import { DOCUMENT_ID } from '@dust-trail/core/recording'
import { LAYER, setLayer } from './layers.ts'
import { safeElement, setSafely } from './safe-node.ts'

/** Deepest tree, and most nodes, that are rebuilt: what is beyond is skipped. */
const DEEPEST = 512
const MOST_NODES = 200_000
/** Most elements that are put above a page at once. */
const MOST_LAYERS = 50

/**
 * A recorded page, standing again in a frame and following its recording step by step. A recording may come from anywhere
 * and be made to stop whoever shows it: what cannot be done is skipped and counted.
 */
export class Rebuilt {
  #nodes = new Map<number, Node>()
  /** steps and nodes that were skipped since the page was shown */
  skipped = 0

  /** @param document  of a frame made by createFrame */
  constructor(private readonly document: Document) {}

  /** Puts the page as it was at the beginning in place of whatever stood there. */
  show(snapshot: Snapshot): void {
    this.#nodes.clear()
    this.skipped = 0
    const { document } = this
    const policy = document.head?.querySelector('meta[http-equiv="Content-Security-Policy"]')
    const html = document.documentElement
    for (const { name } of [...html.attributes]) html.removeAttribute(name)
    html.replaceChildren()
    if (!('tag' in snapshot.root)) return
    this.#nodes.set(snapshot.root.id, html)
    for (const [name, value] of Object.entries(snapshot.root.a ?? {}))
      this.#try(() => setSafely(html, name, value))
    this.#fill(html, snapshot.root.c ?? [], 1)
    // Removing the element would not lift the policy; keeping it lets anyone see that it is there.
    if (policy) (document.head ?? html).prepend(policy)
    this.#raise(html)
  }

  /** Does what the visitor's page did. */
  apply(item: RecordItem): void {
    if (item.k === 'change') this.#change(item)
    else if (item.k === 'scroll') this.#try(() => this.#scroll(item))
    else if (item.k === 'input')
      this.#try(() => {
        const field = this.#nodes.get(item.id) as HTMLInputElement | undefined
        // A field shows how much was typed, never what; of files it shows nothing, and takes nothing.
        if (!field || !('value' in field) || field.localName === 'select' || field.type === 'file') return
        field.value = '•'.repeat(Math.min(item.length, 200))
      })
  }

  nodeOf(id: number): Node | undefined {
    return this.#nodes.get(id)
  }

  /** Does one step; where it cannot be done it is counted. */
  #try(step: () => void): void {
    try {
      step()
    } catch {
      this.skipped++
    }
  }

  #make(recorded: RecordedNode, depth: number): Node | null {
    if (depth > DEEPEST || this.#nodes.size >= MOST_NODES) {
      this.skipped++
      return null
    }
    this.#leavePlace(recorded.id)
    if ('text' in recorded) {
      const text = this.document.createTextNode(recorded.text)
      this.#nodes.set(recorded.id, text)
      return text
    }
    const element = safeElement(this.document, recorded)
    if (!element) return null
    this.#nodes.set(recorded.id, element)
    this.#fill(element, recorded.c ?? [], depth + 1)
    return element
  }

  /** A node that comes anew elsewhere, as when the page put it into another element, is no longer where it was. */
  #leavePlace(id: number): void {
    const before = this.#nodes.get(id)
    if (before && before !== this.document.documentElement) before.parentNode?.removeChild(before)
  }

  #fill(parent: Element, children: readonly RecordedNode[], depth: number): void {
    for (const child of children)
      this.#try(() => {
        const node = this.#make(child, depth)
        if (node) parent.append(node)
      })
  }

  #change(item: Extract<RecordItem, { k: 'change' }>): void {
    const { documentElement } = this.document
    for (const id of item.gone ?? [])
      this.#try(() => {
        const node = this.#nodes.get(id)
        // Without its root there is no page any more.
        if (node === documentElement) throw new Error('the root stays')
        node?.parentNode?.removeChild(node)
        this.#nodes.delete(id)
      })
    for (const [parentId, beforeId, recorded] of item.add ?? [])
      this.#try(() => {
        const parent = this.#nodes.get(parentId)
        if (!parent) return
        if (parent.nodeType !== 1) throw new Error('only elements have children')
        const node = this.#make(recorded, depthOf(parent) + 1)
        const before = beforeId ? this.#nodes.get(beforeId) : undefined
        if (!node) return
        parent.insertBefore(node, before?.parentNode === parent ? before : null)
        if (node.nodeType === 1) this.#raise(node as Element)
      })
    for (const [id, name, value] of item.attr ?? [])
      this.#try(() => {
        const element = this.#nodes.get(id)
        if (element?.nodeType !== 1) return
        if (name === LAYER) setLayer(element as Element, value)
        else setSafely(element as Element, name, value)
      })
    for (const [id, text] of item.text ?? [])
      this.#try(() => {
        const node = this.#nodes.get(id)
        if (node?.nodeType === 3) node.nodeValue = text
      })
  }

  /** Puts what lies above the page there: dialogs and what popped up. */
  #raise(root: Element): void {
    for (const element of [root, ...root.querySelectorAll(`[${LAYER}]`)].slice(0, MOST_LAYERS)) {
      const layer = element.getAttribute(LAYER)
      if (layer) this.#try(() => setLayer(element, layer))
    }
  }

  #scroll(item: Extract<RecordItem, { k: 'scroll' }>): void {
    if (item.id === DOCUMENT_ID) {
      this.document.defaultView?.scrollTo(item.x, item.y)
      return
    }
    const element = this.#nodes.get(item.id)
    if (element?.nodeType === 1) (element as Element).scrollTo(item.x, item.y)
  }
}

function depthOf(node: Node): number {
  let depth = 0
  for (let above = node.parentNode; above && depth <= DEEPEST; above = above.parentNode) depth++
  return depth
}
