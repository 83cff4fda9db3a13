import type { Found } from '../conditions/found.ts'
import { eventsWhere } from '../conditions/found.ts'
import type { Block } from '../events/columns.ts'
import type { SessionSet } from '../sets/session-set.ts'
import { isFew } from '../sets/session-set.ts'
import type { FunnelOptions } from './options.ts'
import type { Step } from './spec.ts'
import { stepCondition } from './steps.ts'
import type { Names } from './trace.ts'

/** How sessions of a block come through the steps, each step taken at its first chance. */
export interface FirstChances {
  /** how many steps each session reached */
  depth: Uint8Array
  /** for each step by session the event at which it was first reached, where it was */
  first: Int32Array[]
}

/** Where a session never was. */
const NOWHERE = 0x7fff_ffff

/** To look for one session's next event takes as long as to read so many events one after the other. */
const SEARCH = 8
/**
 * The same as firstChances in reach.ts for many sessions of a block at once.
 * Complexity: the events that are steps; for few sessions, those who came to the step before × a search. What is given
 * is good until the next block is asked about, since columns of sessions are used again and again.
 *
 * @param among  those asked about; of others nothing is said
 */
export function firstChancesOf(
  block: Block,
  among: SessionSet,
  steps: readonly Step[],
  { entry }: Pick<FunnelOptions, 'entry'>,
  names: Names,
): FirstChances {
  const { depth, first, live } = workspace(block.sessions.count, steps.length)
  /** how many have come so far, the first so many of `live`; Infinity where it is not followed who */
  let left = isFew(among) ? among.listInto(live) : Infinity
  for (let k = 0; k < steps.length && left > 0; k++) {
    const own = first[k]!
    const before = k === 0 ? undefined : first[k - 1]!
    const lists = eventsWhere(block, stepCondition(steps[k]!), names, k === 0).flatMap((found) =>
      k === 0 && entry === 'first' ? firstViewsIn(block, found) : found,
    )
    for (const found of lists)
      if (found.ascending && left * SEARCH * (found.ranges.length / 2) < length(found))
        searchIn(found, live.subarray(0, left), before, block.sessions.firstEvent, own)
      else if (found.inTurn && lists.length === 1) firstIn(found, before, own, depth, k + 1)
      else earliestIn(found, before, own, depth, k + 1)
    if (left < Infinity) {
      left = keepReached(live, left, own)
      for (let j = 0; j < left; j++) depth[live[j]!] = k + 1
    }
  }
  return { depth, first }
}

interface Workspace extends FirstChances {
  live: Uint32Array
}

let space: Workspace = { depth: new Uint8Array(0), first: [], live: new Uint32Array(0) }

/** Empty columns of sessions, one of depths and one for each step. */
function workspace(sessions: number, steps: number): Workspace {
  if (space.depth.length !== sessions)
    space = { depth: new Uint8Array(sessions), first: [], live: new Uint32Array(sessions) }
  while (space.first.length < steps) space.first.push(new Int32Array(sessions))
  space.depth.fill(0)
  for (let k = 0; k < steps; k++) space.first[k]!.fill(NOWHERE)
  return space
}

/** Keeps, of the first so many listed, those who were at a step; returns how many. */
function keepReached(listed: Uint32Array, count: number, own: Int32Array): number {
  let length = 0
  for (let j = 0; j < count; j++) {
    const s = listed[j]!
    listed[length] = s
    length += own[s]! === NOWHERE ? 0 : 1
  }
  return length
}

function length({ ranges }: Found): number {
  let total = 0
  for (let r = 0; r < ranges.length; r += 2) total += ranges[r + 1]! - ranges[r]!
  return total
}

/**
 * Takes, for each session, the first event of a list in turn that lies after its event of the step before. From the end,
 * so that the earliest is written last: there is next to nothing to decide, and processors are bad at guessing.
 */
function firstIn(
  { event, session, ranges }: Found,
  before: Int32Array | undefined,
  own: Int32Array,
  depth: Uint8Array,
  reached: number,
): void {
  for (let r = ranges.length - 2; r >= 0; r -= 2) {
    const from = ranges[r]!
    const to = ranges[r + 1]!
    if (before === undefined)
      for (let i = to - 1; i >= from; i--) {
        const s = session[i]!
        own[s] = event[i]!
        depth[s] = reached
      }
    else
      for (let i = to - 1; i >= from; i--) {
        const s = session[i]!
        const at = event[i]!
        if (at > before[s]!) {
          own[s] = at
          depth[s] = reached
        }
      }
  }
}

/** The same where others were taken before: only what is earlier than what is there. */
function earliestIn(
  { event, session, ranges }: Found,
  before: Int32Array | undefined,
  own: Int32Array,
  depth: Uint8Array,
  reached: number,
): void {
  for (let r = 0; r < ranges.length; r += 2)
    for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
      const s = session[i]!
      const at = event[i]!
      if (at < own[s]! && (before === undefined || at > before[s]!)) {
        own[s] = at
        depth[s] = reached
      }
    }
}

/**
 * The same for a few sessions in ascending order: in each range the search goes on from where the session before was
 * found, in steps that double until they are too far.
 */
function searchIn(
  { event, session, ranges }: Found,
  live: Uint32Array,
  before: Int32Array | undefined,
  firstEvent: ArrayLike<number>,
  own: Int32Array,
): void {
  for (let r = 0; r < ranges.length; r += 2) {
    const to = ranges[r + 1]!
    /** all before it are too early */
    let low = ranges[r]!
    for (let j = 0; j < live.length && low < to; j++) {
      const s = live[j]!
      const earliest = before ? before[s]! + 1 : firstEvent[s]!
      let step = 1
      while (low + step < to && event[low + step]! < earliest) {
        low += step
        step *= 2
      }
      let high = Math.min(low + step, to)
      while (low < high) {
        const middle = (low + high) >>> 1
        if (event[middle]! < earliest) low = middle + 1
        else high = middle
      }
      if (low < to && session[low] === s && event[low]! < own[s]!) own[s] = event[low]!
    }
  }
}

/** Those events that are the first page view of their session. */
function firstViewsIn({ sessions, views }: Block, { event, session, ranges }: Found): Found {
  const first: [number, number][] = []
  for (let r = 0; r < ranges.length; r += 2)
    for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
      const s = session[i]!
      const view = sessions.firstView[s]!
      if (view < sessions.firstView[s + 1]! && views.event[view] === event[i]) first.push([event[i]!, s])
    }
  return {
    event: Uint32Array.from(first, ([at]) => at),
    session: Uint32Array.from(first, ([, s]) => s),
    ranges: [0, first.length],
    ascending: false,
    inTurn: false,
  }
}
