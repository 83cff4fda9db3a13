import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core/recording'
import { DOCUMENT_ID } from '@dust-trail/core/recording'
import { safeElement, setSafely } from './safe-node.ts'

/** A recorded page, standing again in a frame and following its recording step by step. */
export class Rebuilt {
  #nodes = new Map<number, Node>()

  /** @param document  of a frame made by createFrame */
  constructor(private readonly document: Document) {}

  /** Puts the page as it was at the beginning in place of whatever stood there. */
  show(snapshot: Snapshot): void {
    this.#nodes.clear()
    const { document } = this
    const policy = document.head?.querySelector('meta[http-equiv="Content-Security-Policy"]')
    const html = document.documentElement
    for (const { name } of [...html.attributes]) html.removeAttribute(name)
    html.replaceChildren()
    if (!('tag' in snapshot.root)) return
    this.#nodes.set(snapshot.root.id, html)
    for (const [name, value] of Object.entries(snapshot.root.a ?? {})) setSafely(html, name, value)
    for (const child of snapshot.root.c ?? []) {
      const node = this.#make(child)
      if (node) html.append(node)
    }
    // Removing the element would not lift the policy; keeping it lets anyone see that it is there.
    if (policy) (document.head ?? html).prepend(policy)
  }

  /** Does what the visitor's page did. What names nodes that are not there is passed over. */
  apply(item: RecordItem): void {
    if (item.k === 'change') this.#change(item)
    else if (item.k === 'scroll') this.#scroll(item)
    else if (item.k === 'input') {
      const field = this.#nodes.get(item.id) as HTMLInputElement | undefined
      // A field shows how much was typed, never what.
      if (field && 'value' in field && field.localName !== 'select')
        field.value = '•'.repeat(Math.min(item.length, 200))
    }
  }

  nodeOf(id: number): Node | undefined {
    return this.#nodes.get(id)
  }

  #make(recorded: RecordedNode): Node | null {
    if ('text' in recorded) {
      const text = this.document.createTextNode(recorded.text)
      this.#nodes.set(recorded.id, text)
      return text
    }
    const element = safeElement(this.document, recorded)
    if (!element) return null
    this.#nodes.set(recorded.id, element)
    for (const child of recorded.c ?? []) {
      const node = this.#make(child)
      if (node) element.append(node)
    }
    return element
  }

  #change(item: Extract<RecordItem, { k: 'change' }>): void {
    for (const id of item.gone ?? []) {
      this.#nodes.get(id)?.parentNode?.removeChild(this.#nodes.get(id)!)
      this.#nodes.delete(id)
    }
    for (const [parentId, beforeId, recorded] of item.add ?? []) {
      const parent = this.#nodes.get(parentId)
      const node = parent && this.#make(recorded)
      if (!node) continue
      const before = beforeId ? this.#nodes.get(beforeId) : undefined
      parent.insertBefore(node, before?.parentNode === parent ? before : null)
    }
    for (const [id, name, value] of item.attr ?? []) {
      const element = this.#nodes.get(id)
      if (element?.nodeType === 1) setSafely(element as Element, name, value)
    }
    for (const [id, text] of item.text ?? []) {
      const node = this.#nodes.get(id)
      if (node?.nodeType === 3) node.nodeValue = text
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
