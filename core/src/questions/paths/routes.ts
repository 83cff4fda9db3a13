import type { Place } from '../../select/grammar/walk.ts'
import { placeText } from '../../select/grammar/walk.ts'
import type { PathNode } from './paths.ts'

/** A way that many walk, as far as many walk it together. */
export interface Route {
  /** its places one after the other */
  parts: Place[]
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
  const walk = (nodes: readonly PathNode[], before: readonly Place[]): boolean => {
    const common = nodes.filter(({ sessions }) => sessions >= least)
    for (const node of common) {
      const { sessions: _, ended: __, next: further, ...place } = node
      const parts = [...before, place]
      if (!walk(further, parts)) routes.push({ parts, sessions: node.sessions, ended: node.ended })
    }
    return common.length > 0
  }
  walk(next, [])
  return routes.sort((a, b) => b.sessions - a.sessions || (textOf(a) < textOf(b) ? -1 : 1))
}

const textOf = ({ parts }: Route) => parts.map(placeText).join()
