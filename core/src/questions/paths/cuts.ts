import { lowerBound } from '../../stats/lower-bound.ts'
import type { CountedKeys } from './counted.ts'
import { digitsOf } from './path-keys.ts'

/**
 * Where lists of keys are cut into so many parts of about the same length, in ascending order: between paths that begin
 * with different page groups, so that trees of the parts share nothing but the root.
 */
export function cutsOf(keys: Int32Array, groups: number, depth: number, count: number): number[] {
  const { bits, each } = digitsOf(groups, depth)
  const worth = 2 ** (bits * (each - 1) + 1)
  return Array.from({ length: count - 1 }, (_, k) => {
    const wanted = Math.floor((keys.length * (k + 1)) / count)
    const below = Math.floor(keys[wanted]! / worth) * worth
    const above = below + worth
    return wanted - lowerBound(keys, below) < lowerBound(keys, above) - wanted ? below : above
  })
}

/** The parts of a list between the cuts, in memory of their own. */
export function cutAt({ keys, more, counts }: CountedKeys, cuts: readonly number[]): CountedKeys[] {
  const places = [0, ...cuts.map((cut) => lowerBound(keys, cut)), keys.length]
  return places.slice(1).map((to, k) => {
    const part = <C extends Int32Array | Uint32Array>(column: C) => column.slice(places[k], to) as C
    return { keys: part(keys), more: more.map(part), counts: part(counts) }
  })
}
