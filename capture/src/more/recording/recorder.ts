import type { ConsoleLevel, PointerSample, RecordItem, RecordedNode, Snapshot } from '@dust-trail/core'
import { DOCUMENT_ID } from '@dust-trail/core/recording'
import {
  aroundOf,
  attributeOf,
  headOf,
  isConnected,
  later,
  localNameOf,
  nextSiblingOf,
  outsideOf,
  pageOf,
  parentOf,
  rootNodeOf,
  rootOf,
  typeOf,
} from '../../dom.ts'
import type { Recording } from '../../page.ts'
import { NodeIds } from './nodes.ts'
import type { Root } from './nodes.ts'
import { privacy } from './privacy.ts'
import {
  changedAttribute,
  LAYER,
  lateFrame,
  lateShadow,
  isSkipped,
  LAYOUT,
  layerOf,
  pageIn,
  roomOf,
  serialise,
  takeSnapshot,
  viewNow,
} from './serialise.ts'
import type { View } from './serialise.ts'
import { changedStates, noteLength } from './state.ts'

const POINTER_EVERY_MS = 40
const POINTER_BATCH = 12
const POINTER_LATEST_MS = 800
const XLINK = 'http://www.w3.org/1999/xlink'
const WHOLE = {
  subtree: true,
  childList: true,
  attributes: true,
  characterData: true,
  attributeOldValue: true,
}

/** Where a recording goes. */
export interface Sink {
  snapshot: (snapshot: Snapshot) => void
  item: (item: RecordItem) => void
}

/** What else is watched of a root while it is recorded. */
export interface Watcher {
  met: (root: Root) => void
  /** the page stands in the recording */
  begun: () => void
  /** something in it has changed */
  changed: () => void
}

/** Records the page as a tree and then whatever changes in it. */
export class Recorder implements Recording {
  #ids = new NodeIds()
  #roots: WeakRef<Root>[] = []
  #startMs = 0
  #isOn = false
  /** how much of the page was seen last */
  #view: View = { w: 0, h: 0, layout: null }
  #pointer: PointerSample[] = []
  #lastPointerMs = 0
  #rest: PointerSample | undefined
  #observer: MutationObserver

  constructor(
    private readonly sink: Sink,
    changed: () => void,
    /** the page has begun anew in the same document, as after document.open() */
    replaced: () => void,
    private readonly watcher: Watcher,
  ) {
    this.#observer = new MutationObserver((records) => {
      changed()
      if (records.some(({ target, addedNodes }) => target === document && addedNodes.length)) replaced()
      else this.#changes(records)
      this.watcher.changed()
    })
  }

  /** Takes the page as it is now; times count from the given instant. */
  begin(startMs: number): void {
    this.#observer.disconnect()
    this.#ids = new NodeIds((root) => this.#met(root))
    this.#roots = []
    this.#startMs = startMs
    this.#pointer = []
    this.#isOn = true
    this.#view = viewNow()
    this.sink.snapshot(takeSnapshot(this.#ids, this.#view))
    if (scrollX || scrollY) this.#item({ k: 'scroll', id: DOCUMENT_ID, x: scrollX, y: scrollY })
    this.#met(document)
    for (const root of this.roots())
      for (const element of root.querySelectorAll('*'))
        if (element.scrollTop || element.scrollLeft) this.scroll(element)
    this.watcher.begun()
  }

  /** What changes in a root is seen from now on. */
  #met(root: Root): void {
    this.#observer.observe(root, WHOLE)
    if (!this.#roots.some((ref) => ref.deref() === root)) this.#roots.push(new WeakRef(root))
    this.watcher.met(root)
  }

  /** The document and all trees and frames in it that are recorded. */
  roots(): Root[] {
    this.#roots = this.#roots.filter((ref) => {
      const root = ref.deref()
      // The page of a frame that is gone has no window any more.
      return root && ('defaultView' in root ? root.defaultView !== null : isConnected(root))
    })
    return this.#roots.flatMap((ref) => ref.deref() ?? [])
  }

  get ids(): NodeIds {
    return this.#ids
  }

  /** The number of a node that is in the recording. */
  idOf(node: object): number | undefined {
    return this.#ids.known(node)
  }

  /** Records no more, until it begins anew. */
  stop(): void {
    this.#isOn = false
    this.#observer.disconnect()
    this.#ids = new NodeIds()
    this.#roots = []
    this.#pointer = []
  }

  page(url: string, title: string): void {
    this.#item({ k: 'page', url, title })
  }

  /** @param over  what the pointer is over: where it goes among choices would tell which was made */
  pointer(x: number, y: number, over: EventTarget | null): void {
    const now = performance.now()
    if (over && typeOf(over as Node) === Node.ELEMENT_NODE && privacy.choiceOf(over as Element)) return
    if (!this.#pointer.length && !this.#rest) later(() => this.flushPointer(), POINTER_LATEST_MS)
    const sample: PointerSample = [this.#at(), Math.round(x), Math.round(y)]
    // Where it comes to rest counts, however fast it came there.
    this.#rest = sample
    if (now - this.#lastPointerMs < POINTER_EVERY_MS) return
    this.#rest = undefined
    this.#lastPointerMs = now
    this.#pointer.push(sample)
    if (this.#pointer.length >= POINTER_BATCH) this.flushPointer()
  }

  flushPointer(): void {
    if (this.#rest) this.#pointer.push(this.#rest)
    this.#rest = undefined
    if (!this.#pointer.length) return
    this.sink.item({ at: this.#pointer[0]![0], k: 'move', p: this.#pointer })
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
    else if (target) {
      const isPage = typeOf(target as Node) === Node.DOCUMENT_NODE
      const pane = isPage ? rootOf(target as Document)! : (target as Element)
      const id = this.#ids.known(pane)
      if (id) this.#item({ k: 'scroll', id, x: pane.scrollLeft, y: pane.scrollTop })
    }
  }

  viewport(): void {
    const { w, h, layout } = viewNow()
    const before = this.#view
    if (before.w === w && before.h === h && before.layout === layout) return
    this.#view = { w, h, layout }
    this.#item({ k: 'view', w, h })
    const id = this.idOf(rootOf(document)!)
    if (id && layout !== before.layout) this.change({ attr: [[id, LAYOUT, layout]] })
  }

  input(field: Element, length: number): void {
    const id = this.#ids.known(field)
    if (!id) return
    noteLength(field, length)
    this.#item({ k: 'input', id, length })
  }

  /** What an address of a picture or font stands for. */
  file(url: string, hash: string): void {
    this.#item({ k: 'file', url, hash })
  }

  /** What the page says in the console. */
  said(level: ConsoleLevel, text: string): void {
    this.#item({ k: 'console', level, text })
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
    if (add.length || gone.length)
      this.#item({ k: 'change', ...(gone.length && { gone }), ...(add.length && { add }) })
  }

  /** An element has got a tree inside after it was written. */
  shadow(root: ShadowRoot): void {
    const id = this.#ids.known(root.host)
    if (id && !this.#ids.known(root)) this.change({ add: [[id, 0, lateShadow(root, this.#ids)]] })
  }

  /** A frame has another page. */
  frame(frame: HTMLIFrameElement): void {
    const id = this.#ids.known(frame)
    const page = pageIn(frame)
    if (!id || !page || this.#ids.known(page) || privacy.blockOf(frame) || privacy.isStructureOnly(frame))
      return
    const node = lateFrame(page, frame, this.#ids)
    if (node) this.change({ add: [[id, 0, node]] })
  }

  /** Writes down what has changed in controls: no observer tells of it. */
  states(): void {
    const attr = changedStates((element) => this.#ids.known(element))
    if (attr.length) this.change({ attr })
  }

  /** Sets an attribute that tells a state of an element. */
  tell(element: Element, name: string, value: string | null): void {
    const id = this.#ids.known(element)
    if (id) this.change({ attr: [[id, `data-trail-${name}`, value]] })
  }

  /** Adds rules of ours to the tree in which an element lies. */
  addRules(element: Element, rules: string): void {
    const root = rootNodeOf(element)
    const id = this.idOf(root === pageOf(element) ? headOf(root as Document)! : root)
    const style = { id: this.number({}), tag: 'style', c: [{ id: this.number({}), text: rules }] }
    if (id) this.change({ add: [[id, 0, style]] })
  }

  /** An element of which its room alone is recorded has another size. */
  room(element: Element): void {
    this.tell(element, 'box', roomOf(element))
  }

  /** A change that no observer tells of. */
  change(change: Omit<Extract<RecordItem, { k: 'change' }>, 'at' | 'k'>): void {
    this.#item({ k: 'change', ...change })
  }

  /** A number for a node, or for what stands for one. */
  number(node: object): number {
    return this.#ids.of(node)
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
      const sheet = sheetAround(record.target)
      if (sheet) added.add(sheet)
      else if (isSkipped(record.target)) continue
      else if (record.type === 'childList') {
        for (const node of record.removedNodes) {
          const id = this.#ids.known(node)
          if (id && !isConnected(node)) gone.push(id)
        }
        for (const node of record.addedNodes) added.add(node)
      } else if (record.type === 'attributes') {
        const element = record.target as Element
        const id = this.#ids.known(element)
        const name = `${record.attributeNamespace === XLINK ? 'xlink:' : ''}${record.attributeName!}`
        const value = attributeOf(element, name)
        if (!id || value === record.oldValue) continue
        if (name === 'open') attr.push([id, LAYER, layerOf(element)])
        const kept = value === null ? null : changedAttribute(element, name, value)
        if (value === null || kept !== null) attr.push([id, name, kept])
      } else {
        const id = this.#ids.known(record.target)
        if (!id) continue
        text.push([id, privacy.safeText(record.target, undefined, true)])
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
    for (let above: Node | null = parent; above; above = parentOf(above) ?? outsideOf(above))
      if (added.has(above)) return
    const parentId = this.#ids.known(parent)
    if (!parentId || isSkipped(parent) || privacy.blockOf(aroundOf(node))) return
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
    if (this.#isOn) this.sink.item({ at: this.#at(), ...item })
  }
}

/** The style element whose text or attributes changed, as its rules are recorded as a whole. */
function sheetAround(node: Node): Element | null {
  const element = typeOf(node) === Node.ELEMENT_NODE ? (node as Element) : aroundOf(node)
  return element && /^(style|link)$/.test(localNameOf(element)) ? element : null
}
