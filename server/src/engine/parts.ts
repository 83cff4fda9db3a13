import type { Block, SignalTables, SignalThresholds } from '@dust-trail/core'
import { blockBytes, joinSignals, partsOf, SessionSet } from '@dust-trail/core'
import type { SharedBlock } from './thread-messages.ts'

/** When the sessions of a part began first and last, and when the last had its last event. */
export interface Span {
  firstMs: number
  lastStartMs: number
  lastMs: number
}

/** Some sessions of a site, in memory or, where that is full, in the database alone. */
export interface Part {
  id: number
  events: number
  standing: SessionSet
  shared: SharedBlock
  /** undefined where the columns are read from the database each time */
  block: Block | undefined
  /** the stored block they can be read from; undefined where there is none */
  stored: number | undefined
  bytes: number
  /** under which its signals were found */
  thresholds: SignalThresholds
  /** under which those were found that are kept with the stored block; undefined where none are */
  kept: SignalThresholds | undefined
  /** ids of its sessions in ascending order, and where each lies */
  ids: Float64Array
  positions: Uint32Array
  /** of the sessions that stand; kept until one is gone */
  span: Span | undefined
}

/** A part of a block whose columns lie in shared memory. All its sessions stand, but for those at `holes`. */
export function partOf(
  id: number,
  block: Block,
  stored: number | undefined,
  holes: readonly number[],
  inMemory: boolean,
  thresholds: SignalThresholds,
): Part {
  const { count } = block.sessions
  const memory = new SharedArrayBuffer(4 * ((count + 31) >>> 5))
  const standing = SessionSet.all(count, new Uint32Array(memory))
  for (const hole of holes) standing.delete(hole)
  const parts = partsOf(block)
  const { id: ids } = block.sessions
  const positions = new Uint32Array(count)
  let rising = true
  for (let s = 0; s < count; s++) {
    positions[s] = s
    if (s > 0 && ids[s]! < ids[s - 1]!) rising = false
  }
  // Most blocks hold sessions in the order in which these came.
  if (!rising) positions.sort((a, b) => ids[a]! - ids[b]!)
  const part: Part = {
    id,
    events: block.events.count,
    standing,
    stored,
    bytes: blockBytes(parts),
    ids: rising ? ids.slice() : Float64Array.from(positions, (s) => ids[s]!),
    positions,
    span: spanOf(block, standing),
    thresholds,
    kept: undefined,
    block: inMemory ? block : undefined,
    shared: {
      id,
      sessions: count,
      standing: memory,
      ...(inMemory && { parts }),
    },
  }
  return part
}

/** Puts signals that were found anew into a part that lies in memory. */
export function replaceSignals(part: Part, found: SignalTables, thresholds: SignalThresholds): void {
  part.block = joinSignals(part.block!, found)
  part.thresholds = thresholds
  const parts = partsOf(part.block)
  part.bytes = blockBytes(parts)
  part.shared = { ...part.shared, parts }
}

export function spanOf({ sessions }: Block, standing: SessionSet): Span {
  const span = { firstMs: Infinity, lastStartMs: -Infinity, lastMs: -Infinity }
  standing.forEach((s) => {
    span.firstMs = Math.min(span.firstMs, sessions.startMs[s]!)
    span.lastStartMs = Math.max(span.lastStartMs, sessions.startMs[s]!)
    span.lastMs = Math.max(span.lastMs, sessions.endMs[s]!)
  })
  return span
}

/** Where a session lies in a part; undefined where it does not, or no longer. */
export function positionIn({ ids, positions, standing }: Part, id: number): number | undefined {
  let low = 0
  let high = ids.length - 1
  while (low <= high) {
    const middle = (low + high) >>> 1
    if (ids[middle]! < id) low = middle + 1
    else if (ids[middle]! > id) high = middle - 1
    else return standing.has(positions[middle]!) ? positions[middle] : undefined
  }
  return undefined
}
