import type { Block } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import type { Codes } from '../columns/layout.ts'
import { postingsOf } from '../columns/postings.ts'
import type { EventCondition } from '../labels/event-condition.ts'
import type { Names } from '../labels/names.ts'
import { alternatives } from './alternatives.ts'
import { pageTable, passing, targetTable } from './code-tables.ts'
import { eventMatcher } from './event-matcher.ts'

/** Events with the session of each: those at from <= i < to of each two numbers in `ranges`. */
export interface EventList {
  event: Uint32Array
  session: Codes
  ranges: readonly number[]
  /** those of each range are in ascending order; else in no certain one */
  ascending: boolean
  /** they are in ascending order, and of each session what is in a later range comes later */
  inTurn: boolean
}

/** Beyond so many targets, looking at each event is faster than looking for each target. */
const MOST_TARGETS = 16

/**
 * The events of a block that a condition means, found by the index of what happened on which page: the time grows with
 * the events on these pages, of these kinds and at these elements, not with all events of the block.
 *
 * @param once  of each session the first such event will do; more may be found
 * @returns     one list for each alternative that the condition has; an event can lie in several of them
 */
export function eventsWhere(
  block: Block,
  condition: EventCondition,
  names: Names,
  once = false,
): EventList[] {
  return alternatives(condition, names).map((one) => foundBy(block, one, names, once))
}

/** How many events eventsWhere would look at. */
export function eventsToLookAt(block: Block, condition: EventCondition, names: Names): number {
  let total = 0
  for (const one of alternatives(condition, names)) {
    const { ranges } = narrowed(block, one, names)
    for (let r = 0; r < ranges.length; r += 2) total += ranges[r + 1]! - ranges[r]!
  }
  return total
}

function foundBy(block: Block, condition: EventCondition, names: Names, once: boolean): EventList {
  const { postings } = block
  const { ranges, rest } = narrowed(block, condition, names, once)
  const order = orderOf(block, ranges)
  if (!rest) return { event: postings.event, session: postings.session, ranges, ...order }
  const test = eventMatcher(block, rest, names)
  let room = 0
  for (let r = 0; r < ranges.length; r += 2) room += ranges[r + 1]! - ranges[r]!
  const event = new Uint32Array(room)
  const session = new (postings.session.constructor as new (length: number) => Codes)(room)
  let length = 0
  const passed: number[] = []
  for (let r = 0; r < ranges.length; r += 2) {
    const from = length
    for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
      if (!test(postings.event[i]!)) continue
      event[length] = postings.event[i]!
      session[length++] = postings.session[i]!
    }
    if (length > from) passed.push(from, length)
  }
  return { event, session, ranges: passed, ...order }
}

/** Only what is of one page, kind and target is in order of time; and of views of one page further ones come later. */
function orderOf(
  { postings, events }: Block,
  ranges: readonly number[],
): Pick<EventList, 'ascending' | 'inTurn'> {
  const like = (a: number, b: number) =>
    events.page[a] === events.page[b] &&
    events.kind[a] === events.kind[b] &&
    events.target[a] === events.target[b]
  const at = (r: number) => postings.event[r]!
  for (let r = 0; r < ranges.length; r += 2)
    if (!like(at(ranges[r]!), at(ranges[r + 1]! - 1))) return { ascending: false, inTurn: false }
  const [first, , second, , ...more] = ranges
  const inTurn = second === undefined || (!more.length && like(at(first!), at(second)))
  return { ascending: true, inTurn }
}

/** Where in the postings the events may lie, and what is still to be tested; undefined = nothing. */
function narrowed(
  block: Block,
  condition: EventCondition,
  names: Names,
  once = false,
): { ranges: number[]; rest: EventCondition | undefined } {
  const { kinds, page, path, element, ...others } = condition
  const targets = kinds && element ? codesOf(targetTable(element, names)) : undefined
  const left = targets ? others : { ...others, element }
  const rest = Object.values(left).some((part) => part !== undefined) ? left : undefined
  const ranges = postingsOf(block, {
    pages: [
      ...(page ? [pageTable(page, names)] : []),
      ...(path ? [passing(names.dictionaries.page.values, path)] : []),
    ],
    kinds: kinds?.map((kind) => KIND_CODE[kind]),
    targets,
    view: KIND_CODE.page,
    once: once && !rest,
  })
  return { ranges, rest }
}

/** The codes that a table marks, if they are few. */
function codesOf(table: Uint8Array): Uint32Array | undefined {
  const cached = codesKnown.get(table)
  if (cached !== undefined) return cached ?? undefined
  const codes: number[] = []
  for (
    let code = table.indexOf(1);
    code >= 0 && codes.length <= MOST_TARGETS;
    code = table.indexOf(1, code + 1)
  )
    codes.push(code)
  const few = codes.length > MOST_TARGETS ? null : Uint32Array.from(codes)
  codesKnown.set(table, few)
  return few ?? undefined
}

/** Of the question that is being answered: all blocks share them. */
const codesKnown = new WeakMap<Uint8Array, Uint32Array | null>()
