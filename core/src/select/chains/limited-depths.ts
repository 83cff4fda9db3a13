import type { Block } from '../../columns/block.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import type { FirstChances } from './first-chances.ts'
import { reachFor } from './reach.ts'
import { fewRunsReader, runReader } from './runs.ts'

/**
 * How many steps each session reaches under options that limit its chains (docs/funnel.md).
 *
 * @param chances  without these options, for the sessions asked about
 * @returns  by session of the block; good until the next call
 */
export function limitedDepths(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
  { depth, first }: FirstChances,
): Uint8Array {
  const open = undecided(block, depth, first, options)
  if (!open.length) return depth
  const reach = reachFor(steps.length, options)
  const chain = new Uint32Array(steps.length)
  const few = open.length < FEW * depth.length
  const read = (few ? fewRunsReader : runReader)(block, steps, options, names)
  for (const s of open) depth[s] = reach(read(s), chain, depth[s])
  return depth
}

/** Of all sessions at most this share are few: to read one after the other is faster than to find all that happened. */
const FEW = 1 / 8

/** The sessions of which first chances do not tell how far they come. */
function undecided(
  { events: { atMs }, sessions: { count, startMs, endMs } }: Block,
  most: Uint8Array,
  first: readonly Int32Array[],
  { between, without, withinMs }: FunnelOptions,
): number[] {
  const open: number[] = []
  const limitMs = between === 'nothing' || without.length ? -1 : (withinMs ?? Infinity)
  for (let s = 0; s < count; s++) {
    // Most sessions are shorter than the limit as a whole.
    if (endMs[s]! - startMs[s]! <= limitMs) continue
    const depth = most[s]!
    if (depth > 1 && atMs[first[depth - 1]![s]!]! - atMs[first[0]![s]!]! > limitMs) open.push(s)
  }
  return open
}
