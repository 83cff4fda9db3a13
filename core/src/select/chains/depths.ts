import { BlockCache, oncePer } from '../../columns/block-cache.ts'
import type { Block } from '../../columns/block.ts'
import { isFew, SessionSet } from '../../columns/session-set.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import { isPlain } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import { firstChancesOf } from './first-chances.ts'
import { limitedDepths } from './limited-depths.ts'

/** What is kept of a funnel: how many steps each session reaches, a byte each, and of which sessions it is known. */
interface KnownDepths {
  among: SessionSet
  depth: Uint8Array
}

/** Of so many funnels a block keeps the depths. */
const depthCache = new BlockCache<KnownDepths>(8)

/**
 * How many steps each session reaches, kept for the next questions about the same steps and the same sessions or some of
 * them: another filter or another breakdown only counts them again, and of several clients that ask at once the first
 * does the work for all.
 *
 * @param among  those asked about; entries of others mean nothing
 */
export function depthsOf(
  block: Block,
  among: SessionSet,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): Uint8Array {
  const key = keyOf(steps, options)
  const cached = depthCache.get(block, key, names, (one) => among.isIn(one.among))
  if (cached) return cached.depth
  // Of many sessions it takes as long as of all, which serves more of the questions that come next.
  const counted = isFew(among) ? among : SessionSet.all(among.size)
  const chances = firstChancesOf(block, counted, steps, options, names)
  const depth = isPlain(options) ? chances.depth : limitedDepths(block, steps, options, names, chances)
  return depthCache.set(block, key, names, { among: counted, depth: depth.slice() }).depth
}

const stepsKey = oncePer((steps: readonly Step[]) => JSON.stringify(steps))

function keyOf(steps: readonly Step[], { between, entry, withinMs, without }: FunnelOptions): string {
  return JSON.stringify([stepsKey(steps), between, entry, withinMs, without])
}
