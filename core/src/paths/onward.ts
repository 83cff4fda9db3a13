import { z } from 'zod'
import type { Selection } from '../closeup/selection.ts'
import { selectSessions } from '../closeup/selection.ts'
import type { Block } from '../events/columns.ts'
import { KIND } from '../events/columns.ts'
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
  next: PathNode[]
}

/** A tree of codes: node 0 is the root, every other comes after its parent. */
export interface PathPartial {
  sessions: number
  parent: number[]
  code: number[]
  /** sessions whose path ends at the node */
  ended: number[]
  /** code -> what it stands for */
  parts: Map<number, Omit<PathNode, 'sessions' | 'ended' | 'next'>>
}

export interface PathResult {
  sessions: number
  /** sessions with nothing after the moment */
  ended: number
  next: PathNode[]
}

/**
 * Where sessions went from a moment, as a prefix tree with counts: every node counts the sessions whose path begins like
 * the way to it. Exact. With a depth of 1 it is what came directly next.
 * Complexity: events after the moment until the depth is reached; partials hold distinct paths alone.
 */
export const onwardPaths: Analysis<PathSpec, PathPartial, PathResult> = {
  scan(block, among, spec) {
    const { sessions, momentMs } = selectSessions(block, among, spec.selection, spec.names)
    const tree = new Tree()
    const parts: PathPartial['parts'] = new Map()
    let count = 0
    sessions.forEach((s) => {
      count++
      tree.end(walk(block, s, momentMs[s]!, spec, tree, parts))
    })
    return { sessions: count, parent: tree.parent, code: tree.code, ended: tree.ended, parts }
  },

  merge(a, b) {
    const tree = treeOf(a)
    const nodes = [0]
    for (let node = 0; node < b.parent.length; node++) {
      if (node > 0) nodes[node] = tree.child(nodes[b.parent[node]!]!, b.code[node]!)
      tree.end(nodes[node]!, b.ended[node])
    }
    for (const [code, part] of b.parts) a.parts.set(code, part)
    a.sessions += b.sessions
    return a
  },

  finish({ sessions, parent, code, ended, parts }) {
    const nodes = parent.map((_, node): PathNode => ({
      ...(node ? parts.get(code[node]!)! : { kind: 'page', page: '' }),
      sessions: ended[node]!,
      ended: ended[node]!,
      next: [],
    }))
    // Children come after their parents: from the end every node is whole before it counts for its parent.
    for (let node = nodes.length - 1; node > 0; node--) {
      const above = nodes[parent[node]!]!
      above.sessions += nodes[node]!.sessions
      above.next.push(nodes[node]!)
    }
    for (const node of nodes) node.next.sort(largestFirst)
    return { sessions, ended: nodes[0]!.ended, next: nodes[0]!.next }
  },
}

/** The trees of partials, so that a tree that grows block by block is not indexed anew for each. */
const trees = new WeakMap<PathPartial, Tree>()

function treeOf(partial: PathPartial): Tree {
  let tree = trees.get(partial)
  if (!tree) trees.set(partial, (tree = new Tree(partial)))
  return tree
}

/** A code is a page group and an element family together; there are fewer families than this. */
const FAMILIES = 2 ** 26
/** Different codes on the paths of one question: fewer than this. */
const DIFFERENT = 2 ** 24

class Tree {
  readonly parent: number[]
  readonly code: number[]
  readonly ended: number[]
  readonly #children = new Map<number, number>()
  /** code -> a small number that stands for it in the key of a child */
  readonly #small = new Map<number, number>()

  constructor(from?: Pick<PathPartial, 'parent' | 'code' | 'ended'>) {
    this.parent = from?.parent ?? [0]
    this.code = from?.code ?? [0]
    this.ended = from?.ended ?? [0]
    for (let node = 1; node < this.parent.length; node++)
      this.#children.set(this.#key(this.parent[node]!, this.code[node]!), node)
  }

  child(node: number, code: number): number {
    const key = this.#key(node, code)
    let child = this.#children.get(key)
    if (child === undefined) {
      child = this.parent.push(node) - 1
      this.code.push(code)
      this.ended.push(0)
      this.#children.set(key, child)
    }
    return child
  }

  #key(node: number, code: number): number {
    let small = this.#small.get(code)
    if (small === undefined) this.#small.set(code, (small = this.#small.size))
    return node * DIFFERENT + small
  }

  end(node: number, sessions = 1): void {
    this.ended[node]! += sessions
  }
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

/**
 * Walks from a moment along what came after (or, going back, before) it; a moment that is not known is the session's
 * start or end. Returns the node of the tree where the path ends.
 */
function walk(
  block: Block,
  session: number,
  momentMs: number,
  { of, direction, depth, fold, names }: PathSpec,
  tree: Tree,
  parts: PathPartial['parts'],
): number {
  const { kind, page, target, atMs } = block.events
  const { groupOf } = names.groups
  const { familyOf } = names.families
  const clicks = of === 'pages and clicks'
  const from = block.sessions.firstEvent[session]!
  const to = block.sessions.firstEvent[session + 1]!
  const step = direction === 'onward' ? 1 : -1
  const codeOf = (event: number) =>
    groupOf[page[event]!]! * FAMILIES +
    (clicks && kind[event] === KIND.click ? familyOf[target[event]!]! + 1 : 0)
  let at = direction === 'onward' ? from : to - 1
  let last = -1
  if (!Number.isNaN(momentMs)) {
    // The event of the moment itself: the last one at that time, since what led there may share it.
    at = from
    while (at + 1 < to && atMs[at + 1]! <= momentMs) at++
    last = codeOf(at)
    at += step
  }
  let node = 0
  for (let walked = 0; at >= from && at < to && walked < depth; at += step) {
    if (kind[at] !== KIND.page && !(clicks && kind[at] === KIND.click)) continue
    const code = codeOf(at)
    if (fold && code === last) continue
    last = code
    walked++
    node = tree.child(node, code)
    if (!parts.has(code)) parts.set(code, partOf(at))
  }
  return node

  function partOf(event: number) {
    const name = names.groups.names[groupOf[page[event]!]!]!
    if (kind[event] !== KIND.click) return { kind: 'page' as const, page: name }
    const selector = names.families.names[familyOf[target[event]!]!]!
    return { kind: 'click' as const, page: name, selector }
  }
}
