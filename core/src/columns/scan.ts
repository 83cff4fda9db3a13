import type { Block } from './block.ts'
import type { SessionSet } from './session-set.ts'

/**
 * Something that is found out over blocks of sessions in three steps. What disjoint blocks have to say merges in any
 * order, so that it runs on one thread, many, or many machines.
 *
 * `Spec` says what is asked, `Found` is what some blocks have to say, `Result` is what comes out.
 */
export interface Scan<Spec, Found, Result> {
  /** known by this name in other threads; unique among all scans */
  readonly name: string
  /**
   * What one block has to say. With `onto`, what blocks before it had to say: a scan that `adds` puts its own into that
   * and gives it back, others ignore it.
   */
  scan(block: Block, sessions: SessionSet, spec: Spec, onto?: Found): Found
  readonly adds?: boolean
  /** Turns what was found into what can be handed to another thread; nothing more is added to it then. */
  pack?(found: Found): Found
  merge(a: Found, b: Found): Found
  finish(total: Found, spec: Spec): Result
  /** the same in steps, where it takes long: whoever runs it may do something else after each */
  finishInSteps?(total: Found, spec: Spec): Steps<Result>
  /** how several threads share the work of finishing, for what is large then */
  readonly parts?: FinishInParts<Spec, Found>
}

/**
 * What is found falls into parts that have nothing to do with one another: cut at the same places, part by part,
 * finish(join(parts.map(finishPart(merge(…))))) is finish(merge(…)).
 */
export interface FinishInParts<Spec, Found> {
  /** where to cut something packed into so many parts of about the same size; undefined where it is not worth it */
  cuts(packed: Found, count: number): number[] | undefined
  /** the parts of something packed: below the first cut, from there to the next, and so on; each in memory of its own */
  split(packed: Found, cuts: readonly number[]): Found[]
  /** does what can be done with one part, merged from all threads, without the other parts */
  finishPart(part: Found, spec: Spec): Found
  /** the finished parts, in order, as a whole */
  join(parts: readonly Found[]): Found
}

/** Work that pauses now and then and ends with a result. */
export type Steps<Result> = Generator<undefined, Result, undefined>

/** Goes through all steps without a pause. */
export function atOnce<Result>(steps: Steps<Result>): Result {
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}

/** A scan of whatever kind, for what is done with all of them alike. */
export type AnyScan = Scan<object, object, unknown>

/** One block and those of its sessions that are looked at. */
export interface Selected {
  block: Block
  sessions: SessionSet
}

/**
 * The result of a scan over several blocks, in this thread.
 *
 * @throws RangeError where there is no block
 */
export function answer<Spec, Found, Result>(
  scan: Scan<Spec, Found, Result>,
  blocks: readonly Selected[],
  spec: Spec,
): Result {
  if (!blocks.length) throw new RangeError('a question needs at least one block')
  let total: Found | undefined
  for (const { block, sessions } of blocks) total = scanOnto(scan, block, sessions, spec, total)
  return scan.finish(total!, spec)
}

/** What a block has to say together with those before it. */
export function scanOnto<Spec, Found, Result>(
  scan: Scan<Spec, Found, Result>,
  block: Block,
  sessions: SessionSet,
  spec: Spec,
  total: Found | undefined,
): Found {
  if (total === undefined || scan.adds) return scan.scan(block, sessions, spec, total)
  return scan.merge(total, scan.scan(block, sessions, spec))
}
