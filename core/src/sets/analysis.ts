import type { Block } from '../events/columns.ts'
import type { SessionSet } from './session-set.ts'

/**
 * A question over blocks of sessions. Partials of disjoint blocks merge in any order, so that it runs on one thread,
 * many, or many machines.
 */
export interface Analysis<Spec, Partial, Result> {
  /**
   * What one block has to say. With `onto`, what blocks before it had to say, which an analysis that can is to add to
   * and give back; others leave it alone, and are merged: see `adds`.
   */
  scan(block: Block, sessions: SessionSet, spec: Spec, onto?: Partial): Partial
  /** scan takes `onto` */
  readonly adds?: boolean
  /** makes of what was gathered what is to be handed to another thread; then nothing more is added to it */
  pack?(partial: Partial): Partial
  merge(a: Partial, b: Partial): Partial
  finish(total: Partial, spec: Spec): Result
  /** how several threads bring what they found to an end, each a part of it; for what is large then */
  readonly parts?: Parts<Spec, Partial>
}

/**
 * What is found falls into parts that have nothing to do with one another. Whoever finds cuts them at the same numbers;
 * then finish(join(parts.map(settle(merge(…))))) is finish(merge(…)).
 */
export interface Parts<Spec, Partial> {
  /** where something packed falls into so many parts of about the same size; undefined where it is not worth it */
  cuts(packed: Partial, count: number): number[] | undefined
  /** the parts of something packed: below the first cut, from there to the next, and so on; each in memory of its own */
  split(packed: Partial, cuts: readonly number[]): Partial[]
  /** does what can be done with one part, merged from all that was found, without the others */
  settle(part: Partial, spec: Spec): Partial
  /** settled parts in order, as a whole */
  join(parts: readonly Partial[]): Partial
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
  let total: Partial | undefined
  for (const { block, sessions } of blocks) total = scanOnto(analysis, block, sessions, spec, total)
  return analysis.finish(total!, spec)
}

/** What a block has to say together with those before it. */
export function scanOnto<Spec, Partial, Result>(
  analysis: Analysis<Spec, Partial, Result>,
  block: Block,
  sessions: SessionSet,
  spec: Spec,
  total: Partial | undefined,
): Partial {
  if (total === undefined || analysis.adds) return analysis.scan(block, sessions, spec, total)
  return analysis.merge(total, analysis.scan(block, sessions, spec))
}

/** Adds the counts of b to those of a, key by key; a is changed and returned. */
export function addCounts<K>(a: Map<K, number>, b: ReadonlyMap<K, number>): Map<K, number> {
  for (const [key, n] of b) a.set(key, (a.get(key) ?? 0) + n)
  return a
}

/** Counts one more of a key. */
export function addOne<K>(counts: Map<K, number>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1)
}
