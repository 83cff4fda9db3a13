import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import type { SessionSet } from '../../columns/session-set.ts'
import type { Names } from '../../labels/names.ts'
import type { Selection } from '../../select/grammar/conditions.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { placeShape } from '../../select/grammar/walk.ts'
import type { Place } from '../../select/grammar/walk.ts'
import { viewersInTurn } from '../../select/page-sessions.ts'
import { selectSessions } from '../../select/sessions.ts'
import type { VisitorSteps } from '../../select/visitor-walks.ts'
import { joinSteps, VisitorStepsFound } from '../../select/visitor-walks.ts'
import { Walker } from '../../select/walker.ts'
import { countSchema } from '../../stats/rate.ts'
import type { Row } from '../question.ts'
import { columnQuestion, selectionNeeds } from '../question.ts'
import { cutAt, cutsOf } from './cuts.ts'
import { addEvents } from './event-paths.ts'
import { mostWalked } from './most-walked.ts'
import { PathKeys } from './path-keys.ts'
import type { PathSpec } from './path-options.ts'
import { needsWalker, pathOptionsSchema } from './path-options.ts'
import { FAMILIES, PathTree } from './path-tree.ts'
import type { ListedPlaces, TreeColumns } from './tree-columns.ts'
import { joined, listedOf, mostOf } from './tree-columns.ts'
import type { Listed } from './view-paths.ts'
import { addViews, listSelected, listViewers } from './view-paths.ts'
import type { WalkNode } from './walk-tree.ts'
import { addWalks, mergeWalks, noWalks, walkColumns, walksOfVisitors } from './walk-tree.ts'

/** So many paths are finished sooner by several threads. */
const WORTH_CUTTING = 10_000

/** One place in the tree: how many sessions came this way, and how many of them ended here. */
const nodeShape = {
  ...placeShape,
  sessions: countSchema,
  /** sessions with nothing further */
  ended: countSchema,
}
export type PathNode = z.infer<z.ZodObject<typeof nodeShape>> & {
  /** the most walked ways on; what they leave of the sessions went on in ways too rare to be listed */
  next: PathNode[]
}
const nodeSchema: z.ZodType<PathNode> = z.lazy(() => z.object({ ...nodeShape, next: z.array(nodeSchema) }))

export interface PathsFound {
  sessions: number
  groups: number
  depth: number
  /** while blocks are read: whole paths as numbers, where they are of pages alone, else a tree */
  paths?: PathKeys | undefined
  tree?: PathTree | undefined
  /** when packed: the numbers of all paths, a column for each number of a path, or the tree */
  rows?: Int32Array[] | undefined
  columns?: TreeColumns | undefined
  /** when finished in parts: the places of the part that may be listed */
  listed?: ListedPlaces | undefined
  /** in place of all these, where steps can be anything */
  walks?: WalkNode | undefined
  /** in place of all these, where the sessions of visitors are walked as one: while blocks are read, and when packed */
  gathering?: VisitorStepsFound | undefined
  steps?: VisitorSteps | undefined
}

/** What comes out, as columns: hundreds of thousands of places are handed from thread to thread without a copy. */
export interface PathColumns {
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
  parts: Place[]
}

/**
 * Where sessions went from a moment, as a prefix tree with counts: every node counts the sessions whose path begins like
 * the way to it. Exact. With a depth of 1 it is what came directly next. With `most` at most so many places are
 * listed, those with the most sessions; equally rare ones are all listed or none, so that it does not matter who was met
 * first.
 * Complexity: views (or events) after the moment until the depth is reached; of page groups founds hold a number or a few for each path,
 * of anything else distinct paths alone.
 */
export const paths = columnQuestion({
  name: 'paths',
  summary: 'where the sessions of a selection went from its moment, or where they had come from',
  asked: z.strictObject({
    selection: selectionSchema.describe('picks the sessions, and in each the moment the paths go out from'),
    options: pathOptionsSchema.default(pathOptionsSchema.parse({})),
  }),
  answer: z.object({
    sessions: countSchema,
    /** sessions with nothing after the moment */
    ended: countSchema,
    /** how many different places there are in the whole tree */
    places: countSchema,
    next: z.array(nodeSchema),
  }),
  example: { selection: { type: 'everyone' }, options: { depth: 3 } },
  refuse: ({ selection, options: { at = 'first', start, through, depth } }) =>
    at !== 'first' && !start && selection.type !== 'page'
      ? `options.at: "${at}" needs a start, or the selection of a page`
      : (through?.length ?? 0) > depth
        ? `options.through: it has ${through!.length} places, and only ${depth} steps are looked at (options.depth)`
        : undefined,
  needs: selectionNeeds,
  adds: true,

  scan(block, among, { selection, options, names }, onto?: PathsFound): PathsFound {
    const spec = { ...options, names }
    const found = onto ?? nothingFound(spec)
    if (found.gathering) {
      const selected = selectSessions(block, among, selection, names)
      const walk = startOf(spec, selection)
      found.gathering.add(block, among, selected, new Walker(block, names, walk, walk.direction))
      return found
    }
    if (found.walks) {
      const selected = selectSessions(block, among, selection, names)
      found.sessions += addWalks(block, selected, startOf(spec, selection), found.walks)
      return found
    }
    if (found.paths) {
      found.sessions += addViews(block, listedIn(block, among, selection, names), spec, found.paths)
      return found
    }
    const selected = selectSessions(block, among, selection, names)
    found.sessions += addEvents(block, selected, spec, found.tree!)
    return found
  },

  pack: packed,

  merge(one, other) {
    if (one.steps ?? one.gathering)
      return { ...one, gathering: undefined, steps: joinSteps(stepsOf(one), stepsOf(other)) }
    if (one.walks && other.walks)
      return { ...one, sessions: one.sessions + other.sessions, walks: mergeWalks(one.walks, other.walks) }
    const a = packed(one)
    const b = packed(other)
    if (a.groups !== b.groups) throw new RangeError('paths of different page groups cannot be merged')
    const { groups, depth } = a
    const both = { sessions: a.sessions + b.sessions, groups, depth }
    if (a.rows && b.rows)
      return { ...both, rows: a.rows.map((column, w) => oneAfterOther(column, b.rows![w]!)) }
    const tree = PathTree.from(a.columns!, groups)
    tree.add(b.columns!)
    return { ...both, tree }
  },

  parts: {
    cuts: ({ rows, groups, depth }, count) =>
      rows && rows[0]!.length >= WORTH_CUTTING ? cutsOf(rows[0]!, groups, depth, count) : undefined,
    split: ({ sessions, ...rest }, cuts) =>
      cutAt(rest.rows!, cuts).map((rows, k) => ({ ...rest, rows, sessions: k === 0 ? sessions : 0 })),
    finishPart: ({ sessions, groups, depth, rows }, { options: { most } }) => ({
      ...{ sessions, groups, depth },
      listed: mostWalked(rows!, groups, depth, most),
    }),
    join: (parts) => ({
      ...parts[0]!,
      sessions: parts.reduce((sum, part) => sum + part.sessions, 0),
      listed: joined(parts.map((part) => part.listed!)),
    }),
  },

  finish(found, { names, options }): PathColumns {
    const { most } = options
    if (found.steps ?? found.gathering) {
      const { walks, paths: walked } = walksOfVisitors(stepsOf(found), options)
      return finishWalks(walked, walks, most)
    }
    if (found.walks) return finishWalks(found.sessions, found.walks, most)
    const { sessions, groups, depth, columns, rows } = packed(found)
    const clicks = columns?.clicks ?? []
    const {
      parent,
      code: part,
      ended,
      ...listed
    } = columns
      ? listedOf(columns, most)
      : found.listed
        ? mostOf(found.listed, most)
        : mostWalked(rows!, groups, depth, most)
    const codes = groups + clicks.length
    const met = part.length < codes ? metIn(part, codes) : Array.from({ length: codes }, (_, code) => code)
    const parts = met.map((code) => partOf(code, groups, clicks, names))
    const tree = { parent, part, sessions: listed.sessions, ended }
    return { sessions, ended: ended[0]!, places: listed.places, tree, parts }
  },

  toAnswer(result) {
    const { sessions, ended, places } = result
    return { sessions, ended, places, next: pathNodes(result) }
  },

  table: ({ next }) => rowsOf(next, []),
})

/** The sessions of a block that are selected, each with its moment. */
export function listedIn(block: Block, among: SessionSet, selection: Selection, names: Names): Listed {
  const viewers = selection.type === 'page' && viewersInTurn(block, selection, names)
  return viewers
    ? listViewers(block, among, viewers)
    : listSelected(block, selectSessions(block, among, selection, names))
}

/** What was found in the form in which it is merged and handed over. */
function packed(found: PathsFound): PathsFound {
  const { sessions, groups, depth, paths, tree, rows, columns } = found
  if (found.gathering) return { ...found, gathering: undefined, steps: found.gathering.steps() }
  if (found.walks ?? found.steps) return found
  return {
    ...{ sessions, groups, depth },
    rows: paths ? paths.rows() : rows,
    columns: tree ? tree.columns() : columns,
  }
}

function oneAfterOther(a: Int32Array, b: Int32Array): Int32Array {
  const both = new Int32Array(a.length + b.length)
  both.set(a)
  both.set(b, a.length)
  return both
}

const stepsOf = ({ gathering, steps }: PathsFound) => steps ?? gathering!.steps()

function rowsOf(nodes: readonly PathNode[], before: readonly string[]): Row[] {
  return nodes.flatMap((node) => {
    const what = node.selector ?? node.name
    const path = [...before, what ? `${node.page}: ${what}` : node.page]
    return [
      { path: path.join(' > '), steps: path.length, sessions: node.sessions, ended: node.ended },
      ...rowsOf(node.next, path),
    ]
  })
}

/** The listed places as a tree of objects, the most walked first. */
export function pathNodes({ tree, parts }: PathColumns): PathNode[] {
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

/** The same with the views of the page as the start, where they are asked for in another way than the first. */
function startOf(spec: PathSpec, selection: Selection): PathSpec {
  if (spec.start || (spec.at ?? 'first') === 'first' || selection.type !== 'page') return spec
  return { ...spec, start: { kinds: ['page'], page: { is: 'equal', to: selection.page } } }
}

function finishWalks(sessions: number, walks: WalkNode, most: number | null): PathColumns {
  const { columns, places: parts } = walkColumns(walks)
  const { parent, code: part, ended, ...listed } = listedOf(columns, most)
  return {
    ...{ sessions, ended: ended[0]!, places: listed.places, parts },
    tree: { parent, part, sessions: listed.sessions, ended },
  }
}

function nothingFound(spec: PathSpec): PathsFound {
  const { names, of, depth } = spec
  const groups = names.groups.names.length
  if (spec.per === 'visitor') return { sessions: 0, groups, depth, gathering: new VisitorStepsFound() }
  if (needsWalker(spec)) return { sessions: 0, groups, depth, walks: noWalks() }
  return of === 'pages'
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
): PathColumns['parts'][0] {
  if (code < groups) return { kind: 'page', page: names.groups.names[code]! }
  const click = clicks[code - groups]!
  return {
    kind: 'click',
    page: names.groups.names[Math.floor(click / FAMILIES)]!,
    selector: names.families.names[click % FAMILIES]!,
  }
}

function largestFirst(a: PathNode, b: PathNode): number {
  return (
    b.sessions - a.sessions ||
    byText(a.page, b.page) ||
    byText(a.kind, b.kind) ||
    byText(a.selector ?? '', b.selector ?? '') ||
    byText(a.name ?? '', b.name ?? '')
  )
}

/** By code unit: a tree may have very many ties, and this is many times as fast as by language. */
function byText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}
