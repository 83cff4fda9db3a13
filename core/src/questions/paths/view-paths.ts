import type { Block } from '../../columns/block.ts'
import type { Codes } from '../../columns/layout.ts'
import { Scratch } from '../../columns/scratch.ts'
import type { SessionSet } from '../../columns/session-set.ts'
import type { EventList } from '../../select/matching-events.ts'
import type { SelectedSessions } from '../../select/selected-sessions.ts'
import { NO_EVENT } from '../../select/selected-sessions.ts'
import { countBits } from '../../stats/bit-count.ts'
import type { Digits, PathKeys } from './path-keys.ts'
import type { PathSpec } from './path-options.ts'
import type { StepCounts } from './step-counts.ts'

/** Adds the page groups of the views after or before the moment in each listed session; returns how many these are. */
export function addViews(block: Block, listed: Listed, spec: PathSpec, paths: PathKeys): number {
  const walked = waysThrough(block, listed, spec)
  const columns = paths.withRoomFor(listed.count)
  if (columns.length === 1) narrowKeys(listed, walked, paths.digits, columns[0]!, paths.length)
  else longKeys(listed, walked, paths.digits, columns, paths.length)
  paths.length += listed.count
  return listed.count
}

/** The same where only the places of each step count, and from which place of the step before they were come to. */
export function countViews(block: Block, listed: Listed, spec: PathSpec, counts: StepCounts): number {
  const { page, groupOf, step, depth, fold } = waysThrough(block, listed, spec)
  const { count, from, to, group } = listed
  const { groups, links, ended } = counts
  for (let j = 0; j < count; j++) {
    const end = to[j]!
    let last = group[j]!
    let view = from[j]!
    let walked = 0
    let before = 0
    for (; view !== end && walked < depth; view += step) {
      const code = groupOf[page[view]!]!
      if (fold && code === last) continue
      last = code
      links[(walked * (groups + 1) + before) * groups + code]!++
      before = code + 1
      walked++
    }
    if (walked === depth && fold) while (view !== end && groupOf[page[view]!]! === last) view += step
    if (view === end) ended[walked * (groups + 1) + before]!++
  }
  return count
}

/** Finds the way through each listed session; returns what is the same for all. */
function waysThrough(
  block: Block,
  listed: Listed,
  { direction, depth, fold, names: { groups } }: PathSpec,
): Walked {
  const { groupOf } = groups
  const onward = direction === 'onward'
  findWays(block, listed, onward, groupOf)
  return { page: block.views.page, groupOf, step: onward ? 1 : -1, depth, fold }
}

/** Sessions with the moment in each, and the way that a path takes through each. */
export interface Listed {
  count: number
  session: Uint32Array
  /** NO_EVENT where there is none */
  moment: Uint32Array
  /** the way goes from this view to that one, the latter left out; filled by findWays */
  from: Int32Array
  to: Int32Array
  /** the page group it starts at; -1 = none */
  group: Int32Array
}

/** Lists of the sessions of one block; they are valid until the next block is asked about. */
const scratch = new Scratch((rows) => ({
  session: new Uint32Array(rows + 1),
  moment: new Uint32Array(rows + 1),
  from: new Int32Array(rows),
  to: new Int32Array(rows),
  group: new Int32Array(rows),
}))

/** The selected sessions of a block, good until the next block is asked about, as are their ways. */
export function listSelected(block: Block, { sessions, event }: SelectedSessions): Listed {
  const room = scratch.lend(block.sessions.count)
  const { session, moment } = room
  const count = sessions.listInto(session)
  for (let j = 0; j < count; j++) moment[j] = event[session[j]!]!
  return { ...room, count }
}

/** The same from a list of the only moment that each session has. */
export function listViewers(
  block: Block,
  among: SessionSet,
  { event, session: sessionOf, ranges }: EventList,
): Listed {
  const room = scratch.lend(block.sessions.count)
  const { session, moment } = room
  const everyone = among.count() === block.sessions.count
  const [from = 0, to = 0] = ranges
  let count = 0
  for (let i = from; i < to; i++) {
    const s = sessionOf[i]!
    session[count] = s
    moment[count] = event[i]!
    count += everyone || among.has(s) ? 1 : 0
  }
  return { ...room, count }
}

/** Finds the way through each listed session. */
function findWays(
  { events, sessions: { firstView }, views: { page } }: Block,
  { count, session, moment, from, to, group }: Listed,
  onward: boolean,
  groupOf: Uint32Array,
): void {
  // Read once here: a function that is called for each session would look these columns up each time.
  const { isView, viewsBefore: before, page: pageOf } = events
  for (let j = 0; j < count; j++) {
    const s = session[j]!
    const at = moment[j]!
    to[j] = onward ? firstView[s + 1]! : firstView[s]! - 1
    if (at === NO_EVENT) {
      from[j] = onward ? firstView[s]! : firstView[s + 1]! - 1
      group[j] = -1
      continue
    }
    const word = isView[at >>> 5]!
    const bit = 1 << (at & 31)
    const view = before[at >>> 5]! + countBits(word & (bit - 1))
    const viewed = (word & bit) !== 0
    group[j] = groupOf[viewed ? page[view]! : pageOf[at]!]!
    from[j] = onward ? view + (viewed ? 1 : 0) : view - 1
  }
}

/** What is the same for all ways. */
interface Walked {
  /** of each view */
  page: Codes
  groupOf: Uint32Array
  step: 1 | -1
  depth: number
  fold: boolean
}

/**
 * Writes the keys of paths that fit into one number. Branch-free: a view that is folded adds a digit of no bits, since
 * whether it is folded is unpredictable and mispredicted branches would dominate.
 */
function narrowKeys(
  { count, from, to, group }: Listed,
  { page, groupOf, step, depth, fold }: Walked,
  { bits }: Digits,
  keys: Int32Array,
  at: number,
): void {
  const all = depth * bits
  const always = fold ? 0 : -1
  for (let j = 0; j < count; j++) {
    const end = to[j]!
    let last = group[j]!
    let key = 0
    let left = all
    let view = from[j]!
    for (; view !== end && left > 0; view += step) {
      const code = groupOf[page[view]!]!
      // All bits where the code is another one, else none.
      const counts = (((code - last) | (last - code)) >> 31) | always
      last = code
      left -= bits & counts
      key |= ((code + 1) & counts) << left
    }
    if (left === 0 && fold) while (view !== end && groupOf[page[view]!]! === last) view += step
    keys[at + j] = (key << 1) | (view === end ? 0 : 1)
  }
}

/** The same for paths that take several numbers. */
function longKeys(
  { count, from, to, group }: Listed,
  { page, groupOf, step, depth, fold }: Walked,
  { bits, each }: Digits,
  columns: readonly Int32Array[],
  at: number,
): void {
  const always = fold ? 0 : -1
  const last = columns.length - 1
  /** bits of a number in which there is a digit; of the last number those below have none */
  const all = each * bits
  const free = (each * columns.length - depth) * bits
  for (let j = 0; j < count; j++) {
    const end = to[j]!
    let before = group[j]!
    let view = from[j]!
    for (let w = 0; w <= last; w++) {
      const none = w === last ? free : 0
      let key = 0
      let left = all
      for (; view !== end && left > none; view += step) {
        const code = groupOf[page[view]!]!
        const counts = (((code - before) | (before - code)) >> 31) | always
        before = code
        left -= bits & counts
        key |= ((code + 1) & counts) << left
      }
      if (w === last) {
        if (left === none && fold) while (view !== end && groupOf[page[view]!]! === before) view += step
        key = (key << 1) | (view === end ? 0 : 1)
      } else key <<= 1
      columns[w]![at + j] = key
    }
  }
}
