import type { Case } from './episodes.ts'
import { DID } from './journeys.ts'
import type { Stages } from './stages.ts'
import { doneBefore } from './stages.ts'

/** What is known of a state before its own cases tell: as if of so many as all others. */
const AS_OF = 30
/** Fewer cases than these make no state of their own. */
const LEAST = 40
const MOST_TIMES = 3
/** Where more than so many of those who do anything more meet the trouble next, who does not is somebody who was about to leave. */
const MOST_MET = 0.7

/** What somebody did last on a view, and how often they had done it there, as a number; 0: nothing yet. */
export type State = number

/** What was done before tells of those who met a trouble where others who had done the same did something else. */
export interface Telling {
  /** what was done last */
  states: ReadonlySet<State>
  /** that fields had been filled in, and how many */
  fields: boolean
}
/** Where controls tried the same, or nothing had been done. */
export const AS_IT_IS: Telling = { states: new Set(), fields: true }

export function telling(stages: Stages, exposed: readonly Case[], never: readonly number[]): Telling {
  return { states: statesToCompare(stages, exposed, never), fields: doFieldsTell(stages, exposed, never) }
}

/** Whether enough who filled in fields did something else than to meet the trouble: a code that never works is tried by all who fill it in. */
function doFieldsTell(stages: Stages, exposed: readonly Case[], never: readonly number[]): boolean {
  const { journeys, firstAct, on } = stages
  const { acts } = journeys
  const met = exposed.filter(({ view, atMs }) => doneBefore(stages, view, atMs).filled).length
  const wentOn = never.filter((view) => {
    let filled = false
    for (let a = firstAct[view]!; a < firstAct[view + 1]!; a++) {
      if (filled && isDone(acts.did[a]!, acts.family[a]!)) return true
      if (acts.did[a]! & DID.filled) filled = true
    }
    return filled && on[view] === 1
  }).length
  return met <= MOST_MET * (met + wentOn)
}

/**
 * States after which the trouble is one of several things that come next: those who did something else can be compared with
 * those who met it. Complexity: acts of the views.
 *
 * @param never  views of the page that never met it
 */
function statesToCompare(
  stages: Stages,
  exposed: readonly Case[],
  never: readonly number[],
): ReadonlySet<State> {
  const met = new Map<State, number>()
  for (const one of exposed) count(met, lastDone(stages, one))
  const wentOn = new Map<State, number>()
  const { firstAct, on } = stages
  const { acts } = stages.journeys
  /** of one view, each once */
  const passed: State[] = []
  const pass = (state: State) => {
    if (met.has(state) && !passed.includes(state)) passed.push(state)
  }
  for (const view of never) {
    let [last, from] = [0, 0]
    passed.length = 0
    if (met.has(0)) passed.push(0)
    for (let a = firstAct[view]!; a < firstAct[view + 1]!; a++) {
      if (!isDone(acts.did[a]!, acts.family[a]!)) continue
      pass(last)
      from ||= a + 1
      last = stateOf(acts.family[a]!, timesDone(stages, from - 1, a))
    }
    if (on[view]) pass(last)
    for (const state of passed) count(wentOn, state)
  }
  return new Set(
    [...met].flatMap(([state, n]) => (n <= MOST_MET * (n + (wentOn.get(state) ?? 0)) ? [state] : [])),
  )
}

/**
 * By what somebody did last on a view before a moment: by how many log odds an outcome is likelier after that than it is on
 * average. Who weighs sizes over and over is about to leave, whatever they press next.
 *
 * @param last     what the controls did last; below 0 where it tells nothing
 * @param outcome  theirs, from 0 to 1
 */
export function afterLastDone(last: ArrayLike<State>, outcome: ArrayLike<number>): (state: State) => number {
  const told = new Map<State, { n: number; hits: number }>()
  let all = 0
  for (let i = 0; i < last.length; i++) {
    all += outcome[i]!
    if (last[i]! < 0) continue
    let own = told.get(last[i]!)
    if (!own) told.set(last[i]!, (own = { n: 0, hits: 0 }))
    own.n++
    own.hits += outcome[i]!
  }
  const usual = (all + 0.5) / (last.length + 1)
  const odds = (share: number) => Math.log(share / (1 - share))
  const values = new Map<State, number>()
  for (const [state, { n, hits }] of told)
    if (n >= LEAST) values.set(state, odds((hits + AS_OF * usual) / (n + AS_OF)) - odds(usual))
  return (state) => values.get(state) ?? 0
}

/** What was done last on the view of a case before its moment. */
export function lastDone(stages: Stages, { view, atMs }: Case): State {
  const { journeys, firstAct } = stages
  const { acts } = journeys
  for (let a = firstAct[view + 1]! - 1; a >= firstAct[view]!; a--)
    if (acts.atMs[a]! < atMs && isDone(acts.did[a]!, acts.family[a]!))
      return stateOf(acts.family[a]!, timesDone(stages, firstAct[view]!, a))
  return 0
}

/** How often the same was done from one act up to another, which counts as well. */
function timesDone({ journeys: { acts } }: Stages, from: number, upTo: number): number {
  let times = 0
  for (let a = upTo; a >= from && times < MOST_TIMES; a--)
    if (acts.family[a] === acts.family[upTo] && isDone(acts.did[a]!, acts.family[a]!)) times++
  return times
}

const isDone = (did: number, family: number) =>
  family > 0 && (did & (DID.worked | DID.dead | DID.filled)) !== 0

const stateOf = (family: number, times: number): State =>
  family * (MOST_TIMES + 1) + Math.min(MOST_TIMES, times)

function count<K>(counts: Map<K, number>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1)
}
