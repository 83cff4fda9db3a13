import { lowerBound } from '../../stats/lower-bound.ts'
import { isLastDone, placeKey, waited } from './episodes.ts'
import { DID, LATE_MS, TROUBLE } from './journeys.ts'
import type { Stages } from './stages.ts'

/** So many of the clicks that people stay after are answered: then one without an answer waits for it. */
const ANSWERED = 0.97
/** Fewer late answers say too little of how late they come. */
const LEAST_LATE = 20
/** Late, for so large a part of the answers that had not come by then. */
const MOSTLY = 0.5

/**
 * Tells of a click whether they left while its answer was still to come, and come late: an answer is told when it is there, so
 * that who leaves before looks like somebody who was answered in time and left for no reason. Known from the answers that
 * others waited for at the same element. Complexity: acts.
 */
export function leftUnanswered(stages: Stages): (view: number, act: number) => boolean {
  const { journeys, firstView, firstAct } = stages
  const { sessions, views, acts } = journeys
  /** it worked, nothing tells of an answer, and it was the last thing that they did */
  const isOpen = (view: number, act: number) =>
    view + 1 === firstView[stages.sessionOf[view]! + 1]! &&
    !acts.answeredMs[act] &&
    isLastDone(stages, view, act)
  const told = new Map<string, { all: number; ms: number[] }>()
  for (let s = 0; s < sessions.id.length; s++)
    for (let v = firstView[s]!; v < firstView[s + 1]!; v++)
      for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
        if (!isClick(acts.did[a]!) || !acts.family[a] || isOpen(v, a)) continue
        const key = placeKey(views.group[v]!, acts.family[a]!)
        let own = told.get(key)
        if (!own) told.set(key, (own = { all: 0, ms: [] }))
        own.all++
        if (acts.answeredMs[a]) own.ms.push(acts.answeredMs[a]!)
      }
  for (const [key, { all, ms }] of told) {
    ms.sort((a, b) => a - b)
    const late = ms.length - lowerBound(ms, LATE_MS)
    if (late < LEAST_LATE || ms.length < ANSWERED * all) told.delete(key)
  }
  return (view, act) => {
    if (!isClick(acts.did[act]!)) return false
    const own = told.get(placeKey(views.group[view]!, acts.family[act]!))
    if (!own || !isOpen(view, act)) return false
    const ms = waited(stages, view, act)
    if (ms >= LATE_MS) return true
    const open = own.ms.length - lowerBound(own.ms, ms + 1)
    return own.ms.length - lowerBound(own.ms, LATE_MS) > MOSTLY * open
  }
}

const isClick = (did: number) => (did & DID.worked) !== 0 && !(did & TROUBLE)
