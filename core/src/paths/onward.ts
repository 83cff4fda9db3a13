import { z } from 'zod'
import type { Selection } from '../closeup/selection.ts'
import { NO_EVENT, selectSessions } from '../closeup/selection.ts'
import type { Block } from '../events/columns.ts'
import { KIND } from '../events/loose.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'

export const MOST_DEEP = 10

/** What paths are made of: views of page groups alone, or clicks as well. */
export const PATH_PARTS = ['pages', 'pages and clicks'] as const

export const pathOptionsSchema = z.object({
  of: z.enum(PATH_PARTS).default('pages'),
  direction: z.enum(['onward', 'back']).default('onward'),
  /** how many steps from the moment */
  depth: z.number().int().min(1).max(MOST_DEEP).default(5),
  /** views of one page group after another count as one */
  fold: z.boolean().default(true),
  /** only the most walked places; null = all */
  most: z.number().int().min(1).nullable().default(2000),
})
export type PathOptions = z.infer<typeof pathOptionsSchema>

export interface PathSpec extends PathOptions {
  /** picks the sessions, and in each the moment the paths go out from */
  selection: Selection
  names: Names
}

/** One place in the tree: how many sessions came this way, and how many of them ended here. */
export interface PathNode {
  kind: 'page' | 'click'
  /** page group; of a click the page it was on */
  page: string
  /** of a click: the element's selector */
  selector?: string | undefined
  sessions: number
  /** sessions with nothing further */
  ended: number
  /** the most walked ways on; what they leave of the sessions went on in ways too rare to be listed */
  next: PathNode[]
}

/** A tree as columns: node 0 is the root, every other comes after its parent. */
export interface PathPartial {
  sessions: number
  parent: Uint32Array
  /** page group; a click is the number of groups plus its place in `clicks` */
  code: Uint32Array
  /** sessions whose path ends at the node */
  ended: Uint32Array
  groups: number
  /** page group × FAMILIES + element family */
  clicks: number[]
  /** what is still growing, until it is packed */
  tree?: Tree | undefined
}

export interface PathResult {
  sessions: number
  /** sessions with nothing after the moment */
  ended: number
  /** how many different places there are in the whole tree */
  places: number
  /** the listed ones as columns; node 0 is where all begin */
  tree: {
    parent: Uint32Array
    /** index into parts */
    part: Uint32Array
    sessions: Uint32Array
    ended: Uint32Array
  }
  parts: Pick<PathNode, 'kind' | 'page' | 'selector'>[]
}

/**
 * Where sessions went from a moment, as a prefix tree with counts: every node counts the sessions whose path begins like
 * the way to it. Exact. With a depth of 1 it is what came directly next. See mostWalked for what is listed.
 * Complexity: views (or events) after the moment until the depth is reached; partials hold distinct paths alone.
 */
export const onwardPaths: Analysis<PathSpec, PathPartial, PathResult> = {
  adds: true,

  scan(block, among, spec, onto) {
    const { sessions, event } = selectSessions(block, among, spec.selection, spec.names)
    const partial = onto ?? emptyPartial(spec.names)
    const tree = partial.tree!
    const walk = spec.of === 'pages' ? viewWalker(block, spec, tree) : eventWalker(block, spec, tree)
    sessions.forEach((s) => {
      partial.sessions++
      tree.end(walk(s, event[s]!), 1)
    })
    return partial
  },

  pack: ({ tree, ...partial }) => ({ ...partial, ...tree?.columns() }),

  merge(a, b) {
    const tree = (a.tree ??= Tree.from(a))
    const other = b.tree ? { ...b, ...b.tree.columns() } : b
    const nodes = new Uint32Array(other.parent.length)
    if (tree.groups !== other.groups) throw new RangeError('paths of different page groups cannot be merged')
    for (let node = 0; node < nodes.length; node++) {
      if (node > 0) {
        const code = other.code[node]!
        const part = code < other.groups ? code : tree.click(other.clicks[code - other.groups]!)
        nodes[node] = tree.child(nodes[other.parent[node]!]!, part)
      }
      tree.end(nodes[node]!, other.ended[node]!)
    }
    a.sessions += b.sessions
    return a
  },

  finish(partial, { names, most }) {
    const { sessions, parent, code, ended, groups, clicks } = partial.tree
      ? { ...partial, ...partial.tree.columns() }
      : partial
    const count = ended.slice()
    const all = count.length
    // Children come after their parents: from the end every node is whole before it counts for its parent.
    for (let node = all - 1; node > 0; node--) count[parent[node]!]! += count[node]!
    const listed = mostWalked(count, most)
    const place = new Uint32Array(all)
    const parts: PathResult['parts'] = []
    const partAt = new Uint32Array(groups + clicks.length)
    const tree: PathResult['tree'] = {
      parent: new Uint32Array(listed.length),
      part: new Uint32Array(listed.length),
      sessions: new Uint32Array(listed.length),
      ended: new Uint32Array(listed.length),
    }
    for (let k = 0; k < listed.length; k++) {
      const node = listed[k]!
      place[node] = k
      tree.parent[k] = place[parent[node]!]!
      tree.sessions[k] = count[node]!
      tree.ended[k] = ended[node]!
      // Its place in parts plus 1; 0 = not there yet.
      partAt[code[node]!] ||= parts.push(partOf(code[node]!, groups, clicks, names))
      tree.part[k] = partAt[code[node]!]! - 1
    }
    return { sessions, ended: ended[0]!, places: all - 1, tree, parts }
  },
}

/** The listed places as a tree of objects, the most walked first. */
export function pathNodes({ tree, parts }: PathResult): PathNode[] {
  const nodes = Array.from(tree.parent, (_, k): PathNode => ({
    ...parts[tree.part[k]!]!,
    sessions: tree.sessions[k]!,
    ended: tree.ended[k]!,
    next: [],
  }))
  for (let k = 1; k < nodes.length; k++) nodes[tree.parent[k]!]!.next.push(nodes[k]!)
  for (const node of nodes) node.next.sort(largestFirst)
  return nodes[0]!.next
}

/**
 * The nodes with the most sessions, at most so many besides the root, in order of place, so that parents come before
 * their children; equally rare ones are all listed or none, so that it does not matter who was met first.
 */
function mostWalked(count: Uint32Array, most: number | null): Uint32Array {
  const all = new Uint32Array(count.length)
  for (let node = 0; node < all.length; node++) all[node] = node
  if (most === null || all.length <= most + 1) return all
  const above = count.slice(1).sort()[count.length - 2 - most]!
  return all.filter((node) => node === 0 || count[node]! > above)
}

function emptyPartial({ groups }: Names): PathPartial {
  const none = new Uint32Array(0)
  const count = groups.names.length
  return {
    sessions: 0,
    parent: none,
    code: none,
    ended: none,
    groups: count,
    clicks: [],
    tree: new Tree(count),
  }
}

function partOf(
  code: number,
  groups: number,
  clicks: readonly number[],
  names: Names,
): PathResult['parts'][0] {
  if (code < groups) return { kind: 'page', page: names.groups.names[code]! }
  const click = clicks[code - groups]!
  return {
    kind: 'click',
    page: names.groups.names[Math.floor(click / FAMILIES)]!,
    selector: names.families.names[click % FAMILIES]!,
  }
}

/** There are fewer element families than this. */
const FAMILIES = 2 ** 26

/** A growing prefix tree, its children found through one table of places (open addressing, linear probing). */
class Tree {
  #parent = new Uint32Array(1024)
  #code = new Uint32Array(1024)
  #ended = new Uint32Array(1024)
  #size = 1
  /** node + 1 of a child, at a place that follows from its parent and code; 0 = free */
  #table = new Uint32Array(4096)
  readonly clicks: number[] = []
  readonly #clickAt = new Map<number, number>()

  constructor(readonly groups: number) {}

  static from({ parent, code, ended, groups, clicks }: PathPartial): Tree {
    const tree = new Tree(groups)
    for (const click of clicks) tree.click(click)
    for (let node = 0; node < parent.length; node++) {
      if (node > 0) tree.child(parent[node]!, code[node]!)
      tree.end(node, ended[node]!)
    }
    return tree
  }

  /** The code of a click. */
  click(raw: number): number {
    let at = this.#clickAt.get(raw)
    if (at === undefined) this.#clickAt.set(raw, (at = this.clicks.push(raw) - 1))
    return this.groups + at
  }

  child(node: number, code: number): number {
    const mask = this.#table.length - 1
    let at = hash(node, code) & mask
    for (;;) {
      const held = this.#table[at]!
      if (held === 0) break
      if (this.#parent[held - 1] === node && this.#code[held - 1] === code) return held - 1
      at = (at + 1) & mask
    }
    const child = this.#size++
    if (child === this.#parent.length) this.#grow()
    this.#parent[child] = node
    this.#code[child] = code
    this.#place(child)
    return child
  }

  end(node: number, sessions: number): void {
    this.#ended[node]! += sessions
  }

  columns(): Pick<PathPartial, 'parent' | 'code' | 'ended' | 'clicks'> {
    return {
      parent: this.#parent.slice(0, this.#size),
      code: this.#code.slice(0, this.#size),
      ended: this.#ended.slice(0, this.#size),
      clicks: this.clicks,
    }
  }

  #place(child: number): void {
    const mask = this.#table.length - 1
    let at = hash(this.#parent[child]!, this.#code[child]!) & mask
    while (this.#table[at] !== 0) at = (at + 1) & mask
    this.#table[at] = child + 1
  }

  #grow(): void {
    const double = (column: Uint32Array) => {
      const more = new Uint32Array(2 * column.length)
      more.set(column)
      return more
    }
    const held = this.#parent.length
    this.#parent = double(this.#parent)
    this.#code = double(this.#code)
    this.#ended = double(this.#ended)
    this.#table = new Uint32Array(4 * this.#parent.length)
    for (let node = 1; node < held; node++) this.#place(node)
  }
}

function hash(node: number, code: number): number {
  let h = Math.imul(node, 0x9e3779b1) ^ Math.imul(code + 1, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  return (h ^ (h >>> 13)) >>> 0
}

function largestFirst(a: PathNode, b: PathNode): number {
  return (
    b.sessions - a.sessions ||
    byText(a.page, b.page) ||
    byText(a.kind, b.kind) ||
    byText(a.selector ?? '', b.selector ?? '')
  )
}

/** By code unit: a tree may have very many ties, and this is many times as fast as by language. */
function byText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}

/** Walks from an event of a session along what came after or before; gives the node of the tree where the path ends. */
type Walker = (session: number, event: number) => number

/** Along page views alone. */
function viewWalker(block: Block, { direction, depth, fold, names }: PathSpec, tree: Tree): Walker {
  const { events, sessions, views } = block
  const { groupOf } = names.groups
  const step = direction === 'onward' ? 1 : -1
  return (session, event) => {
    const from = sessions.firstView[session]!
    const to = sessions.firstView[session + 1]!
    let at = step === 1 ? from : to - 1
    let last = -1
    if (event !== NO_EVENT) {
      last = groupOf[events.page[event]!]!
      if (step === 1) while (at < to && views.event[at]! <= event) at++
      else while (at >= from && views.event[at]! >= event) at--
    }
    let node = 0
    for (let walked = 0; at >= from && at < to && walked < depth; at += step) {
      const code = groupOf[views.page[at]!]!
      if (fold && code === last) continue
      last = code
      walked++
      node = tree.child(node, code)
    }
    return node
  }
}

/** Along page views and clicks. */
function eventWalker(block: Block, { direction, depth, fold, names }: PathSpec, tree: Tree): Walker {
  const { kind, page, target } = block.events
  const { groupOf } = names.groups
  const { familyOf } = names.families
  const codeOf = (event: number) => {
    const group = groupOf[page[event]!]!
    return kind[event] === KIND.click ? tree.click(group * FAMILIES + familyOf[target[event]!]!) : group
  }
  const step = direction === 'onward' ? 1 : -1
  return (session, event) => {
    const from = block.sessions.firstEvent[session]!
    const to = block.sessions.firstEvent[session + 1]!
    let at = step === 1 ? from : to - 1
    let last = -1
    if (event !== NO_EVENT) {
      last = codeOf(event)
      at = event + step
    }
    let node = 0
    for (let walked = 0; at >= from && at < to && walked < depth; at += step) {
      if (kind[at] !== KIND.page && kind[at] !== KIND.click) continue
      const code = codeOf(at)
      if (fold && code === last) continue
      last = code
      walked++
      node = tree.child(node, code)
    }
    return node
  }
}
