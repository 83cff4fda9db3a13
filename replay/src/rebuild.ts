import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core/recording'
import { DOCUMENT_ID } from '@dust-trail/core/recording'
import type { FileOf } from './files.ts'
import { filesOf, giveFiles, PageFiles } from './files.ts'
import { HIGHLIGHTS, setHighlights } from './highlights.ts'
import { LAYER, setLayer } from './layers.ts'
import { beginPage, canBegin } from './pages.ts'
import { OWN_RULES, ownRules, restedRules } from './rules.ts'
import { safeElement, setSafely } from './safe-node.ts'
import { setLength } from './states.ts'

/** Deepest tree, and most nodes, that are rebuilt: what is beyond is skipped. */
const DEEPEST = 512
const MOST_NODES = 200_000
/** Most elements that are put above a page at once. */
const MOST_LAYERS = 50
/** Most pages in frames. */
const MOST_PAGES = 50
/** Stand for the tree inside of an element and for the page inside of a frame: see capture/src/more/recording/serialise.ts. */
const SHADOW = '#shadow'
const FRAME = '#frame'

type Written = Extract<RecordedNode, { tag: string }>

/**
 * A recorded page, standing again in a frame and following its recording step by step. A recording may come from anywhere
 * and be made to stop whoever shows it: what cannot be done is skipped and counted.
 */
export class Rebuilt {
  #nodes = new Map<number, Node>()
  /** style elements by their number, also those that are gone: others may say the same */
  #styles = new Map<number, Element>()
  #pages: Document[] = []
  /** frames whose page can be built only where the frame stands */
  #frames: [HTMLIFrameElement, Written][] = []
  #selection = ''
  #files = new PageFiles()
  /** how far each pane was scrolled last */
  #scrolls = new Map<number, Extract<RecordItem, { k: 'scroll' }>>()
  #isMarked = false
  /** elements that have the focus, one a page, and those around them */
  readonly #focused = new Set<Element>()
  #around: ReadonlySet<Element> = new Set()
  readonly #sheets = new WeakMap<Document, CSSStyleSheet>()
  /** steps and nodes that were skipped since the page was shown */
  skipped = 0

  /** @param document  of a frame made by createFrame */
  constructor(private readonly document: Document) {}

  /**
   * Puts the page as it was at the beginning in place of whatever stood there.
   *
   * @param styles  style sheets that are gone by then: others may come to say the same
   * @param fileOf  what its pictures and fonts are; without it there are none
   */
  show(snapshot: Snapshot, styles: readonly RecordedNode[] = [], fileOf?: FileOf): void {
    this.#files = new PageFiles(fileOf)
    giveFiles(this.document, this.#files)
    this.#nodes.clear()
    this.#styles.clear()
    this.#pages = []
    this.#frames = []
    this.#scrolls.clear()
    this.#focused.clear()
    this.#around = new Set()
    this.skipped = 0
    if (!('tag' in snapshot.root)) return
    beginPage(this.document, modeOf(snapshot.root))
    for (const style of styles) this.#try(() => this.#make(style, 1, this.document))
    this.#build(this.document, snapshot.root, 1)
    this.#open()
    this.#try(() => setHighlights(this.document, '', () => undefined))
  }

  /** The pages that are shown: the outer one and those in its frames. */
  get pages(): readonly Document[] {
    return [this.document, ...this.#pages.filter((page) => page.defaultView)]
  }

  /** How many of its pictures are not known. */
  get missing(): number {
    return this.#files.missing.size
  }

  /** How many style sheets of the page could not be read when it was recorded. */
  get unread(): number {
    return [...this.#styles.values()].filter(
      (style) => style.isConnected && style.hasAttribute('data-trail-unread'),
    ).length
  }

  /** Does what the visitor's page did. */
  apply(item: RecordItem): void {
    if (item.k === 'change') this.#change(item)
    else if (item.k === 'scroll') {
      this.#scrolls.set(item.id, item)
      this.#try(() => this.#scroll(item))
    } else if (item.k === 'input')
      this.#try(() => {
        const field = this.#nodes.get(item.id)
        if (field?.nodeType === 1) setLength(field as Element, item.length)
      })
  }

  /** Something has got its size, as a picture does when it is there: panes can be scrolled now as far as they were. */
  settle(): void {
    for (const item of this.#scrolls.values()) this.#try(() => this.#scroll(item))
  }

  nodeOf(id: number): Node | undefined {
    return this.#nodes.get(id)
  }

  /** Marks once more what was marked: a page forgets it when it changes. */
  select(): void {
    const selection = this.document.getSelection()
    if (!selection || (!this.#selection && !this.#isMarked)) return
    const [from, fromAt, to, toAt] = this.#selection.split(':').map(Number)
    const start = this.#nodes.get(from!)
    const end = this.#nodes.get(to!)
    this.#isMarked = !!start && !!end
    try {
      if (start && end) selection.setBaseAndExtent(start, fromAt!, end, toAt!)
      else selection.removeAllRanges()
    } catch {
      // It reaches beyond what is there, and is not tried again.
      this.#selection = ''
      this.skipped++
    }
  }

  /** Does one step; where it cannot be done it is counted. */
  #try(step: () => void): void {
    try {
      step()
    } catch {
      this.skipped++
    }
  }

  /** Builds a page into an empty document. */
  #build(page: Document, root: Written, depth: number): void {
    const policy = page.head?.querySelector('meta[http-equiv="Content-Security-Policy"]')
    const html = page.documentElement
    for (const { name } of [...html.attributes]) html.removeAttribute(name)
    html.replaceChildren()
    this.#nodes.set(root.id, html)
    for (const [name, value] of Object.entries(root.a ?? {})) this.#try(() => setSafely(html, name, value))
    this.#fill(html, root.c ?? [], depth)
    page.head?.prepend(ownRules(page))
    // Removing the element would not lift the policy; keeping it lets anyone see that it is there.
    if (policy) (page.head ?? html).prepend(policy)
    this.#raise(html)
  }

  /** Builds the pages of frames that stand by now. */
  #open(): void {
    for (let next = this.#frames.shift(); next; next = this.#frames.shift()) {
      const [frame, written] = next
      this.#try(() => {
        const page = frame.contentDocument
        const root = written.c?.[0]
        this.#pages = this.#pages.filter((one) => one !== page && one.defaultView)
        if (!page || !root || !('tag' in root) || this.#pages.length >= MOST_PAGES || !canBegin(page))
          throw new Error('no page')
        beginPage(page, modeOf(root))
        this.#pages.push(page)
        giveFiles(page, this.#files)
        this.#nodes.set(written.id, page)
        this.#build(page, root, depthOf(frame) + 1)
      })
    }
  }

  #make(recorded: RecordedNode, depth: number, parent: Node): Node | null {
    if (depth > DEEPEST || this.#nodes.size >= MOST_NODES) {
      this.skipped++
      return null
    }
    this.#leavePlace(recorded.id)
    const { ownerDocument } = parent
    const document = ownerDocument ?? (parent as Document)
    if ('text' in recorded) {
      const isStyle = (parent as Element).localName === 'style'
      const text = document.createTextNode(
        isStyle ? filesOf(document).inRules(restedRules(recorded.text, layoutOf(document))) : recorded.text,
      )
      this.#nodes.set(recorded.id, text)
      return text
    }
    const element = safeElement(document, recorded, parent)
    if (!element) return null
    this.#nodes.set(recorded.id, element)
    if (element.localName === 'style') this.#style(element, recorded)
    if (element.localName !== 'template') this.#fill(element, recorded.c ?? [], depth + 1)
    for (const [name, value] of Object.entries(recorded.a ?? {}))
      // What was chosen of a list can be said once the list is there.
      if (name === 'data-trail-selected') this.#try(() => setSafely(element, name, value))
    return element
  }

  #style(element: Element, { id, a }: Written): void {
    this.#styles.set(id, element)
    const same = this.#styles.get(Number(a?.['data-trail-same']))
    if (same) element.textContent = same.textContent
  }

  /** A node that comes anew elsewhere, as when the page put it into another element, is no longer where it was. */
  #leavePlace(id: number): void {
    const before = this.#nodes.get(id)
    if (before && before !== this.document.documentElement) before.parentNode?.removeChild(before)
  }

  #fill(parent: Element | ShadowRoot, children: readonly RecordedNode[], depth: number): void {
    for (const child of children)
      this.#try(() => {
        if (!this.#inside(parent, child, depth)) {
          const node = this.#make(child, depth, parent)
          if (node) parent.append(node)
        }
      })
  }

  /** Builds the tree inside of an element, or the page in a frame. @returns false where it is an ordinary child */
  #inside(parent: Node, child: RecordedNode, depth: number): boolean {
    if (!('tag' in child)) return false
    if (child.tag === SHADOW) {
      const host = parent as Element
      const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' })
      root.replaceChildren()
      this.#try(() => (root.adoptedStyleSheets = [this.#ownSheet(host.ownerDocument)]))
      this.#nodes.set(child.id, root)
      this.#fill(root, child.c ?? [], depth + 1)
      return true
    }
    if (child.tag !== FRAME) return false
    if ((parent as Element).localName === 'iframe') this.#frames.push([parent as HTMLIFrameElement, child])
    return true
  }

  /** For trees inside of elements, where an element of ours would be counted with theirs. */
  #ownSheet(page: Document): CSSStyleSheet {
    let sheet = this.#sheets.get(page)
    if (!sheet) {
      sheet = new (page.defaultView as Window & typeof globalThis).CSSStyleSheet()
      sheet.replaceSync(OWN_RULES)
      this.#sheets.set(page, sheet)
    }
    return sheet
  }

  #change(item: Extract<RecordItem, { k: 'change' }>): void {
    const { documentElement } = this.document
    for (const id of item.gone ?? [])
      this.#try(() => {
        const node = this.#nodes.get(id)
        // Without its root there is no page any more.
        if (node === documentElement) throw new Error('the root stays')
        // Nor could that of a frame be built anew.
        if (node?.parentNode?.nodeType === 9) (node as Element).replaceChildren()
        else node?.parentNode?.removeChild(node)
        this.#nodes.delete(id)
      })
    for (const [parentId, beforeId, recorded] of item.add ?? [])
      this.#try(() => this.#add(this.#nodes.get(parentId), beforeId, recorded))
    this.#open()
    let highlights: string | null | undefined
    for (const [id, name, value] of item.attr ?? [])
      this.#try(() => {
        const element = this.#nodes.get(id)
        if (element?.nodeType !== 1) return
        if (name === LAYER) setLayer(element as Element, value)
        else if (name === 'data-trail-selection') this.#selection = value ?? ''
        else if (name === HIGHLIGHTS) highlights = value
        else setSafely(element as Element, name, value)
        if (name === 'data-trail-focus') {
          if (value === null) this.#focused.delete(element as Element)
          else this.#focused.add(element as Element)
        }
      })
    this.#within()
    for (const [id, text] of item.text ?? [])
      this.#try(() => {
        const node = this.#nodes.get(id)
        if (node?.nodeType !== 3) return
        node.nodeValue =
          node.parentElement?.localName === 'style'
            ? this.#files.inRules(restedRules(text, layoutOf(node.ownerDocument!)))
            : text
      })
    // Last: they say where in texts they begin and end.
    if (highlights !== undefined)
      this.#try(() => setHighlights(this.document, highlights ?? '', (id) => this.#nodes.get(id)))
  }

  #add(parent: Node | undefined, beforeId: number, recorded: RecordedNode): void {
    if (!parent) return
    if (parent.nodeType === 9) {
      // The page of a frame has been replaced as a whole.
      const page = parent as Document
      if (!('tag' in recorded) || !this.#pages.includes(page)) throw new Error('not a page')
      beginPage(page, modeOf(recorded))
      this.#build(page, recorded, 1)
      return
    }
    // What goes into something that is gone goes nowhere.
    if (!parent.isConnected) return
    if ((parent as Element).localName === 'template') throw new Error('nothing lies in what holds a place')
    if ((parent as Element).localName === 'style' && 'tag' in recorded)
      throw new Error('a style sheet holds text alone')
    const isTree = parent.nodeType === 11
    if (parent.nodeType !== 1 && !isTree) throw new Error('only elements have children')
    const depth = depthOf(parent) + 1
    if (this.#inside(parent, recorded, depth)) return
    const node = this.#make(recorded, depth, parent)
    const before = beforeId ? this.#nodes.get(beforeId) : undefined
    if (!node) return
    parent.insertBefore(node, before?.parentNode === parent ? before : null)
    if (node.nodeType === 1) this.#raise(node as Element)
  }

  /** Marks the elements around those that have the focus, as long as these stand. */
  #within(): void {
    const around = new Set<Element>()
    for (const element of this.#focused)
      if (!element.isConnected) this.#focused.delete(element)
      else for (let at: Element | null = element; at; at = outerOf(at)) around.add(at)
    for (const element of this.#around) if (!around.has(element)) element.removeAttribute('data-trail-within')
    for (const element of around) element.setAttribute('data-trail-within', '')
    this.#around = around
  }

  /** Puts what lies above the page there: dialogs and what popped up. */
  #raise(root: Element): void {
    for (const element of [root, ...root.querySelectorAll(`[${LAYER}]`)].slice(0, MOST_LAYERS)) {
      const layer = element.getAttribute(LAYER)
      if (layer) this.#try(() => setLayer(element, layer))
    }
  }

  #scroll(item: Extract<RecordItem, { k: 'scroll' }>): void {
    const to: ScrollToOptions = { left: item.x, top: item.y, behavior: 'instant' }
    if (item.id === DOCUMENT_ID) {
      this.document.defaultView?.scrollTo(to)
      return
    }
    const element = this.#nodes.get(item.id)
    if (element?.nodeType === 1) (element as Element).scrollTo(to)
  }
}

const modeOf = (root: Written) => root.a?.['data-trail-mode']

/** The element around one, out of trees inside of elements. */
export function outerOf(element: Element): Element | null {
  return element.parentElement ?? (element.parentNode as Partial<ShadowRoot> | null)?.host ?? null
}

function depthOf(node: Node): number {
  let depth = 0
  for (let above = node.parentNode; above && depth <= DEEPEST; above = above.parentNode) depth++
  return depth
}

/** How wide a page was laid out, where that is not how much is seen of it; 0 elsewhere. */
const layoutOf = ({ documentElement }: Document) =>
  Number(documentElement?.getAttribute('data-trail-layout')) || 0
