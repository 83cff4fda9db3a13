import { BlockCache, oncePer } from '../columns/block-cache.ts'
import type { Block } from '../columns/block.ts'
import { isFew, SessionSet } from '../columns/session-set.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import type { EventCondition } from '../labels/event-condition.ts'
import type { Names } from '../labels/names.ts'
import { sessionNumbers, textColumn, textValues } from './attributes.ts'
import { pageTable, passing, passingWords, targetTable } from './code-tables.ts'
import { eventMatcher } from './event-matcher.ts'
import type { Condition } from './grammar/conditions.ts'
import { eventsToLookAt, eventsWhere } from './matching-events.ts'
import { numberTester } from './predicates.ts'
import { holdsSequence } from './sequence.ts'

/** A condition with no others in it; numbers are left out, being as fast to test as to look up. */
export type Leaf = Exclude<Condition, { type: 'all' | 'any' | 'not' | 'selected' | 'number' }>

/** Of so many conditions a block keeps for which of its sessions they hold: a bit a session each. */
const leafCache = new BlockCache<SessionSet>(24)
const keyOf = oncePer((leaf: Leaf) => JSON.stringify(leaf))

/**
 * The sessions, among those given, for which a condition holds that has no others in it. Of most of a block's sessions
 * all are tested and the outcome is kept, since a lens stays while questions change; of a few only these are tested.
 */
export function leafSessions(block: Block, among: SessionSet, leaf: Leaf, names: Names): SessionSet {
  const key = keyOf(leaf)
  const tested = leafCache.get(block, key, names)
  if (tested) return among.and(tested)
  if (isFew(among)) return meeting(block, among, leaf, names)
  const all = meeting(block, SessionSet.all(among.size), leaf, names)
  return among.and(leafCache.set(block, key, names, all))
}

function meeting(block: Block, among: SessionSet, condition: Leaf, names: Names): SessionSet {
  switch (condition.type) {
    case 'text': {
      const { of, test } = condition
      const { column, codes } = textColumn(block, of, names)
      const table =
        of === 'visitor'
          ? passingWords(names.dictionaries.visitor, test)
          : passing(textValues(of, names), test)
      return column ? among.whereCode(column, table) : among.where((s) => table[codes(s)] === 1)
    }
    case 'event': {
      const { event, count } = condition
      // The index is faster where it leads to fewer events than these sessions have.
      const share = among.count() / Math.max(1, block.sessions.count)
      if (!count && eventsToLookAt(block, event, names) <= share * block.events.count)
        return among.and(sessionsWith(block, event, names))
      return among.where(sessionTest(block, condition, names))
    }
    case 'sequence': {
      // Who lacks any of its steps needs no closer look.
      const having = condition.steps.reduce(
        (left, { event }) => left.and(sessionsWith(block, event, names)),
        among,
      )
      return having.where(sessionTest(block, condition, names))
    }
    default:
      return among.where(sessionTest(block, condition, names))
  }
}

/** Sessions with at least one event that a condition means. */
function sessionsWith(block: Block, event: EventCondition, names: Names): SessionSet {
  const found = new SessionSet(block.sessions.count)
  for (const { session, ranges } of eventsWhere(block, event, names, true))
    for (let r = 0; r < ranges.length; r += 2)
      for (let i = ranges[r]!; i < ranges[r + 1]!; i++) found.add(session[i]!)
  return found
}

/** A condition with no others in it as a test of one session of the block. */
export function sessionTest(
  block: Block,
  condition: Exclude<Condition, { type: 'all' | 'any' | 'not' | 'text' | 'selected' }>,
  names: Names,
): (session: number) => boolean {
  const { sessions, events, signals } = block
  switch (condition.type) {
    case 'number': {
      const numbers = sessionNumbers(block, condition.of, names)
      const test = numberTester(condition.test)
      return (s) => test(numbers[s]!)
    }
    case 'visit': {
      const wanted = condition.is === 'returning' ? 1 : 0
      return (s) => sessions.returning[s] === wanted
    }
    case 'event': {
      const matcher = eventMatcher(block, condition.event, names)
      const test = condition.count && numberTester(condition.count)
      return (s) => {
        let count = 0
        for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
          if (matcher(i)) {
            if (!test) return true
            count++
          }
        return test ? test(count) : false
      }
    }
    case 'signal': {
      const kind = condition.kind === undefined ? -1 : SIGNAL_KINDS.indexOf(condition.kind)
      const pages = condition.page && pageTable(condition.page, names)
      const targets = condition.element && targetTable(condition.element, names)
      const test = condition.count ? numberTester(condition.count) : (count: number) => count > 0
      return (s) => {
        let count = 0
        for (let g = sessions.firstSignal[s]!; g < sessions.firstSignal[s + 1]!; g++)
          if (
            (kind < 0 || signals.kind[g] === kind) &&
            (!pages || pages[events.page[signals.event[g]!]!] === 1) &&
            (!targets || targets[events.target[signals.event[g]!]!] === 1)
          )
            count++
        return test(count)
      }
    }
    case 'sequence': {
      const matchers = {
        steps: condition.steps.map(({ event }) => eventMatcher(block, event, names)),
        without: condition.steps.map(({ without }) => without && eventMatcher(block, without, names)),
      }
      return (s) =>
        holdsSequence(events.atMs, sessions.firstEvent[s]!, sessions.firstEvent[s + 1]!, condition, matchers)
    }
  }
}
