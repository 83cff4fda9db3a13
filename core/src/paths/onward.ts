import { z } from 'zod'
import type { SelectedSessions, Selection } from '../closeup/selection.ts'
import { NO_EVENT, selectSessions, viewersInTurn } from '../closeup/selection.ts'
import type { Found } from '../conditions/found.ts'
import type { Block, Codes } from '../events/columns.ts'
import { KIND } from '../events/loose.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import { ones } from '../sets/bits.ts'
import type { SessionSet } from '../sets/session-set.ts'
import type { CountedKeys, Keys, TreeColumns } from './keys.ts'
import { cameThrough, cutAt, cutsOf, joined, listedOf, mergeCounted, PathKeys, treeOf } from './keys.ts'

export const MOST_DEEP = 10

/** So many different paths are finished sooner by several threads. */
const WORTH_CUTTING = 10_000

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
  depth: number
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
  /** what places can be; some may be met nowhere */
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
    const { selection, names } = spec
    const partial = onto ?? emptyPartial(spec)
    const viewers = partial.paths && selection.type === 'page' && viewersInTurn(block, selection, names)
    if (viewers) {
      partial.sessions += addViews(block, listViewers(block, among, viewers), spec, partial.paths!)
      return partial
    }
    const selected = selectSessions(block, among, selection, names)
    if (partial.paths) partial.sessions += addViews(block, listSelected(block, selected), spec, partial.paths)
    else partial.sessions += addEvents(block, selected, spec, partial.tree!)
    return partial
  },

  pack: ({ sessions, groups, depth, paths, tree, keys, counts, columns }) => ({
    sessions,
    groups,
    depth,
    ...(paths ? paths.counted() : { keys, counts }),
    columns: tree ? tree.columns() : columns,
  }),

  merge(one, other) {
    const a = onwardPaths.pack!(one)
    const b = onwardPaths.pack!(other)
    if (a.groups !== b.groups) throw new RangeError('paths of different page groups cannot be merged')
    const { groups, depth } = a
    const both = { sessions: a.sessions + b.sessions, groups, depth }
    if (a.keys && b.keys) return { ...both, ...mergeCounted(a as CountedKeys, b as CountedKeys) }
    const tree = PathTree.from(a.columns!, groups)
    tree.add(b.columns!)
    return { ...both, tree }
  },

  parts: {
    cuts: ({ keys, groups, depth }, count) =>
      keys && keys.length >= WORTH_CUTTING ? cutsOf(keys, groups, depth, count) : undefined,
    split: ({ sessions, ...packed }, cuts) =>
      cutAt(packed as CountedKeys, cuts).map((part, k) => {
        return { ...packed, ...part, sessions: k === 0 ? sessions : 0 }
      }),
    settle({ sessions, groups, depth, ...packed }) {
      const columns = treeOf(packed as CountedKeys, groups, depth)
      return { sessions, groups, depth, columns: { ...columns, sessions: cameThrough(columns) } }
    },
    join: (parts) => ({
      ...parts[0]!,
      sessions: parts.reduce((sum, part) => sum + part.sessions, 0),
      columns: joined(parts.map((part) => part.columns as Required<TreeColumns>)),
    }),
  },

  finish(partial, { names, most }) {
    const { sessions, groups, depth, ...packed } = onwardPaths.pack!(partial)
    const columns = packed.keys ? treeOf(packed as CountedKeys, groups, depth) : packed.columns!
    const { clicks } = columns
    const { parent, code: part, ended, ...listed } = listedOf(columns, most)
    const codes = groups + clicks.length
    const known = part.length < codes ? metIn(part, codes) : Array.from({ length: codes }, (_, code) => code)
    const parts = known.map((code) => partOf(code, groups, clicks, names))
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
    ? { sessions: 0, groups, depth, paths: new PathKeys(groups, depth) }
    : { sessions: 0, groups, depth, tree: new PathTree(groups) }
}

/** Those of so many codes that are in a short column, which from then on holds their places in this list. */
function metIn(column: Uint32Array, codes: number): number[] {
  const met: number[] = []
  /** by code its place plus 1; 0 = not there yet */
  const place = new Uint32Array(codes)
  for (let k = 0; k < column.length; k++) {
    const code = column[k]!
    place[code] ||= met.push(code)
    column[k] = place[code] - 1
  }
  return met
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

/** Adds the page groups of the views after or before the moment in each listed session; returns how many these are. */
function addViews(
  block: Block,
  listed: Listed,
  { direction, depth, fold, names: { groups } }: PathSpec,
  paths: PathKeys,
): number {
  const { groupOf } = groups
  const onward = direction === 'onward'
  const ways = waysOf(block, listed, onward, groupOf)
  const walked: Walked = {
    page: block.views.page,
    groupOf,
    step: onward ? 1 : -1,
    depth,
    fold,
    bits: paths.bits,
  }
  const keys = paths.withRoomFor(ways.count)
  if (keys instanceof Int32Array) narrowKeys(ways, walked, keys, paths.length)
  else wideKeys(ways, walked, keys, paths.length)
  paths.length += ways.count
  return ways.count
}

/** Sessions and the moment in each. */
interface Listed {
  count: number
  session: Uint32Array
  /** NO_EVENT where there is none */
  moment: Uint32Array
}

/** From which view to which, the latter left out, a way goes in each listed session, and the page group it starts at. */
interface Ways {
  count: number
  from: Int32Array
  to: Int32Array
  /** -1 where it starts at none */
  group: Int32Array
}

let room: Listed & Ways = roomFor(0)

function roomFor(count: number): typeof room {
  const column = () => new Int32Array(count)
  return {
    count: 0,
    session: new Uint32Array(count + 1),
    moment: new Uint32Array(count + 1),
    from: column(),
    to: column(),
    group: column(),
  }
}

/** The selected sessions of a block, good until the next block is asked about, as are their ways. */
function listSelected(block: Block, { sessions, event }: SelectedSessions): Listed {
  if (room.from.length < block.sessions.count) room = roomFor(block.sessions.count)
  const { session, moment } = room
  room.count = sessions.listInto(session)
  for (let j = 0; j < room.count; j++) moment[j] = event[session[j]!]!
  return room
}

/** The same from a list of the only moment that each session has. */
function listViewers(block: Block, among: SessionSet, { event, session: sessionOf, ranges }: Found): Listed {
  if (room.from.length < block.sessions.count) room = roomFor(block.sessions.count)
  const { session, moment } = room
  const everyone = among.count() === block.sessions.count
  const [from = 0, to = 0] = ranges
  let count = 0
  for (let i = from; i < to; i++) {
    const s = sessionOf[i]!
    session[count] = s
    moment[count] = event[i]!
    count += everyone || among.has(s) ? 1 : 0
  }
  room.count = count
  return room
}

function waysOf(
  { events, sessions: { firstView }, views: { page } }: Block,
  { count, session, moment }: Listed,
  onward: boolean,
  groupOf: Uint32Array,
): Ways {
  const { from, to, group } = room
  // A function called for each of very many sessions would look these up each time.
  const { isView, viewsBefore: before, page: pageOf } = events
  for (let j = 0; j < count; j++) {
    const s = session[j]!
    const at = moment[j]!
    to[j] = onward ? firstView[s + 1]! : firstView[s]! - 1
    if (at === NO_EVENT) {
      from[j] = onward ? firstView[s]! : firstView[s + 1]! - 1
      group[j] = -1
      continue
    }
    const word = isView[at >>> 5]!
    const bit = 1 << (at & 31)
    const view = before[at >>> 5]! + ones(word & (bit - 1))
    const viewed = (word & bit) !== 0
    group[j] = groupOf[viewed ? page[view]! : pageOf[at]!]!
    from[j] = onward ? view + (viewed ? 1 : 0) : view - 1
  }
  return room
}

/** What is the same for all ways. */
interface Walked {
  /** of each view */
  page: Codes
  groupOf: Uint32Array
  step: 1 | -1
  depth: number
  fold: boolean
  /** of a digit */
  bits: number
}

/**
 * The keys of ways, where they are 32-bit numbers. A view that is folded adds a digit of no bits: to decide it costs
 * more than to do it, since nobody can guess.
 */
function narrowKeys(
  { count, from, to, group }: Ways,
  { page, groupOf, step, depth, fold, bits }: Walked,
  keys: Int32Array,
  at: number,
): void {
  const all = depth * bits
  const always = fold ? 0 : -1
  for (let j = 0; j < count; j++) {
    const end = to[j]!
    let last = group[j]!
    let key = 0
    let left = all
    for (let view = from[j]!; view !== end && left > 0; view += step) {
      const code = groupOf[page[view]!]!
      // All bits where the code is another one, else none.
      const counts = (((code - last) | (last - code)) >> 31) | always
      last = code
      left -= bits & counts
      key |= ((code + 1) & counts) << left
    }
    keys[at + j] = key
  }
}

/** The same for wider ones. */
function wideKeys(
  { count, from, to, group }: Ways,
  { page, groupOf, step, depth, fold, bits }: Walked,
  keys: Float64Array,
  at: number,
): void {
  const base = 2 ** bits
  const worth = Float64Array.from({ length: depth + 1 }, (_, behind) => base ** behind)
  for (let j = 0; j < count; j++) {
    const end = to[j]!
    let last = group[j]!
    let key = 0
    let left = depth
    for (let view = from[j]!; view !== end && left > 0; view += step) {
      const code = groupOf[page[view]!]!
      if (fold && code === last) continue
      last = code
      key = key * base + code + 1
      left--
    }
    keys[at + j] = key * worth[left]!
  }
}

/** Adds what came after or before the moment in each session, event by event; returns how many sessions these are. */
function addEvents(
  block: Block,
  { sessions, event }: SelectedSessions,
  { of, direction, depth, fold, names }: PathSpec,
  tree: PathTree,
): number {
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
  return sessions.count()
}
