import type { Block } from '../../columns/block.ts'
import { Scratch } from '../../columns/scratch.ts'
import type { SessionSet } from '../../columns/session-set.ts'
import { isFew } from '../../columns/session-set.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import { MOST_STEPS } from '../grammar/steps.ts'
import type { EventList } from '../matching-events.ts'
import { eventsWhere } from '../matching-events.ts'
import { stepCondition } from './step-condition.ts'

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
 * Complexity: the events that are steps; for few sessions, those who came to the step before × a search. The result is
 * valid until this is called again, since its columns are scratch memory.
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
  const { depth, first, live } = emptyColumns(block.sessions.count, steps.length)
  /** how many have come so far, the first so many of `live`; Infinity where it is not followed who */
  let left = isFew(among) ? among.listInto(live) : Infinity
  for (let k = 0; k < steps.length && left > 0; k++) {
    const reachedAt = first[k]!
    const before = k === 0 ? undefined : first[k - 1]!
    const lists = eventsWhere(block, stepCondition(steps[k]!), names, k === 0).flatMap((found) =>
      k === 0 && entry === 'first' ? firstViewsIn(block, found) : found,
    )
    for (const found of lists)
      if (found.ascending && left * SEARCH * (found.ranges.length / 2) < length(found))
        searchIn(found, live.subarray(0, left), before, block.sessions.firstEvent, reachedAt)
      else if (found.inTurn && lists.length === 1) firstIn(found, before, reachedAt, depth, k + 1)
      else earliestIn(found, before, reachedAt, depth, k + 1)
    if (left < Infinity) {
      left = keepReached(live, left, reachedAt)
      for (let j = 0; j < left; j++) depth[live[j]!] = k + 1
    }
  }
  return { depth, first }
}

/** Columns of sessions; what firstChancesOf gives lies in them. */
const scratch = new Scratch((rows) => ({
  depth: new Uint8Array(rows),
  live: new Uint32Array(rows),
  first: Array.from({ length: MOST_STEPS }, () => new Int32Array(rows)),
}))

/** Empty columns for the sessions of a block, one of depths and one for each step. */
function emptyColumns(sessions: number, steps: number) {
  const columns = scratch.lend(sessions, true)
  columns.depth.fill(0)
  for (let k = 0; k < steps; k++) columns.first[k]!.fill(NOWHERE)
  return columns
}

/** Keeps, of the first so many listed, those who were at a step; returns how many. */
function keepReached(listed: Uint32Array, count: number, reachedAt: Int32Array): number {
  let length = 0
  for (let j = 0; j < count; j++) {
    const s = listed[j]!
    listed[length] = s
    length += reachedAt[s]! === NOWHERE ? 0 : 1
  }
  return length
}

function length({ ranges }: EventList): number {
  let total = 0
  for (let r = 0; r < ranges.length; r += 2) total += ranges[r + 1]! - ranges[r]!
  return total
}

/**
 * Takes, for each session, the first event of an ordered list that lies after its event of the step before. It goes from
 * the end, so that the earliest is written last: that leaves next to no branches to mispredict.
 */
function firstIn(
  { event, session, ranges }: EventList,
  before: Int32Array | undefined,
  reachedAt: Int32Array,
  depth: Uint8Array,
  reached: number,
): void {
  for (let r = ranges.length - 2; r >= 0; r -= 2) {
    const from = ranges[r]!
    const to = ranges[r + 1]!
    if (before === undefined)
      for (let i = to - 1; i >= from; i--) {
        const s = session[i]!
        reachedAt[s] = event[i]!
        depth[s] = reached
      }
    else
      for (let i = to - 1; i >= from; i--) {
        const s = session[i]!
        const at = event[i]!
        if (at > before[s]!) {
          reachedAt[s] = at
          depth[s] = reached
        }
      }
  }
}

/** The same where others were taken before: only what is earlier than what is there. */
function earliestIn(
  { event, session, ranges }: EventList,
  before: Int32Array | undefined,
  reachedAt: Int32Array,
  depth: Uint8Array,
  reached: number,
): void {
  for (let r = 0; r < ranges.length; r += 2)
    for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
      const s = session[i]!
      const at = event[i]!
      if (at < reachedAt[s]! && (before === undefined || at > before[s]!)) {
        reachedAt[s] = at
        depth[s] = reached
      }
    }
}

/**
 * The same for a few sessions in ascending order: in each range the search goes on from where the session before was
 * found, in steps that double until they are too far.
 */
function searchIn(
  { event, session, ranges }: EventList,
  live: Uint32Array,
  before: Int32Array | undefined,
  firstEvent: ArrayLike<number>,
  reachedAt: Int32Array,
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
      if (low < to && session[low] === s && event[low]! < reachedAt[s]!) reachedAt[s] = event[low]!
    }
  }
}

/** Those events that are the first page view of their session. */
function firstViewsIn({ sessions, views }: Block, { event, session, ranges }: EventList): EventList {
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
