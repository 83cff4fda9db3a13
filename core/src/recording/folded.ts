import type { RecordedNode, RecordItem, Snapshot } from './types.ts'
import { DOCUMENT_ID } from './types.ts'

type Change = Extract<RecordItem, { k: 'change' }>
type Written = Extract<RecordedNode, { tag: string }>

interface Folded {
  node: RecordedNode
  children: Folded[]
  parent: Folded | undefined
  /** as it was given away last; nothing in it has changed since */
  given?: RecordedNode | undefined
}

/** A page as it stands at one moment, from which its replay can go on. */
export interface Standing {
  snapshot: Snapshot
  /** what a tree does not say: how far panes were scrolled, what lay above the page, what was marked */
  items: RecordItem[]
  /** style sheets that have gone: others may come to say the same */
  styles: RecordedNode[]
}

const LAYER = 'data-trail-layer'
const FOCUS = 'data-trail-focus'
const SELECTION = 'data-trail-selection'
const HIGHLIGHTS = 'data-trail-highlights'
/** States that are set by steps rather than written in the tree, as their order or their place around counts. */
const TOLD = [LAYER, FOCUS, SELECTION, HIGHLIGHTS]

/**
 * A recorded page followed as plain data, much faster than in a document: so a replay can begin at any moment. Does with a
 * step what the player does with it; a step that cannot be done changes nothing.
 */
export class FoldedPage {
  readonly #nodes = new Map<number, Folded>()
  /** texts of style elements, also of those that are gone: others may say the same */
  readonly #styles = new Map<number, Folded>()
  readonly #scrolls = new Map<number, RecordItem>()
  readonly #inputs = new Map<number, RecordItem>()
  /** by state and node what was told of it, in order */
  readonly #told = new Map<string, [id: number, name: string, value: string]>()
  readonly #root: Folded
  readonly #snapshot: Snapshot
  #view: RecordItem | undefined

  constructor(snapshot: Snapshot) {
    this.#snapshot = snapshot
    this.#root = this.#make(snapshot.root, undefined)
  }

  /** Follows one step. @returns how much was to do, in nodes */
  apply(item: RecordItem): number {
    if (item.k === 'scroll') this.#latest(this.#scrolls, item)
    else if (item.k === 'input') this.#latest(this.#inputs, item)
    else if (item.k === 'view') this.#view = item
    else if (item.k === 'change') return this.#change(item)
    return 0
  }

  /** The page as it is now. What has not changed since the last time is the same object: many of them take little room. */
  standing(): Standing {
    const at = 0
    const items: RecordItem[] = this.#view ? [this.#view] : []
    const told = [...this.#told.values()].filter(([id]) => this.#stands(id))
    if (told.length) items.push({ at, k: 'change', attr: told })
    for (const [id, item] of this.#inputs) if (this.#stands(id)) items.push(item)
    for (const [id, item] of this.#scrolls) if (id === DOCUMENT_ID || this.#stands(id)) items.push(item)
    const styles = [...this.#styles.values()].filter((style) => !this.#isIn(style)).map(copyOf)
    return { snapshot: { ...this.#snapshot, root: copyOf(this.#root) }, items, styles }
  }

  #latest(by: Map<number, RecordItem>, item: Extract<RecordItem, { id: number }>): void {
    by.delete(item.id)
    by.set(item.id, item)
  }

  #stands(id: number): boolean {
    const folded = this.#nodes.get(id)
    return folded !== undefined && this.#isIn(folded)
  }

  #isIn(folded: Folded): boolean {
    let at = folded
    while (at.parent) at = at.parent
    return at === this.#root
  }

  #make(recorded: RecordedNode, parent: Folded | undefined): Folded {
    this.#leave(recorded.id)
    const folded: Folded = { node: recorded, children: [], parent }
    this.#nodes.set(recorded.id, folded)
    if ('text' in recorded) return folded
    const { a = {}, c = [] } = recorded
    folded.node = { ...recorded, a: { ...a } }
    // An element that comes anew has none of its states from before.
    for (const name of [LAYER, FOCUS]) this.#tell(recorded.id, name, a[name] ?? null)
    if (recorded.tag === 'style') this.#style(folded, recorded)
    for (const child of c) this.#put(folded, child, undefined)
    return folded
  }

  #style(folded: Folded, { id, a }: Written): void {
    this.#styles.set(id, folded)
    const same = this.#styles.get(Number(a?.['data-trail-same']))
    // Settled now: what comes under that number later was not meant.
    delete (folded.node as Written).a!['data-trail-same']
    if (same && same !== folded)
      folded.children = [{ node: { id: -id, text: textOf(same) }, children: [], parent: folded }]
  }

  #leave(id: number): void {
    const before = this.#nodes.get(id)
    if (before?.parent) {
      const { children } = before.parent
      const at = children.indexOf(before)
      if (at >= 0) children.splice(at, 1)
      touch(before.parent)
      before.parent = undefined
    }
  }

  /** Adds a child before another, or at the end. What stands for the inside of an element takes the place of what was there. */
  #put(parent: Folded, recorded: RecordedNode, before: Folded | undefined): void {
    const tag = 'tag' in recorded ? recorded.tag : ''
    if (tag.startsWith('#'))
      for (const child of parent.children.filter(({ node }) => 'tag' in node && node.tag === tag))
        this.#leave(child.node.id)
    const child = this.#make(recorded, parent)
    touch(parent)
    const at = before?.parent === parent ? parent.children.indexOf(before) : -1
    if (at < 0) parent.children.push(child)
    else parent.children.splice(at, 0, child)
  }

  #change({ gone, add, attr, text }: Change): number {
    let work = 0
    for (const id of gone ?? []) {
      work++
      if (id === this.#root.node.id) continue
      this.#leave(id)
      this.#nodes.delete(id)
    }
    for (const [parentId, beforeId, recorded] of add ?? []) {
      work += sizeOf(recorded)
      const parent = this.#nodes.get(parentId)
      if (!parent || 'text' in parent.node || !this.#isIn(parent)) continue
      if (parent.node.tag === 'style' && 'tag' in recorded) continue
      // The page of a frame is replaced as a whole.
      if (parent.node.tag === '#frame') {
        parent.children = []
        touch(parent)
      }
      this.#put(parent, recorded, beforeId ? this.#nodes.get(beforeId) : undefined)
    }
    for (const [id, name, value] of attr ?? []) {
      work++
      const folded = this.#nodes.get(id)
      if (!folded || 'text' in folded.node) continue
      if (TOLD.includes(name)) {
        this.#tell(id, name, value)
        continue
      }
      touch(folded)
      if (value === null) delete folded.node.a![name]
      else folded.node.a![name] = value
    }
    for (const [id, value] of text ?? []) {
      work++
      const folded = this.#nodes.get(id)
      if (!folded || !('text' in folded.node)) continue
      touch(folded)
      folded.node = { id, text: value }
    }
    return work
  }

  #tell(id: number, name: string, value: string | null): void {
    const key = `${name} ${id}`
    this.#told.delete(key)
    if (value !== null) this.#told.set(key, [id, name, value])
  }
}

function textOf({ node, children }: Folded): string {
  return 'text' in node ? node.text : children.map(textOf).join('')
}

/** Something in it has changed, and so have all that it lies in. */
function touch(folded: Folded): void {
  for (let at: Folded | undefined = folded; at?.given; at = at.parent) at.given = undefined
}

function copyOf(folded: Folded): RecordedNode {
  const { node, children } = folded
  if ('text' in node) return (folded.given = node)
  if (folded.given) return folded.given
  const a = { ...node.a }
  for (const name of TOLD) delete a[name]
  return (folded.given = { ...node, a, c: children.map(copyOf) })
}

function sizeOf(node: RecordedNode): number {
  let nodes = 1
  if ('tag' in node) for (const child of node.c ?? []) nodes += sizeOf(child)
  return nodes
}
