import { z } from 'zod'
import type { SelectedSessions, Selection } from '../closeup/selection.ts'
import { NO_EVENT, selectSessions } from '../closeup/selection.ts'
import type { Block } from '../events/columns.ts'
import { isView, viewsBefore } from '../events/columns.ts'
import { KIND } from '../events/loose.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { CountedKeys, Keys, TreeColumns } from './keys.ts'
import { listedOf, mergeCounted, PathKeys, treeOf } from './keys.ts'

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

export interface PathPartial {
  sessions: number
  groups: number
  /** while blocks are read: whole paths as numbers, where they fit into one, else a tree */
  paths?: PathKeys | undefined
  tree?: PathTree | undefined
  /** when packed: different paths in ascending order and how many sessions took each, or the tree */
  keys?: Keys | undefined
  counts?: Uint32Array | undefined
  columns?: TreeColumns | undefined
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
 * the way to it. Exact. With a depth of 1 it is what came directly next. With `most` at most so many places are
 * listed, those with the most sessions; equally rare ones are all listed or none, so that it does not matter who was met
 * first.
 * Complexity: views (or events) after the moment until the depth is reached; partials hold distinct paths alone.
 */
export const onwardPaths: Analysis<PathSpec, PathPartial, PathResult> = {
  adds: true,

  scan(block, among, spec, onto) {
    const selected = selectSessions(block, among, spec.selection, spec.names)
    const partial = onto ?? emptyPartial(spec)
    partial.sessions += selected.sessions.count()
    if (partial.paths) addViews(block, selected, spec, partial.paths)
    else addEvents(block, selected, spec, partial.tree!)
    return partial
  },

  pack: ({ sessions, groups, paths, tree, keys, counts, columns }) => ({
    sessions,
    groups,
    ...(paths ? paths.counted() : { keys, counts }),
    columns: tree ? tree.columns() : columns,
  }),

  merge(one, other) {
    const a = onwardPaths.pack!(one)
    const b = onwardPaths.pack!(other)
    if (a.groups !== b.groups) throw new RangeError('paths of different page groups cannot be merged')
    const sessions = a.sessions + b.sessions
    if (a.keys && b.keys)
      return { sessions, groups: a.groups, ...mergeCounted(a as CountedKeys, b as CountedKeys) }
    const tree = PathTree.from(a.columns!, a.groups)
    tree.add(b.columns!)
    return { sessions, groups: a.groups, tree }
  },

  finish(partial, { names, most, depth }) {
    const { sessions, groups, ...packed } = onwardPaths.pack!(partial)
    const columns = packed.keys ? treeOf(packed as CountedKeys, groups, depth) : packed.columns!
    const { clicks } = columns
    const { parent, code, ended, ...listed } = listedOf(columns, most)
    const parts: PathResult['parts'] = []
    /** by code its place in parts plus 1; 0 = not there yet */
    const partAt = new Uint32Array(groups + clicks.length)
    const part = code
    for (let k = 0; k < part.length; k++) {
      const own = part[k]!
      partAt[own] ||= parts.push(partOf(own, groups, clicks, names))
      part[k] = partAt[own] - 1
    }
    const tree = { parent, part, sessions: listed.sessions, ended }
    return { sessions, ended: ended[0]!, places: listed.places, tree, parts }
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

function emptyPartial({ names, of, depth }: PathSpec): PathPartial {
  const groups = names.groups.names.length
  return of === 'pages' && PathKeys.fit(groups, depth)
    ? { sessions: 0, groups, paths: new PathKeys(groups, depth) }
    : { sessions: 0, groups, tree: new PathTree(groups) }
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
class PathTree {
  #parent = new Uint32Array(1024)
  #code = new Uint32Array(1024)
  #ended = new Uint32Array(1024)
  #size = 1
  #at = 0
  /** node + 1 of a child, at a place that follows from its parent and code; 0 = free */
  #table = new Uint32Array(4096)
  readonly clicks: number[] = []
  readonly #clickAt = new Map<number, number>()

  constructor(readonly groups: number) {}

  static from(columns: TreeColumns, groups: number): PathTree {
    const tree = new PathTree(groups)
    tree.add(columns)
    return tree
  }

  /** Adds a tree of the same page groups. */
  add({ parent, code, ended, clicks }: TreeColumns): void {
    const nodes = new Uint32Array(parent.length)
    for (let node = 0; node < nodes.length; node++) {
      if (node > 0) {
        const own = code[node]!
        const known = own < this.groups ? own : this.click(clicks[own - this.groups]!)
        nodes[node] = this.child(nodes[parent[node]!]!, known)
      }
      this.#ended[nodes[node]!]! += ended[node]!
    }
  }

  /** A session's path, step by step from the root to its end. */
  step(code: number): void {
    this.#at = this.child(this.#at, code)
  }

  end(): void {
    this.#ended[this.#at]!++
    this.#at = 0
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

  columns(): TreeColumns {
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

/** Adds the page groups of the views after or before the moment in each session. */
function addViews(
  { events, sessions: { firstView }, views: { page } }: Block,
  { sessions, event }: SelectedSessions,
  { direction, depth, fold, names }: PathSpec,
  paths: PathKeys,
): void {
  const { groupOf } = names.groups
  const { base, powers } = paths
  const keys = paths.withRoomFor(sessions.count())
  let { length } = paths
  const onward = direction === 'onward'
  const step = onward ? 1 : -1
  sessions.forEach((s) => {
    const moment = event[s]!
    const from = firstView[s]!
    const to = firstView[s + 1]!
    let at = onward ? from : to - 1
    let last = -1
    if (moment !== NO_EVENT) {
      const viewed = isView(events, moment)
      at = viewsBefore(events, moment)
      last = groupOf[viewed ? page[at]! : events.page[moment]!]!
      if (!onward) at--
      else if (viewed) at++
    }
    let key = 0
    let left = depth
    for (; at >= from && at < to && left > 0; at += step) {
      const code = groupOf[page[at]!]!
      if (fold && code === last) continue
      last = code
      key = key * base + code + 1
      left--
    }
    keys[length++] = key * powers[left]!
  })
  paths.length = length
}

/** Adds what came after or before the moment in each session, event by event. */
function addEvents(
  block: Block,
  { sessions, event }: SelectedSessions,
  { of, direction, depth, fold, names }: PathSpec,
  tree: PathTree,
): void {
  const { kind, page, target } = block.events
  const { groupOf } = names.groups
  const { familyOf } = names.families
  const { firstEvent } = block.sessions
  const codeOf = (i: number) => {
    const group = groupOf[page[i]!]!
    return of !== 'pages' && kind[i] === KIND.click
      ? tree.click(group * FAMILIES + familyOf[target[i]!]!)
      : group
  }
  const step = direction === 'onward' ? 1 : -1
  sessions.forEach((s) => {
    const from = firstEvent[s]!
    const to = firstEvent[s + 1]!
    let at = step === 1 ? from : to - 1
    let last = -1
    if (event[s] !== NO_EVENT) {
      last = codeOf(event[s]!)
      at = event[s]! + step
    }
    for (let walked = 0; at >= from && at < to && walked < depth; at += step) {
      if (kind[at] !== KIND.page && (of === 'pages' || kind[at] !== KIND.click)) continue
      const code = codeOf(at)
      if (fold && code === last) continue
      last = code
      walked++
      tree.step(code)
    }
    tree.end()
  })
}
