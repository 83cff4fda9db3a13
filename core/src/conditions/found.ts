import type { Block, Codes } from '../events/columns.ts'
import { KIND } from '../events/loose.ts'
import { postingsOf } from '../events/postings.ts'
import type { Names } from '../funnel/trace.ts'
import { eventMatcher, pageTable, passing, targetTable } from './events.ts'
import type { EventCondition } from './schema.ts'

/** Events with the session of each: those at from <= i < to of each two numbers in `ranges`. */
export interface Found {
  event: Uint32Array
  session: Codes
  ranges: readonly number[]
  /** they are in ascending order; else in no certain one */
  ascending: boolean
}

/** Beyond so many targets, looking at each event is faster than looking for each target. */
const MOST_TARGETS = 16

/**
 * The events of a block that a condition means, found by the index of what happened on which page: it takes as long as
 * there are events on these pages, of these kinds and at these elements, not as there are events.
 *
 * @returns one list for each alternative that the condition has; an event can lie in several of them
 */
export function eventsWhere(block: Block, condition: EventCondition, names: Names): Found[] {
  return alternatives(condition, names).map((one) => foundBy(block, one, names))
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

function foundBy(block: Block, condition: EventCondition, names: Names): Found {
  const { postings } = block
  const { ranges, rest } = narrowed(block, condition, names)
  const ascending = isAscending(block, ranges)
  if (!rest) return { event: postings.event, session: postings.session, ranges, ascending }
  const test = eventMatcher(block, rest, names)
  let room = 0
  for (let r = 0; r < ranges.length; r += 2) room += ranges[r + 1]! - ranges[r]!
  const event = new Uint32Array(room)
  const session = new (postings.session.constructor as new (length: number) => Codes)(room)
  let length = 0
  for (let r = 0; r < ranges.length; r += 2)
    for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
      if (!test(postings.event[i]!)) continue
      event[length] = postings.event[i]!
      session[length++] = postings.session[i]!
    }
  return { event, session, ranges: [0, length], ascending }
}

/** Whether they are of one page, kind and target: only then postings are in order of time. */
function isAscending({ postings, events }: Block, [from, to, ...more]: readonly number[]): boolean {
  if (from === undefined || to === undefined) return true
  const first = postings.event[from]!
  const last = postings.event[to - 1]!
  return (
    !more.length &&
    events.page[first] === events.page[last] &&
    events.kind[first] === events.kind[last] &&
    events.target[first] === events.target[last]
  )
}

/** Where in the postings the events may lie, and what is still to be tested; undefined = nothing. */
function narrowed(
  block: Block,
  condition: EventCondition,
  names: Names,
): { ranges: number[]; rest: EventCondition | undefined } {
  const { kinds, page, path, element, ...others } = condition
  const targets = kinds && element ? codesOf(targetTable(element, names)) : undefined
  const ranges = postingsOf(block, {
    pages: [
      ...(page ? [pageTable(page, names)] : []),
      ...(path ? [passing(names.dictionaries.page.values, path)] : []),
    ],
    kinds: kinds?.map((kind) => KIND[kind]),
    targets,
    view: KIND.page,
  })
  const rest = targets ? others : { ...others, element }
  return { ranges, rest: Object.values(rest).some((part) => part !== undefined) ? rest : undefined }
}

/** The codes that a table marks, if they are few. */
function codesOf(table: Uint8Array): Uint32Array | undefined {
  const known = codesKnown.get(table)
  if (known !== undefined) return known ?? undefined
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

/** Conditions without `any` and named actions, where these stand alone, one of which must hold. */
function alternatives(condition: EventCondition, names: Names): readonly EventCondition[] {
  const known = alternativesOf.get(condition)
  if (known?.names === names) return known.of
  const of = taken(flat(condition), names)
  alternativesOf.set(condition, { names, of })
  return of
}

const alternativesOf = new WeakMap<EventCondition, { names: Names; of: readonly EventCondition[] }>()

function taken(condition: EventCondition, names: Names): readonly EventCondition[] {
  const { action, any, ...others } = condition
  if (Object.values(others).some((part) => part !== undefined)) return [condition]
  if (any && action === undefined) return any.flatMap((one) => alternatives(one, names))
  if (action === undefined || any) return [condition]
  const rule = names.actions?.get(action)
  const reported: EventCondition = { kinds: ['action'], name: { is: 'equal', to: action } }
  return rule ? [reported, ...alternatives(rule, names)] : [reported]
}

/** Parts that must all hold as one condition, where they are about different things. */
function flat(condition: EventCondition): EventCondition {
  if (!condition.all) return condition
  const { all, ...own } = condition
  let joined: EventCondition = own
  const left: EventCondition[] = []
  for (const part of all.map(flat)) {
    const clash = Object.keys(part).some((key) => joined[key as keyof EventCondition] !== undefined)
    if (clash) left.push(part)
    else joined = { ...joined, ...part }
  }
  return left.length ? { ...joined, all: left } : joined
}
