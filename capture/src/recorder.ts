import type { PointerSample, RecordItem, RecordedNode } from '@dust-trail/core'
import { DOCUMENT_ID } from '@dust-trail/core/recording'
import {
  attributeOf,
  isConnected,
  localNameOf,
  nextSiblingOf,
  parentElementOf,
  parentOf,
  rootOf,
} from './dom.ts'
import { blockOf, choiceOf, safeText } from './privacy/shown.ts'
import { changedAttribute, LAYER, layerOf, NodeIds, serialise, takeSnapshot } from './serialise.ts'
import type { Transport } from './transport.ts'

const POINTER_EVERY_MS = 40
const POINTER_BATCH = 12

/** Records the page as a tree and then whatever changes in it. */
export class Recorder {
  #ids = new NodeIds()
  #startMs = 0
  #pointer: PointerSample[] = []
  #lastPointerMs = 0
  #observer: MutationObserver

  constructor(
    private readonly transport: Transport,
    changed: () => void,
    /** the page has begun anew in the same document, as after document.open() */
    replaced: () => void,
  ) {
    this.#observer = new MutationObserver((records) => {
      changed()
      if (records.some(({ target, addedNodes }) => target === document && addedNodes.length)) replaced()
      else this.#changes(records)
    })
  }

  /** Takes the page as it is now; times count from the given instant. */
  begin(startMs: number): void {
    this.#observer.disconnect()
    this.#ids = new NodeIds()
    this.#startMs = startMs
    this.#pointer = []
    this.transport.snapshot(takeSnapshot(this.#ids))
    if (scrollX || scrollY) this.#item({ k: 'scroll', id: DOCUMENT_ID, x: scrollX, y: scrollY })
    this.#observer.observe(document, {
      subtree: true,
      childList: true,
      attributes: true,
      characterData: true,
      attributeOldValue: true,
    })
  }

  /** The number of a node that is in the recording. */
  idOf(node: object): number | undefined {
    return this.#ids.known(node as Node)
  }

  /** Records no more, until it begins anew. */
  stop(): void {
    this.#observer.disconnect()
    this.#ids = new NodeIds()
    this.#pointer = []
  }

  page(url: string, title: string): void {
    this.#item({ k: 'page', url, title })
  }

  /** @param over  what the pointer is over: where it goes among choices would tell which was made */
  pointer(x: number, y: number, over: EventTarget | null): void {
    const now = performance.now()
    if (now - this.#lastPointerMs < POINTER_EVERY_MS) return
    if (over instanceof Element && choiceOf(over)) return
    this.#lastPointerMs = now
    this.#pointer.push([this.#at(), Math.round(x), Math.round(y)])
    if (this.#pointer.length >= POINTER_BATCH) this.flushPointer()
  }

  flushPointer(): void {
    if (!this.#pointer.length) return
    this.transport.item({ at: this.#pointer[0]![0], k: 'move', p: this.#pointer })
    this.#pointer = []
  }

  click(node: Element, x: number, y: number, touch: boolean): void {
    this.flushPointer()
    this.#item({
      k: 'click',
      id: this.#ids.known(node) ?? 0,
      x: Math.round(x),
      y: Math.round(y),
      ...(touch && { touch }),
    })
  }

  scroll(target: EventTarget | null): void {
    if (target === document) this.#item({ k: 'scroll', id: DOCUMENT_ID, x: scrollX, y: scrollY })
    else if (target instanceof Element) {
      const id = this.#ids.known(target)
      if (id) this.#item({ k: 'scroll', id, x: target.scrollLeft, y: target.scrollTop })
    }
  }

  viewport(): void {
    const w = rootOf(document)?.clientWidth || innerWidth
    this.#item({ k: 'view', w: Math.max(1, w), h: Math.max(1, innerHeight) })
  }

  input(field: Element, length: number): void {
    const id = this.#ids.known(field)
    if (id) this.#item({ k: 'input', id, length })
  }

  visibility(hidden: boolean): void {
    this.flushPointer()
    this.#item({ k: hidden ? 'hide' : 'show' })
  }

  /** Writes an element anew, as when its style sheet has arrived only now. */
  refresh(element: Element): void {
    const gone: number[] = []
    const add: [number, number, RecordedNode][] = []
    this.#added(element, new Set([element]), new Set(), gone, add)
    if (add.length) this.#item({ k: 'change', ...(gone.length && { gone }), add })
  }

  /** A change that no observer tells of. */
  change(change: Omit<Extract<RecordItem, { k: 'change' }>, 'at' | 'k'>): void {
    this.#item({ k: 'change', ...change })
  }

  /** A number for a node, or for what stands for one. */
  number(node: object): number {
    return this.#ids.of(node as Node)
  }

  /** Writes down what the observer has seen but not yet reported. */
  flush(): void {
    this.flushPointer()
    this.#changes(this.#observer.takeRecords())
  }

  #changes(records: MutationRecord[]): void {
    const add: [number, number, RecordedNode][] = []
    const gone: number[] = []
    const attr: [number, string, string | null][] = []
    const text: [number, string][] = []
    const added = new Set<Node>()
    const written = new Set<Node>()
    for (const record of records) {
      const sheet = styleAround(record.target)
      if (sheet) added.add(sheet)
      else if (record.type === 'childList') {
        for (const node of record.removedNodes) {
          const id = this.#ids.known(node)
          if (id && !isConnected(node)) gone.push(id)
        }
        for (const node of record.addedNodes) added.add(node)
      } else if (record.type === 'attributes') {
        const element = record.target as Element
        const id = this.#ids.known(element)
        const name = record.attributeName!
        const value = attributeOf(element, name)
        if (!id || value === record.oldValue) continue
        if (name === 'open') attr.push([id, LAYER, layerOf(element)])
        const kept = value === null ? null : changedAttribute(element, name, value)
        if (value === null || kept !== null) attr.push([id, name, kept])
      } else {
        const id = this.#ids.known(record.target)
        if (!id) continue
        text.push([id, safeText(record.target, undefined, true)])
      }
    }
    // From the last sibling to the first, so that the node each stands before is there already.
    for (const node of [...added].reverse()) this.#added(node, added, written, gone, add)
    if (add.length || gone.length || attr.length || text.length)
      this.#item({
        k: 'change',
        ...(gone.length && { gone: [...new Set(gone)] }),
        ...(add.length && { add }),
        ...(attr.length && { attr }),
        ...(text.length && { text }),
      })
  }

  #added(
    node: Node,
    added: Set<Node>,
    written: Set<Node>,
    gone: number[],
    add: [number, number, RecordedNode][],
  ): void {
    if (written.has(node)) return
    const parent = parentOf(node)
    if (!isConnected(node) || !parent) return
    for (let above: Node | null = parent; above; above = parentOf(above)) if (added.has(above)) return
    const parentId = this.#ids.known(parent)
    if (!parentId || blockOf(parent as Element)) return
    const sibling = nextSiblingOf(node)
    if (sibling && added.has(sibling)) this.#added(sibling, added, written, gone, add)
    written.add(node)
    const before = this.#ids.known(node)
    if (before) gone.push(before)
    let next: Node | null = sibling
    while (next && !this.#ids.known(next)) next = nextSiblingOf(next)
    const tree = serialise(node, this.#ids)
    if (tree) add.push([parentId, this.#ids.known(next) ?? 0, tree])
  }

  #at(): number {
    return Math.max(0, Math.round(Date.now() - this.#startMs))
  }

  #item(item: RecordItem extends infer I ? (I extends RecordItem ? Omit<I, 'at'> : never) : never): void {
    this.transport.item({ at: this.#at(), ...item })
  }
}

/** The style element whose text changed, as its rules are recorded as a whole. */
function styleAround(node: Node): Element | null {
  const element = node instanceof Element ? node : parentElementOf(node)
  return element && localNameOf(element) === 'style' ? element : null
}
