import type { Interval } from '../../stats/interval.ts'
import { benjaminiHochberg, twoProportions } from '../../stats/significance.ts'
import type { Rate } from '../../stats/rate.ts'
import { difference, rate } from '../../stats/rate.ts'
import type { FrictionAnswer, FrictionSpot } from './friction.ts'

/** A spot that is met more often than in another period, or that was not there. */
export interface WorseSpot {
  spot: FrictionSpot
  before: Rate
  isNew: boolean
  /** share met now minus share met before, and its 95 % interval */
  difference: number | null
  interval: Interval
}

/** So rare a spot is no news. */
const LEAST_SESSIONS = 3
const ALPHA = 0.05

/**
 * The spots that are met by a larger share of the sessions than in another period, beyond noise: the interval of the
 * difference (Newcombe) lies above zero, and p adjusted for the number of spots (Benjamini and Hochberg) is below 0.05.
 * Largest increase first. Nothing where one of the periods has no sessions.
 */
export function worseSpots(now: FrictionAnswer, before: FrictionAnswer): WorseSpot[] {
  if (!now.sessions || !before.sessions) return []
  const keyOf = ({ kind, own, page, selector }: FrictionSpot) => JSON.stringify([kind, own, page, selector])
  const earlier = new Map(before.spots.map((spot) => [keyOf(spot), spot.met]))
  const pairs = now.spots.map((spot) => ({
    spot,
    was: earlier.get(keyOf(spot)) ?? rate(0, before.sessions),
  }))
  const ps = benjaminiHochberg(
    pairs.map(({ spot, was }) => twoProportions(spot.met.hits, spot.met.base, was.hits, was.base)),
  )
  return pairs
    .map(({ spot, was }, k) => ({
      ...{ spot, before: was, isNew: was.hits === 0, p: ps[k] ?? 1 },
      ...difference(spot.met, was),
    }))
    .filter(({ spot, interval, p }) => spot.met.hits >= LEAST_SESSIONS && interval[0] > 0 && p < ALPHA)
    .sort((a, b) => b.difference! - a.difference!)
    .map(({ p: _, ...one }) => one)
}
