import { DID, LOOKING, STATE } from './journeys.ts'
import type { Stages } from './stages.ts'

/** Somebody at a moment: a view, and when on it, ms since the start of the session. */
export interface Case {
  view: number
  atMs: number
}

/** An element of a page group, as a key. */
export const placeKey = (group: number, family: number) => `${group} ${family}`

/** How long somebody stayed on a view after an act, as far as it is told; ms. */
export function waited({ journeys: { views, acts }, firstAct }: Stages, view: number, act: number): number {
  const last = acts.atMs[firstAct[view + 1]! - 1]!
  const end = views.state[view]! & STATE.openEnd ? last : views.endMs[view]!
  return Math.max(0, end - acts.atMs[act]!)
}

/** Whether nothing but the same in vain was done on a view after an act. */
export function isLastDone({ journeys: { acts }, firstAct }: Stages, view: number, act: number): boolean {
  for (let a = act + 1; a < firstAct[view + 1]!; a++)
    if (acts.family[a] !== acts.family[act] || !(acts.did[a]! & DID.dead)) {
      // What merely comes into view is nothing done, and what befalls the page neither.
      if (acts.did[a]! & ~LOOKING && !(acts.did[a]! & DID.ofPage)) return false
    }
  return true
}
