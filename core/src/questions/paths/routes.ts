import type { PathNode } from './paths.ts'

/** A way that many walk, as far as many walk it together. */
export interface Route {
  /** page groups one after the other */
  parts: string[]
  sessions: number
  /** of these, those with nothing further */
  ended: number
}

/**
 * The ways that at least so many sessions walk, each as far as so many still walk it: none of them begins like another one.
 * Those with most sessions first; what ended earlier, or went in rarer ways, is in none.
 */
export function routesOf(next: readonly PathNode[], least: number): Route[] {
  const routes: Route[] = []
  const walk = (nodes: readonly PathNode[], before: readonly string[]): boolean => {
    const common = nodes.filter(({ sessions }) => sessions >= least)
    for (const node of common) {
      const parts = [...before, node.page]
      if (!walk(node.next, parts)) routes.push({ parts, sessions: node.sessions, ended: node.ended })
    }
    return common.length > 0
  }
  walk(next, [])
  return routes.sort((a, b) => b.sessions - a.sessions || a.parts.join().localeCompare(b.parts.join()))
}

/** What all ways have in their nth step, whatever came before. */
export interface PathStep {
  /** sessions that took this step at all */
  sessions: number
  pages: { page: string; sessions: number; ended: number }[]
  /** of these sessions those whose page here is not listed, since their way is too rare */
  rest: number
}

/** The steps of all ways, pages that are the same merged, the most walked first. @param sessions  that began */
export function pathSteps(
  { next, sessions, ended }: { next: readonly PathNode[]; sessions: number; ended: number },
  depth: number,
): PathStep[] {
  const steps: PathStep[] = []
  let nodes = next
  let going = sessions - ended
  for (let k = 0; k < depth && going > 0; k++) {
    const pages = new Map<string, { page: string; sessions: number; ended: number }>()
    let listed = 0
    for (const node of nodes) {
      const own = pages.get(node.page) ?? { page: node.page, sessions: 0, ended: 0 }
      own.sessions += node.sessions
      own.ended += node.ended
      listed += node.sessions
      pages.set(node.page, own)
    }
    steps.push({
      sessions: going,
      pages: [...pages.values()].sort((a, b) => b.sessions - a.sessions || a.page.localeCompare(b.page)),
      rest: going - listed,
    })
    const endedHere = nodes.reduce((sum, node) => sum + node.ended, 0)
    nodes = nodes.flatMap((node) => node.next)
    going = listed - endedHere
  }
  return steps
}
