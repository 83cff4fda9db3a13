import type { Block } from '../../columns/block.ts'
import type { SessionSet } from '../../columns/session-set.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import { isPlain } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import { eventsWhere } from '../matching-events.ts'
import type { FirstChances } from './first-chances.ts'
import { firstChancesOf } from './first-chances.ts'
import { limitedDepths } from './limited-depths.ts'
import { reachFor } from './reach.ts'
import { runReader } from './runs.ts'
import { stepCondition } from './step-condition.ts'

/** How the sessions of a block come through the steps. It is good until another walk is made. */
export interface FunnelWalk {
  /** how many steps each session reaches */
  depths: Uint8Array
  /** event at which a session reached a step that it reached */
  event: (session: number, step: number) => number
  /** for each session the last time it was at a step, where it reached that */
  lasts: (step: number) => Int32Array
  /** for each session the event at which it reached a step that it reached; where they are known for all at once */
  events?: (step: number) => Int32Array
}

/**
 * Goes through sessions in the fastest way that the options allow.
 *
 * @param among  those asked about; of others nothing is said
 */
export function funnelWalk(
  block: Block,
  among: SessionSet,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): FunnelWalk {
  const chances = firstChancesOf(block, among, steps, options, names)
  const lasts = lastReader(block, steps, names)
  if (!isPlain(options)) return limitedWalk(block, steps, options, names, chances, lasts)
  const { depth, first } = chances
  return { depths: depth, event: (s, step) => first[step]![s]!, lasts, events: (step) => first[step]! }
}

/**
 * Limits and exclusions only take chains away. A session that does not get further by its first chances therefore needs no
 * search. With a time limit alone, neither does one whose first chances keep to the limit.
 */
function limitedWalk(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
  chances: FirstChances,
  lasts: FunnelWalk['lasts'],
): FunnelWalk {
  const { first } = chances
  const depths = limitedDepths(block, steps, options, names, chances)
  const reach = reachFor(steps.length, options)
  const chain = new Uint32Array(steps.length)
  let read: ReturnType<typeof runReader> | undefined
  /** whose chain it is */
  let session = -1
  return {
    depths,
    event: (s, step) => {
      if (depths[s]! < 2) return first[step]![s]!
      read ??= runReader(block, steps, options, names)
      if (session !== s) reach(read((session = s)), chain, depths[s])
      return chain[step]!
    },
    lasts,
  }
}

function lastReader(block: Block, steps: readonly Step[], names: Names): FunnelWalk['lasts'] {
  const last: Int32Array[] = []
  return (step) => {
    if (last[step]) return last[step]
    const lastAt = (last[step] = new Int32Array(block.sessions.count))
    for (const { event, session, ranges } of eventsWhere(block, stepCondition(steps[step]!), names))
      for (let r = 0; r < ranges.length; r += 2)
        for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
          const s = session[i]!
          const at = event[i]!
          if (at > lastAt[s]!) lastAt[s] = at
        }
    return lastAt
  }
}
