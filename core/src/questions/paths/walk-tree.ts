import type { Block } from '../../columns/block.ts'
import type { Place } from '../../select/grammar/walk.ts'
import { placeText } from '../../select/grammar/walk.ts'
import type { SelectedSessions } from '../../select/selected-sessions.ts'
import { Walker } from '../../select/walker.ts'
import type { VisitorSteps } from '../../select/visitor-walks.ts'
import { eachVisitorPath } from '../../select/visitor-walks.ts'
import type { PathOptions, PathSpec } from './path-options.ts'
import type { TreeColumns } from './tree-columns.ts'

/** A prefix tree of paths whose steps can be anything. */
export interface WalkNode {
  place: Place | null
  ended: number
  /** paths that go on from here, deeper than is looked */
  beyond: number
  /** by the text of the place */
  next: Map<string, WalkNode>
}

export const noWalks = (place: Place | null = null): WalkNode => ({
  place,
  ended: 0,
  beyond: 0,
  next: new Map(),
})

/** Adds the paths of the selected sessions; returns how many these are. */
export function addWalks(
  block: Block,
  { sessions, event }: SelectedSessions,
  spec: PathSpec,
  root: WalkNode,
): number {
  const walker = new Walker(block, spec.names, spec, spec.direction)
  const add = pathAdder(
    root,
    walker.places,
    wantedCodes(spec, (place) => walker.codeOf(place)),
  )
  let paths = 0
  for (const s of sessions)
    for (const start of walker.starts(s, event[s]!))
      if (add((visit) => walker.walk(s, start, spec.depth, visit))) paths++
  return paths
}

/** A path that is walked step by step: it says whether it goes on, deeper than was looked. */
type Walked = (visit: (place: number) => boolean) => boolean

const ANY = -1
/** A place that is nowhere. */
const NONE = -2

/** The codes of the places with which paths must begin. */
function wantedCodes({ through = [] }: PathOptions, codeOf: (place: Place) => number): number[] {
  return through.map((part) =>
    part === null ? ANY : codeOf(typeof part === 'string' ? { kind: 'page', page: part } : part),
  )
}

/** Adds paths to a tree that begin with certain places; says of each whether it did. */
function pathAdder(
  root: WalkNode,
  places: readonly Place[],
  wanted: readonly number[],
): (path: Walked) => boolean {
  /** by code the text of a place */
  const texts: string[] = []
  const codes: number[] = []
  return (path) => {
    codes.length = 0
    const goesOn = path((code) => {
      const must = wanted[codes.length] ?? ANY
      codes.push(code)
      return must === ANY || must === code
    })
    if (codes.length < wanted.length) return false
    for (let k = 0; k < wanted.length; k++) if (wanted[k] !== ANY && wanted[k] !== codes[k]) return false
    let node = root
    for (const code of codes) node = childOf(node, (texts[code] ??= placeText(places[code]!)), places[code]!)
    if (goesOn) node.beyond++
    else node.ended++
    return true
  }
}

/** The paths of visitors as a tree, and how many they are. */
export function walksOfVisitors(
  steps: VisitorSteps,
  options: PathOptions,
): { walks: WalkNode; paths: number } {
  const codes = new Map(steps.places.map((place, k) => [placeText(place), k]))
  const wanted = wantedCodes(options, (place) => codes.get(placeText(place)) ?? NONE)
  const walks = noWalks()
  const add = pathAdder(walks, steps.places, wanted)
  let paths = 0
  eachVisitorPath(steps, options, options.direction, options.depth, ({ walk }) => {
    if (add(walk)) paths++
  })
  return { walks, paths }
}

function childOf(node: WalkNode, text: string, place: Place): WalkNode {
  let child = node.next.get(text)
  if (!child) node.next.set(text, (child = noWalks(place)))
  return child
}

/** Both trees as one, put into the first. */
export function mergeWalks(a: WalkNode, b: WalkNode): WalkNode {
  a.ended += b.ended
  a.beyond += b.beyond
  for (const [text, other] of b.next) {
    const own = a.next.get(text)
    if (own) mergeWalks(own, other)
    else a.next.set(text, other)
  }
  return a
}

/** The tree as columns, a parent before its children, and the places that its codes stand for. */
export function walkColumns(root: WalkNode): { columns: TreeColumns; places: Place[] } {
  const nodes: { node: WalkNode; parent: number }[] = [{ node: root, parent: 0 }]
  for (let k = 0; k < nodes.length; k++)
    for (const [, child] of [...nodes[k]!.node.next].sort(([one], [other]) => (one < other ? -1 : 1)))
      nodes.push({ node: child, parent: k })
  const codes = new Map<string, number>()
  const places: Place[] = []
  const codeOf = ({ place }: WalkNode) => {
    if (!place) return 0
    const text = placeText(place)
    let code = codes.get(text)
    if (code === undefined) codes.set(text, (code = places.push(place) - 1))
    return code
  }
  return {
    columns: {
      parent: Uint32Array.from(nodes, ({ parent }) => parent),
      code: Uint32Array.from(nodes, ({ node }) => codeOf(node)),
      ended: Uint32Array.from(nodes, ({ node }) => node.ended),
      beyond: Uint32Array.from(nodes, ({ node }) => node.beyond),
      clicks: [],
    },
    places,
  }
}
