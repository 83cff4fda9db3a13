import { z } from 'zod'
import type { Selection } from '../closeup/selection.ts'
import { NO_EVENT, selectSessions } from '../closeup/selection.ts'
import type { Block } from '../events/columns.ts'
import { KIND } from '../events/loose.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import { Growing } from '../stats/growing.ts'

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
export interface TreeColumns {
  parent: Uint32Array
  /** page group; a click is the number of groups plus its place in `clicks` */
  code: Uint32Array
  /** sessions whose path ends at the node */
  ended: Uint32Array
  /** page group × FAMILIES + element family */
  clicks: number[]
}

export interface PathPartial {
  sessions: number
  groups: number
  /** while blocks are read: whole paths as numbers, where they fit into one, else a tree */
  paths?: PathKeys | undefined
  tree?: PathTree | undefined
  /** when packed: different paths in ascending order and how many sessions took each, or the tree */
  keys?: Float64Array | undefined
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
 * the way to it. Exact. With a depth of 1 it is what came directly next. See mostWalked for what is listed.
 * Complexity: views (or events) after the moment until the depth is reached; partials hold distinct paths alone.
 */
export const onwardPaths: Analysis<PathSpec, PathPartial, PathResult> = {
  adds: true,

  scan(block, among, spec, onto) {
    const { sessions, event } = selectSessions(block, among, spec.selection, spec.names)
    const partial = onto ?? emptyPartial(spec)
    const { paths, tree } = partial
    const walk =
      spec.of === 'pages' ? viewWalker(block, spec, paths ?? tree!) : eventWalker(block, spec, tree!)
    sessions.forEach((s) => {
      partial.sessions++
      walk(s, event[s]!)
    })
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
    if (a.keys && b.keys) return { sessions, groups: a.groups, ...mergeCounted(a, b) }
    const tree = PathTree.from(a.columns!, a.groups)
    tree.add(b.columns!)
    return { sessions, groups: a.groups, tree }
  },

  finish(partial, { names, most, depth }) {
    const { sessions, groups, ...packed } = onwardPaths.pack!(partial)
    const columns = packed.keys ? treeOf(packed.keys, packed.counts!, groups, depth) : packed.columns!
    const { parent, code, ended, clicks } = columns
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

function emptyPartial({ names, of, depth }: PathSpec): PathPartial {
  const groups = names.groups.names.length
  const fits = of === 'pages' && (groups + 1) ** depth < Number.MAX_SAFE_INTEGER
  return fits
    ? { sessions: 0, groups, paths: new PathKeys(groups, depth) }
    : { sessions: 0, groups, tree: new PathTree(groups) }
}

/**
 * Whole paths, each as one number: its page groups plus 1 as digits, the first one the highest, 0 for nothing further.
 * Sorting numbers and counting equal ones takes a fraction of the time that finding places in a tree does.
 */
class PathKeys {
  #growing = new Growing()
  readonly #base: number
  #key = 0
  #left: number

  constructor(
    groups: number,
    private readonly depth: number,
  ) {
    this.#base = groups + 1
    this.#left = depth
  }

  step(code: number): void {
    this.#key = this.#key * this.#base + code + 1
    this.#left--
  }

  end(): void {
    for (; this.#left > 0; this.#left--) this.#key *= this.#base
    this.#growing.push(this.#key)
    this.#key = 0
    this.#left = this.depth
  }

  counted(): { keys: Float64Array; counts: Uint32Array } {
    const keys = sorted(this.#growing.values(), this.#base ** this.depth)
    const counts = new Uint32Array(keys.length)
    let n = 0
    for (let i = 0; i < keys.length; i++) {
      if (n === 0 || keys[i] !== keys[n - 1]) keys[n++] = keys[i]!
      counts[n - 1]!++
    }
    return { keys: keys.slice(0, n), counts: counts.slice(0, n) }
  }
}

/**
 * Whole numbers below a limit in ascending order, sorted in place where they are large. Small ones are sorted digit by
 * digit, 16 bits at a time, which is several times as fast.
 */
function sorted(keys: Float64Array, below: number): Float64Array {
  if (below > 2 ** 32 || keys.length < 4096) return keys.sort()
  let from = new Uint32Array(keys)
  let to = new Uint32Array(keys.length)
  for (const shift of [0, 16]) {
    const places = new Uint32Array(65_537)
    for (let i = 0; i < from.length; i++) places[((from[i]! >>> shift) & 0xffff) + 1]!++
    for (let d = 0; d < 65_536; d++) places[d + 1]! += places[d]!
    for (let i = 0; i < from.length; i++) to[places[(from[i]! >>> shift) & 0xffff]!++] = from[i]!
    ;[from, to] = [to, from]
  }
  keys.set(from)
  return keys
}

function mergeCounted(a: PathPartial, b: PathPartial): { keys: Float64Array; counts: Uint32Array } {
  const length = a.keys!.length + b.keys!.length
  const keys = new Float64Array(length)
  const counts = new Uint32Array(length)
  let i = 0
  let j = 0
  let n = 0
  while (i < a.keys!.length || j < b.keys!.length) {
    const x = i < a.keys!.length ? a.keys![i]! : Infinity
    const y = j < b.keys!.length ? b.keys![j]! : Infinity
    keys[n] = Math.min(x, y)
    if (x <= y) counts[n]! += a.counts![i++]!
    if (y <= x) counts[n]! += b.counts![j++]!
    n++
  }
  return { keys: keys.subarray(0, n), counts: counts.subarray(0, n) }
}

/** The tree of paths in ascending order: each differs from the one before from some place on. */
function treeOf(keys: Float64Array, counts: Uint32Array, groups: number, depth: number): TreeColumns {
  const base = groups + 1
  const powers = Array.from({ length: depth }, (_, d) => base ** (depth - 1 - d))
  const room = 1 + keys.length * depth
  const parent = new Uint32Array(room)
  const code = new Uint32Array(room)
  const ended = new Uint32Array(room)
  /** nodes and digits on the way to the path before */
  const nodes = new Uint32Array(depth + 1)
  const digits = new Uint32Array(depth)
  let size = 1
  for (let i = 0; i < keys.length; i++) {
    let rest = keys[i]!
    let same = true
    let at = 0
    for (; at < depth; at++) {
      const digit = Math.floor(rest / powers[at]!)
      if (digit === 0) break
      rest -= digit * powers[at]!
      same &&= digits[at] === digit
      if (same) continue
      digits[at] = digit
      digits.fill(0, at + 1)
      parent[size] = nodes[at]!
      code[size] = digit - 1
      nodes[at + 1] = size++
    }
    ended[nodes[at]!]! += counts[i]!
  }
  const fit = (column: Uint32Array) => column.slice(0, size)
  return { parent: fit(parent), code: fit(code), ended: fit(ended), clicks: [] }
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

/** Walks from an event of a session along what came after or before. */
type Walker = (session: number, event: number) => void

/** Along page views alone. */
function viewWalker(
  block: Block,
  { direction, depth, fold, names }: PathSpec,
  into: PathKeys | PathTree,
): Walker {
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
    for (let walked = 0; at >= from && at < to && walked < depth; at += step) {
      const code = groupOf[views.page[at]!]!
      if (fold && code === last) continue
      last = code
      walked++
      into.step(code)
    }
    into.end()
  }
}

/** Along page views and clicks. */
function eventWalker(block: Block, { direction, depth, fold, names }: PathSpec, tree: PathTree): Walker {
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
    for (let walked = 0; at >= from && at < to && walked < depth; at += step) {
      if (kind[at] !== KIND.page && kind[at] !== KIND.click) continue
      const code = codeOf(at)
      if (fold && code === last) continue
      last = code
      walked++
      tree.step(code)
    }
    tree.end()
  }
}
