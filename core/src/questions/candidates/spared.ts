import type { Trouble } from './cases.ts'
import { sessionsOf } from './controls.ts'
import type { Priced } from './designs.ts'
import type { Site } from './site.ts'
import type { Spared, Stages } from './stages.ts'

/** A trouble as it was priced at first. */
export interface Told {
  trouble: Trouble
  priced: Priced
}

/** Where those who met one trouble meet another one nearly as often as others do, they would have met it as well. */
const LEAST_SPARED = 0.3
/** Parts of the period: what is repaired and what is new do not befall the same days. */
const TIMES = 4

/**
 * Of the views that other troubles of a page took from those who are compared: the chance that they would have come further
 * without these. Only of troubles that those who met this one are spared, as their browsers, devices and days tell: an error in
 * one browser makes the others of the page carry on less, and so a dead button in another browser look harmless. What befalls
 * both alike is left as it is.
 *
 * @returns none where the page has no such trouble
 */
export function sparedBy(
  { stages, viewsOf }: Site,
  { trouble }: Told,
  all: readonly Told[],
  kindOf: ArrayLike<number>,
): Spared | undefined {
  const others = all.filter((other) => other.trouble !== trouble && isCostly(other, trouble.group))
  if (!others.length) return undefined
  const exposed = sessionsOf(stages, trouble.cases)
  const came = new Set<number>()
  for (const v of viewsOf.get(trouble.group) ?? []) came.add(stages.sessionOf[v]!)
  const comeOfKind = countsOf(came, kindOf)
  const compared = countsOf(
    [...came].filter((s) => !exposed.has(s)),
    kindOf,
  )
  const own = countsOf(exposed, kindOf)
  const spared: Spared = new Map()
  for (const { trouble: other, priced } of others) {
    const met = countsOf(sessionsOf(stages, other.cases), kindOf)
    /** how many of some sessions would meet it, by their kinds */
    const rateOf = (counts: Counts) => {
      let [sum, n] = [0, 0]
      for (const [kind, count] of counts) {
        sum += (count * (met.get(kind) ?? 0)) / (comeOfKind.get(kind) ?? 1)
        n += count
      }
      return n ? sum / n : 0
    }
    const share = 1 - rateOf(own) / rateOf(compared)
    if (!(share >= LEAST_SPARED)) continue
    const lost = (share * (priced.expected - priced.carriedOn)) / (1 - priced.carriedOn)
    for (const { view, atMs } of other.cases) {
      if (stages.on[view] || exposed.has(stages.sessionOf[view]!)) continue
      const before = spared.get(view)
      spared.set(view, {
        atMs: Math.min(atMs, before?.atMs ?? Infinity),
        chance: 1 - (1 - (before?.chance ?? 0)) * (1 - lost),
      })
    }
  }
  return spared.size ? spared : undefined
}

function isCostly({ trouble, priced: { loss, expected, carriedOn } }: Told, group: number): boolean {
  return trouble.group === group && loss.value > 2 * loss.sd && carriedOn < expected
}

/** By session a number of its kind: browser, device and part of the period. */
export function kindsOfSessions({ journeys: { sessions } }: Stages): Float64Array {
  const { startMs, browser, device } = sessions
  const order = Uint32Array.from(startMs, (_, s) => s).sort((a, b) => startMs[a]! - startMs[b]!)
  const kinds = new Float64Array(order.length)
  order.forEach((s, rank) => {
    const time = Math.floor((TIMES * rank) / order.length)
    kinds[s] = (browser[s]! * 16 + device[s]!) * TIMES + time
  })
  return kinds
}

type Counts = Map<number, number>

function countsOf(sessions: Iterable<number>, kindOf: ArrayLike<number>): Counts {
  const counts: Counts = new Map()
  for (const s of sessions) counts.set(kindOf[s]!, (counts.get(kindOf[s]!) ?? 0) + 1)
  return counts
}
