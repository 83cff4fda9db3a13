import { z } from 'zod'
import type { Selection } from '../closeup/selection.ts'
import { selectSessions } from '../closeup/selection.ts'
import type { Block } from '../events/columns.ts'
import { KIND } from '../events/columns.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import { addCounts } from '../sets/analysis.ts'

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

export interface PathPartial {
  sessions: number
  /** a path as codes joined by "," -> sessions with exactly this path */
  paths: Map<string, number>
  /** code -> what it stands for */
  parts: Map<string, Omit<PathNode, 'sessions' | 'ended' | 'next'>>
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
    const partial: PathPartial = { sessions: 0, paths: new Map(), parts: new Map() }
    for (const s of sessions) {
      partial.sessions++
      const path = pathOf(block, s, momentMs[s]!, spec, partial.parts)
      const key = path.join(',')
      partial.paths.set(key, (partial.paths.get(key) ?? 0) + 1)
    }
    return partial
  },

  merge: (a, b) => ({
    sessions: a.sessions + b.sessions,
    paths: addCounts(a.paths, b.paths),
    parts: new Map([...a.parts, ...b.parts]),
  }),

  finish({ sessions, paths, parts }) {
    const root: PathNode = { kind: 'page', page: '', sessions, ended: 0, next: [] }
    const children = new Map<PathNode, Map<string, PathNode>>([[root, new Map()]])
    for (const [key, count] of paths) {
      let node = root
      for (const code of key === '' ? [] : key.split(',')) {
        let child = children.get(node)!.get(code)
        if (!child) {
          child = { ...parts.get(code)!, sessions: 0, ended: 0, next: [] }
          children.get(node)!.set(code, child)
          children.set(child, new Map())
          node.next.push(child)
        }
        child.sessions += count
        node = child
      }
      node.ended += count
    }
    for (const node of children.keys()) node.next.sort(largestFirst)
    return { sessions, ended: root.ended, next: root.next }
  },
}

function largestFirst(a: PathNode, b: PathNode): number {
  return (
    b.sessions - a.sessions ||
    a.page.localeCompare(b.page) ||
    a.kind.localeCompare(b.kind) ||
    (a.selector ?? '').localeCompare(b.selector ?? '')
  )
}

/** Codes of what came after (or, going back, before) a moment; a moment that is not known is the session's start or end. */
function pathOf(
  block: Block,
  session: number,
  momentMs: number,
  { of, direction, depth, fold, names }: PathSpec,
  parts: PathPartial['parts'],
): string[] {
  const { kind, page, target, atMs } = block.events
  const from = block.sessions.firstEvent[session]!
  const to = block.sessions.firstEvent[session + 1]!
  const step = direction === 'onward' ? 1 : -1
  let at = direction === 'onward' ? from : to - 1
  let last = ''
  if (!Number.isNaN(momentMs)) {
    // The event of the moment itself: the last one at that time, since what led there may share it.
    at = from
    while (at + 1 < to && atMs[at + 1]! <= momentMs) at++
    last = codeOf(at)
    at += step
  }
  const path: string[] = []
  for (; at >= from && at < to && path.length < depth; at += step) {
    if (kind[at] !== KIND.page && !(of === 'pages and clicks' && kind[at] === KIND.click)) continue
    const code = codeOf(at)
    if (fold && code === last) continue
    last = code
    path.push(code)
    if (!parts.has(code)) parts.set(code, partOf(at))
  }
  return path

  function codeOf(event: number): string {
    const group = names.groups.groupOf[page[event]!]!
    return of === 'pages and clicks' && kind[event] === KIND.click
      ? `${group}:${names.families.familyOf[target[event]!]!}`
      : String(group)
  }

  function partOf(event: number) {
    const name = names.groups.names[names.groups.groupOf[page[event]!]!]!
    if (kind[event] !== KIND.click) return { kind: 'page' as const, page: name }
    const selector = names.families.names[names.families.familyOf[target[event]!]!]!
    return { kind: 'click' as const, page: name, selector }
  }
}
