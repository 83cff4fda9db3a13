import type { Alike } from './alike.ts'
import { lowerBound } from '../../stats/lower-bound.ts'
import type { Case } from './episodes.ts'
import { isLastDone, placeKey, waited } from './episodes.ts'
import { DID, STATE, TROUBLE } from './journeys.ts'
import type { Stages } from './stages.ts'
import { leftUnanswered } from './unanswered.ts'

/** What happened there, in the order in which causes explain one another: the first one that is there is the cause. */
export const CAUSES = [
  ...['script error', 'failed request', 'refused form', 'freeze', 'dead click', 'rage click'],
  ...['site signal', 'not found', 'no results', 'slow page', 'slow answer', 'corrected field'],
  ...['shuttle', 'out of sight', 'given up at field', 'became slow', 'combing', 'zoom'],
] as const
export type Cause = (typeof CAUSES)[number]

/** Acts in vain on one element within this are one episode. */
const EPISODE_MS = 6000

/** A place where something goes wrong, with the first time of each session that met it. */
export interface Trouble {
  cause: Cause
  group: number
  /** 0 where it befell the page; of elements alike a number of their own: see alike.ts */
  family: number
  /** the families that it stands for */
  members: ReadonlySet<number>
  /** of an error or signal without an element: its words */
  name: number
  /** of a shuttle without a link: the page group to which visitors are sent */
  to?: number
  cases: Case[]
  /** of clicks in vain: by case whether it was tried again on the spot; and how many were just beside a control */
  again: boolean[]
  near: number
}

export interface Found {
  troubles: Map<string, Trouble>
  /** by group and family: the first act of each session that worked */
  tries: Map<string, Case[]>
  /** the same for the views after that one, in order of the sessions */
  later: Map<string, Case[]>
}

/** Looks through all acts: what went wrong for the first time in its session, and what worked. Complexity: acts. */
export function casesOf(stages: Stages, alike: Alike): Found {
  const { journeys, firstView, firstAct } = stages
  const { sessions, views, acts } = journeys
  const found: Found = { troubles: new Map(), tries: new Map(), later: new Map() }
  const usual = usualCauses(stages)
  const isUnanswered = leftUnanswered(stages)
  /** where they left before anything could have told why a click did nothing */
  const cutShort = (cause: Cause, group: number, family: number, view: number, act: number) =>
    cause === 'dead click' && family > 0 && isLastDone(stages, view, act)
      ? usual(group, family, waited(stages, view, act))
      : undefined
  const met = new Set<string>()
  const tried = new Map<string, number>()
  const meet = (cause: Cause, group: number, family: number, name: number, view: number, atMs: number) => {
    const key = `${cause} ${group} ${family} ${name}`
    if (met.has(key)) return undefined
    met.add(key)
    let trouble = found.troubles.get(key)
    if (!trouble) {
      const members = new Set([...alike.membersOf(family), family])
      trouble = { ...{ cause, group, family, members, name, cases: [] }, again: [], near: 0 }
      found.troubles.set(key, trouble)
    }
    trouble.cases.push({ view, atMs })
    return trouble
  }
  for (let s = 0; s < sessions.id.length; s++) {
    met.clear()
    tried.clear()
    for (let v = firstView[s]!; v < firstView[s + 1]!; v++) {
      const group = views.group[v]!
      const atMs = views.atMs[v]!
      if (views.state[v]! & STATE.notFound) {
        const link = v > firstView[s]! ? lastWorked(stages, v - 1) : -1
        if (link >= 0) meet('not found', views.group[v - 1]!, acts.family[link]!, 0, v - 1, acts.atMs[link]!)
        else meet('not found', group, 0, 0, v, atMs)
        continue
      }
      if (views.state[v]! & STATE.noResults) meet('no results', group, 0, 0, v, atMs)
      if (views.state[v]! & STATE.slow) meet('slow page', group, 0, 0, v, atMs)
      for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
        const did = acts.did[a]!
        const family = acts.family[a]!
        if (did & DID.leftEmpty) meet('given up at field', group, family, 0, v, acts.atMs[a]!)
        else if (did & DID.corrected) meet('corrected field', group, family, 0, v, acts.atMs[a]!)
        if (did & DID.answeredLate || isUnanswered(v, a))
          meet('slow answer', group, family, 0, v, acts.atMs[a]!)
        if (did & DID.combed) meet('combing', group, 0, 0, v, acts.atMs[a]!)
        if (did & DID.zoomed) meet('zoom', group, 0, 0, v, acts.atMs[a]!)
        if (did & TROUBLE) {
          const of = did & DID.ofPage ? 0 : family
          const told = of ? firstTold(stages, v, a).cause : causeOf(did)
          const cause = cutShort(told, group, of, v, a) ?? told
          const named = of === 0 || cause === 'site signal'
          const own = cause === 'dead click' ? alike.of(group, of) : of
          const trouble = meet(cause, group, own, named ? acts.name[a]! : 0, v, acts.atMs[a]!)
          trouble?.again.push(isAgain(stages, v, a))
          if (trouble && did & DID.near) trouble.near++
        } else if (did & (DID.worked | DID.filled)) {
          const key = placeKey(group, family)
          const before = tried.get(key)
          if (before === v) continue
          tried.set(key, v)
          const onto = before === undefined ? found.tries : found.later
          const own = onto.get(key)
          if (own) own.push({ view: v, atMs: acts.atMs[a]! })
          else onto.set(key, [{ view: v, atMs: acts.atMs[a]! }])
        }
      }
    }
  }
  return found
}

export function triesAt({ tries }: Found, group: number, family: number): readonly Case[] {
  return tries.get(placeKey(group, family)) ?? []
}

/** Where clicks do nothing, so large a part of them by one cause that it is taken to be that of others there as well. */
const USUAL = 0.5
const LEAST_TOLD = 20

/**
 * Tells what a click that does nothing mostly turns out to be, by group, family and how long nothing was told: of those after
 * which people stayed long enough for it to be told, and for which it was told later than that. Who leaves over a refused form
 * leaves before the form says that it was refused, and would else look like somebody who clicked in vain and left for no other
 * reason: a cause of its own that keeps everybody. An error that is there at once was none of those.
 */
function usualCauses(stages: Stages): (group: number, family: number, waitedMs: number) => Cause | undefined {
  const { journeys, firstView, firstAct } = stages
  const { sessions, views, acts } = journeys
  const told = new Map<string, { all: number; lateMs: Map<Cause, number[]> }>()
  for (let s = 0; s < sessions.id.length; s++)
    for (let v = firstView[s]!; v < firstView[s + 1]!; v++)
      for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
        const family = acts.family[a]!
        if (!(acts.did[a]! & DID.dead) || !family || isAgainAt(stages, v, a)) continue
        const { cause, lateMs } = firstTold(stages, v, a)
        if (cause === 'dead click' && isLastDone(stages, v, a)) continue
        const key = placeKey(views.group[v]!, family)
        const own = told.get(key) ?? { all: 0, lateMs: new Map<Cause, number[]>() }
        told.set(key, own)
        own.all++
        const ofCause = own.lateMs.get(cause)
        if (ofCause) ofCause.push(lateMs)
        else own.lateMs.set(cause, [lateMs])
      }
  for (const { lateMs } of told.values()) for (const own of lateMs.values()) own.sort((a, b) => a - b)
  return (group, family, waitedMs) => {
    const own = told.get(placeKey(group, family))
    if (!own || own.all < LEAST_TOLD) return undefined
    let open = 0
    let most: { cause: Cause; n: number } | undefined
    for (const [cause, lateMs] of own.lateMs) {
      // Later than that: times are whole milliseconds.
      const n = lateMs.length - lowerBound(lateMs, waitedMs + 1)
      open += n
      if (cause !== 'dead click' && n > (most?.n ?? 0)) most = { cause, n }
    }
    return most && most.n > USUAL * open ? most.cause : undefined
  }
}

/** Nothing tells why. */
export const IN_VAIN: ReadonlySet<Cause> = new Set<Cause>(['dead click', 'rage click'])

/** The cause that was told first of a click in vain, and how long after it, ms: an error may follow on a form that was refused. */
function firstTold(
  { journeys: { acts }, firstAct }: Stages,
  view: number,
  from: number,
): { cause: Cause; lateMs: number } {
  for (let a = from; a < firstAct[view + 1]! && acts.atMs[a]! - acts.atMs[from]! <= EPISODE_MS; a++) {
    if (acts.family[a] !== acts.family[from]) continue
    if (!(acts.did[a]! & TROUBLE)) break
    const cause = causeOf(acts.did[a]!)
    if (!IN_VAIN.has(cause)) return { cause, lateMs: acts.atMs[a]! + acts.lateMs[a]! - acts.atMs[from]! }
  }
  return { cause: acts.did[from]! & DID.dead ? 'dead click' : 'rage click', lateMs: Infinity }
}

/** Whether a click in vain follows another one on the same element: only the first of them begins an episode. */
function isAgainAt({ journeys: { acts }, firstAct }: Stages, view: number, act: number): boolean {
  for (let a = act - 1; a >= firstAct[view]! && acts.atMs[act]! - acts.atMs[a]! <= EPISODE_MS; a--)
    if (acts.family[a] === acts.family[act] && acts.did[a]! & TROUBLE) return true
  return false
}

/** Whether a click in vain was repeated on the spot: the sign of an attempt. */
function isAgain({ journeys: { acts }, firstAct }: Stages, view: number, from: number): boolean {
  for (let a = from + 1; a < firstAct[view + 1]! && acts.atMs[a]! - acts.atMs[from]! <= EPISODE_MS; a++)
    if (acts.did[a]! & (DID.dead | DID.raged) && acts.family[a] === acts.family[from]) return true
  return false
}

function causeOf(did: number): Cause {
  if (did & DID.error) return 'script error'
  if (did & DID.request) return 'failed request'
  // A page that stands still for a while is not why a form is refused after that.
  if (did & DID.refused) return 'refused form'
  if (did & DID.freeze) return 'freeze'
  if (did & DID.told) return 'site signal'
  return did & (DID.dead | DID.near) ? 'dead click' : 'rage click'
}

function lastWorked({ journeys: { acts }, firstAct }: Stages, view: number): number {
  for (let a = firstAct[view + 1]! - 1; a >= firstAct[view]!; a--) if (acts.did[a]! & DID.worked) return a
  return -1
}
