import type { Block } from '../events/columns.ts'
import type { SessionSet } from './session-set.ts'

/**
 * A question over blocks of sessions. Partials of disjoint blocks merge in any order, so that it runs on one thread,
 * many, or many machines.
 */
export interface Analysis<Spec, Partial, Result> {
  scan(block: Block, sessions: SessionSet, spec: Spec): Partial
  merge(a: Partial, b: Partial): Partial
  finish(total: Partial, spec: Spec): Result
}

/** One block and those of its sessions that are looked at. */
export interface Selected {
  block: Block
  sessions: SessionSet
}

/**
 * Answers a question over several blocks.
 *
 * @throws RangeError where there is no block
 */
export function answer<Spec, Partial, Result>(
  analysis: Analysis<Spec, Partial, Result>,
  blocks: readonly Selected[],
  spec: Spec,
): Result {
  if (!blocks.length) throw new RangeError('a question needs at least one block')
  const partials = blocks.map(({ block, sessions }) => analysis.scan(block, sessions, spec))
  return analysis.finish(
    partials.reduce((a, b) => analysis.merge(a, b)),
    spec,
  )
}

/** Adds the counts of b to those of a, key by key; a is changed and returned. */
export function addCounts<K>(a: Map<K, number>, b: ReadonlyMap<K, number>): Map<K, number> {
  for (const [key, n] of b) a.set(key, (a.get(key) ?? 0) + n)
  return a
}
