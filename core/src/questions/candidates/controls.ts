import type { Case } from './episodes.ts'
import { MOST_CONTROLS } from './compare.ts'
import { DID } from './journeys.ts'
import type { Cause, Found, Trouble } from './cases.ts'
import { triesAt } from './cases.ts'
import { inTurn } from './in-turn.ts'
import type { Stages } from './stages.ts'

/** Sessions of some cases. */
export function sessionsOf({ sessionOf }: Stages, cases: readonly Case[]): Set<number> {
  return new Set(cases.map(({ view }) => sessionOf[view]!))
}

/** At most so many, evenly from all of them. */
export function thinned<T>(list: readonly T[], most = MOST_CONTROLS): readonly T[] {
  if (list.length <= most) return list
  return Array.from({ length: most }, (_, i) => list[Math.floor((i * list.length) / most)]!)
}

/**
 * Who tried the same and had no trouble of this cause: the first act of each session that worked there, or that failed there
 * by another cause which usually comes after this one, and so can befall both.
 */
export function triersBeside(stages: Stages, found: Found, trouble: Trouble): Case[] {
  const exposed = sessionsOf(stages, trouble.cases)
  const taken = new Set<number>()
  const controls: Case[] = []
  const add = (one: Case) => {
    const s = stages.sessionOf[one.view]!
    if (exposed.has(s) || taken.has(s)) return
    taken.add(s)
    controls.push(one)
  }
  const { group, family, cause } = trouble
  for (const other of found.troubles.values()) {
    if (other.group !== group || other.family !== family || other === trouble) continue
    if (OF_FIELDS.has(other.cause) || OF_FIELDS.has(cause)) continue
    // What is answered late works all the same.
    if (other.cause === 'slow answer') continue
    if (comesAfter(stages, other, trouble)) other.cases.forEach(add)
    else for (const s of sessionsOf(stages, other.cases)) taken.add(s)
  }
  return [...controls, ...inTurn(stages, found, trouble, taken)]
}

/** What people do in a field keeps nobody from trying. */
export const OF_FIELDS: ReadonlySet<Cause> = new Set<Cause>(['corrected field', 'given up at field'])

/** Whether one trouble comes after another in most sessions that met both; where none did, neither keeps anybody from the other. */
function comesAfter(stages: Stages, one: Trouble, other: Trouble): boolean {
  const first = new Map(other.cases.map(({ view, atMs }) => [stages.sessionOf[view]!, atMs]))
  let [after, before] = [0, 0]
  for (const { view, atMs } of one.cases) {
    const otherMs = first.get(stages.sessionOf[view]!)
    if (otherMs === undefined) continue
    if (atMs > otherMs) after++
    else before++
  }
  return after >= before
}

/** So many of those who use a thing come by it only over what lies in its way. */
const IN_THE_WAY = 0.8
/** Fewer that had not met it before say too little. */
const LEAST_FRESH = 20

const isBefore = (met: Case | undefined, view: number, atMs: number) =>
  met !== undefined && (met.view < view || (met.view === view && met.atMs < atMs))

/**
 * Who used what something lies over: on some devices nearly all who come to use it clicked in vain on this before, as where a
 * question covers the page, and on others nobody did. These others, with their use of it.
 *
 * @returns none where nothing lies below it
 */
export function usedUncovered(stages: Stages, found: Found, trouble: Trouble): Case[] {
  const { journeys, firstAct, sessionOf } = stages
  const { acts, sessions } = journeys
  const { group, cause, members, cases } = trouble
  if (cause !== 'dead click') return []
  // Who was rid of it on another page does not meet it here.
  const met = new Map<number, Case>()
  for (const other of found.troubles.values())
    if (other.cause === cause && [...other.members].some((family) => members.has(family)))
      for (const one of other.cases) {
        const before = met.get(sessionOf[one.view]!)
        if (!before || one.view < before.view) met.set(sessionOf[one.view]!, one)
      }
  const usedBy = new Map<number, number>()
  let goOn = 0
  for (const { view, atMs } of cases) {
    const used = new Set<number>()
    for (let a = firstAct[view]!; a < firstAct[view + 1]!; a++)
      if (acts.atMs[a]! > atMs && acts.did[a]! & DID.worked && !members.has(acts.family[a]!))
        used.add(acts.family[a]!)
    if (used.size) goOn++
    for (const family of used) usedBy.set(family, (usedBy.get(family) ?? 0) + 1)
  }
  const devices = new Set(cases.map(({ view }) => sessions.device[sessionOf[view]!]!))
  let best: Case[] = []
  for (const [family, count] of usedBy) {
    if (count < goOn / 2) continue
    const uses = triesAt(found, group, family)
    const here = uses.filter(({ view }) => devices.has(sessions.device[sessionOf[view]!]!))
    // Who meets it now and then has met it on one view or another in the end: so those count who had not met it before.
    const fresh = here.filter(({ view }) => (met.get(sessionOf[view]!)?.view ?? Infinity) >= view)
    const first = fresh.length >= LEAST_FRESH ? fresh : here
    const over = first.filter(({ view, atMs }) => isBefore(met.get(sessionOf[view]!), view, atMs)).length
    const free = uses.filter(({ view }) => !devices.has(sessions.device[sessionOf[view]!]!))
    if (over >= IN_THE_WAY * first.length && free.length > best.length) best = free
  }
  return best
}
