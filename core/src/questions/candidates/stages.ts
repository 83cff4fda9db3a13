import { lowerBound } from '../../stats/lower-bound.ts'
import type { Journeys } from './journeys.ts'
import { DID, startsOf, STATE } from './journeys.ts'

/** Journeys in order of visitor and time, with what came of each view. */
export interface Stages {
  journeys: Journeys
  /** sessions in order of visitor, then of start; by place in this order: row, first view, first act */
  order: Uint32Array
  /** by view: its session's row, its first act and the one after its last, and its place in the session */
  sessionOf: Uint32Array
  firstAct: Uint32Array
  nth: Uint32Array
  firstView: Uint32Array
  /** by view when it ended, ms since the start of the session; where nothing tells it, as others of the page do */
  endMs: Float64Array
  /** by page group: chance to convert from its first view on; 0 where nobody converts */
  value: Float64Array
  /** by view: 1 where the session comes further on a way to the goal later */
  on: Uint8Array
  /** by view: 1 where the visitor converts later, within a week */
  won: Uint8Array
  /** of views that are compared, what other troubles took from them: see spared.ts */
  spared?: Spared | undefined
  /** conversions, by session */
  conversions: number
  /** chance to convert of a session */
  rate: number
}

/** By view when it met another trouble, and the chance that it would have come further without it. */
export type Spared = Map<number, { atMs: number; chance: number }>

/** A page of higher value than another by less than this is not further. */
export const STEP_RATIO = 1.25
export const STEP_LEAST = 0.002
/** Fewer sessions say too little of what a page is worth. */
const LEAST_SEEN = 30
/** Who comes back later than this came for something else; longer, and those who came last would have had less time. */
const WEEK_MS = 7 * 86_400_000

/** Works out what each page is worth, and of each view what came of it. Complexity: views. */
export function stagesOf(journeys: Journeys, groups: number, goalGroup: number): Stages {
  const { sessions, views } = journeys
  const count = sessions.id.length
  const firstView = startsOf(sessions.views)
  const firstAct = startsOf(views.acts)
  const n = views.group.length
  const sessionOf = new Uint32Array(n)
  const nth = new Uint32Array(n)
  for (let s = 0; s < count; s++)
    for (let v = firstView[s]!; v < firstView[s + 1]!; v++) {
      sessionOf[v] = s
      nth[v] = v - firstView[s]!
    }
  const order = Uint32Array.from({ length: count }, (_, s) => s).sort(
    (a, b) =>
      sessions.visitor[a]! - sessions.visitor[b]! ||
      sessions.startMs[a]! - sessions.startMs[b]! ||
      sessions.id[a]! - sessions.id[b]!,
  )
  const wonLater = wonWithinAWeek(sessions, order)
  let conversions = 0
  for (let s = 0; s < count; s++) if (sessions.wonMs[s]! < Infinity) conversions++
  const rate = (conversions + 1) / (count + 2)
  const value = pageValues(journeys, firstView, groups, goalGroup, rate)
  const on = new Uint8Array(n)
  const won = new Uint8Array(n)
  for (let s = 0; s < count; s++) {
    const wonMs = sessions.wonMs[s]!
    let furthest = 0
    for (let v = firstView[s + 1]! - 1; v >= firstView[s]!; v--) {
      const own = value[views.group[v]!]!
      const wins = wonMs < Infinity && wonMs > views.atMs[v]!
      on[v] = Number(wins || isMore(furthest, own))
      won[v] = Number(wins || wonLater[s]!)
      if (!(views.state[v]! & STATE.notFound)) furthest = Math.max(furthest, own)
    }
  }
  return {
    ...{ journeys, order, sessionOf, firstAct, nth, firstView, value, on, won, conversions, rate },
    endMs: endsOf(journeys),
  }
}

const isMore = (further: number, value: number) => further > value * STEP_RATIO + STEP_LEAST

/** Whether the page of one view is further on a way to the goal than that of another. */
export const isFurther = (
  { journeys: { views }, value }: Pick<Stages, 'journeys' | 'value'>,
  from: number,
  to: number,
) => isMore(value[views.group[to]!]!, value[views.group[from]!]!)

/** Of some views of a page, in their order, the first one of each session. */
export function firstOf({ sessionOf }: Stages, views: readonly number[]): number[] {
  let last = -1
  return views.filter((v) => {
    const isFirst = sessionOf[v] !== last
    last = sessionOf[v]!
    return isFirst
  })
}

/**
 * When views ended. One that was left without a word lasted at least until its last event: beyond that it is given the length
 * of another view of the page that went on for as long, each in turn.
 */
function endsOf({ views }: Journeys): Float64Array {
  const lengths = new Map<number, number[]>()
  const lengthOf = (v: number) => views.endMs[v]! - views.atMs[v]!
  views.group.forEach((group, v) => {
    if (views.state[v]! & STATE.openEnd) return
    const own = lengths.get(group)
    if (own) own.push(lengthOf(v))
    else lengths.set(group, [lengthOf(v)])
  })
  for (const own of lengths.values()) own.sort((a, b) => a - b)
  const turns = new Map<number, number>()
  return views.endMs.map((end, v) => {
    const own = lengths.get(views.group[v]!)
    if (!(views.state[v]! & STATE.openEnd) || !own) return end
    const turn = (turns.get(views.group[v]!) ?? 0) + 1
    turns.set(views.group[v]!, turn)
    const from = lowerBound(own, lengthOf(v))
    if (from === own.length) return end
    // Golden ratio: any stretch of turns is spread evenly over those that lasted longer.
    const share = (turn * 0.618_033_988_75) % 1
    return views.atMs[v]! + own[from + Math.floor(share * (own.length - from))]!
  })
}

/** Of each session whether its visitor converts in a later one that begins within a week. */
function wonWithinAWeek(sessions: Journeys['sessions'], order: Uint32Array): Uint8Array {
  const won = new Uint8Array(order.length)
  let nextMs = Infinity
  let visitor = NaN
  for (let at = order.length - 1; at >= 0; at--) {
    const s = order[at]!
    if (sessions.visitor[s] !== visitor) [visitor, nextMs] = [sessions.visitor[s]!, Infinity]
    won[s] = Number(nextMs - sessions.startMs[s]! <= WEEK_MS)
    if (sessions.wonMs[s]! < Infinity) nextMs = sessions.startMs[s]!
  }
  return won
}

function pageValues(
  { sessions, views }: Journeys,
  firstView: Uint32Array,
  groups: number,
  goalGroup: number,
  rate: number,
): Float64Array {
  const seen = new Float64Array(groups)
  const won = new Float64Array(groups)
  const seenBy = new Int32Array(groups).fill(-1)
  for (let s = 0; s < sessions.id.length; s++)
    for (let v = firstView[s]!; v < firstView[s + 1]!; v++) {
      const group = views.group[v]!
      if (seenBy[group] === s || views.state[v]! & STATE.notFound) continue
      seenBy[group] = s
      seen[group]!++
      if (sessions.wonMs[s]! < Infinity && sessions.wonMs[s]! >= views.atMs[v]!) won[group]!++
    }
  return Float64Array.from(seen, (all, group) =>
    group === goalGroup ? 1 : all < LEAST_SEEN ? 0 : (won[group]! + 2 * rate) / (all + 2),
  )
}

/** A view up to some moment: what had been done on it by then. */
export interface Done {
  /** clicks and fields, 3 at most */
  acts: number
  filled: number
  /** fields that were filled in, so many times in all */
  fields: number
  /** 1 where something had failed by rule: an error, a request, a refused form, a freeze */
  failed: number
}

const FAILED = DID.error | DID.request | DID.refused | DID.freeze

export function doneBefore({ journeys: { acts }, firstAct }: Stages, view: number, atMs: number): Done {
  let [clicks, fields, failed] = [0, 0, 0]
  for (let a = firstAct[view]!; a < firstAct[view + 1]! && acts.atMs[a]! <= atMs; a++) {
    // A click elsewhere is what leaves a field: both may come at the same time.
    if (acts.did[a]! & DID.filled) fields++
    if (acts.atMs[a]! === atMs) continue
    if (acts.did[a]! & (DID.worked | DID.dead)) clicks++
    if (acts.did[a]! & FAILED) failed = 1
  }
  return { acts: Math.min(3, clicks), filled: Math.min(1, fields), fields, failed }
}
