import { selectSessions } from '../closeup/selection.ts'
import type { Block } from '../events/columns.ts'
import { amountAt } from '../events/columns.ts'
import { KIND } from '../events/loose.ts'
import { DEVICE_CLASSES } from '../events/line.ts'
import type { Names } from '../funnel/trace.ts'
import { isFew, SessionSet } from '../sets/session-set.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'
import { eventMatcher, pageTable, passing, passingWords, targetTable } from './events.ts'
import { eventsToLookAt, eventsWhere } from './found.ts'
import type { Condition, EventCondition, SessionNumber, SessionText } from './schema.ts'
import { holdsSequence } from './sequence.ts'
import { numberTester, rangeOf } from './tests.ts'

/**
 * The sessions of a block, among those given, for which a condition holds. Groups narrow down as they go: `all` asks
 * each further part only of those that passed so far.
 */
export function sessionsWhere(
  block: Block,
  among: SessionSet,
  condition: Condition,
  names: Names,
): SessionSet {
  switch (condition.type) {
    case 'all':
      return condition.of.reduce((left, part) => sessionsWhere(block, left, part, names), among)
    case 'any':
      return condition.of.reduce(
        (found, part) => found.or(sessionsWhere(block, among.without(found), part, names)),
        new SessionSet(among.size),
      )
    case 'not':
      return among.without(sessionsWhere(block, among, condition.of, names))
    case 'selected':
      return among.and(selectSessions(block, among, condition.selection, names).sessions)
    case 'number': {
      const range = rangeOf(condition.test)
      return range
        ? among.whereBetween(sessionNumbers(block, condition.of), ...range)
        : among.where(sessionTest(block, condition, names))
    }
    default:
      return leafSessions(block, among, condition, names)
  }
}

/** A condition that holds no others; a number is as fast to test as to look up. */
type Leaf = Exclude<Condition, { type: 'all' | 'any' | 'not' | 'selected' | 'number' }>

/** Of how many conditions a block keeps which of its sessions they hold for: a bit a session each. */
const MOST_LEAVES = 24
const leavesKept = new WeakMap<Block, Map<string, { names: Names; sessions: SessionSet }>>()
const leafKeys = new WeakMap<Leaf, string>()

/**
 * The same for a condition that holds no others. What it holds for is kept, since a lens stays while questions change; of a
 * few sessions only these are asked.
 */
function leafSessions(block: Block, among: SessionSet, leaf: Leaf, names: Names): SessionSet {
  let key = leafKeys.get(leaf)
  if (key === undefined) leafKeys.set(leaf, (key = JSON.stringify(leaf)))
  let kept = leavesKept.get(block)
  if (!kept) leavesKept.set(block, (kept = new Map<string, { names: Names; sessions: SessionSet }>()))
  const known = kept.get(key)
  if (known?.names === names) return among.and(known.sessions)
  if (isFew(among)) return meeting(block, among, leaf, names)
  const sessions = meeting(block, SessionSet.all(among.size), leaf, names)
  if (kept.size >= MOST_LEAVES) kept.delete(kept.keys().next().value!)
  kept.set(key, { names, sessions })
  return among.and(sessions)
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
      // Where few events can be meant, or many sessions are asked about, the index is faster than a look at all events.
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

function sessionTest(
  block: Block,
  condition: Exclude<Condition, { type: 'all' | 'any' | 'not' | 'text' | 'selected' }>,
  names: Names,
): (session: number) => boolean {
  const { sessions, events, signals } = block
  switch (condition.type) {
    case 'number': {
      const numbers = sessionNumbers(block, condition.of)
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
            (!pages || pages[signals.page[g]!] === 1) &&
            (!targets || targets[signals.target[g]!] === 1)
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

export interface TextColumn {
  codes: (session: number) => number
  /** the codes as they lie in the block, where they do */
  column?: ArrayLike<number>
}

/** A text attribute of sessions as codes into its values (see textValues); code 0 is "not known". */
export function textColumn(block: Block, of: SessionText, names: Names): TextColumn {
  const { sessions } = block
  const coded = (column: ArrayLike<number>): TextColumn => ({ codes: (s) => column[s]!, column })
  const { groupOf } = names.groups
  switch (of) {
    case 'device':
      return coded(sessions.device)
    case 'browser':
      return coded(sessions.browser)
    case 'system':
      return coded(sessions.os)
    case 'country':
      return coded(sessions.country)
    case 'channel':
      return coded(sessions.channel)
    case 'source':
      return coded(sessions.source)
    case 'campaign':
      return coded(sessions.campaign)
    case 'visitor':
      return coded(sessions.visitor)
    case 'entry page':
      return { codes: (s) => groupOf[edgePage(block, s, 1)]! }
    case 'exit page':
      return { codes: (s) => groupOf[edgePage(block, s, -1)]! }
  }
}

const DEVICE_VALUES: readonly string[] = ['', ...DEVICE_CLASSES]

/** What the codes of a text attribute mean. */
export function textValues(of: SessionText, { dictionaries, groups }: Names): readonly string[] {
  switch (of) {
    case 'device':
      return DEVICE_VALUES
    case 'system':
      return dictionaries.os.values
    case 'entry page':
    case 'exit page':
      return groups.names
    default:
      return dictionaries[of].values
  }
}

/** Page code of a session's first or last page view; 0 where it has none. */
function edgePage({ sessions, views }: Block, s: number, step: 1 | -1): number {
  const from = sessions.firstView[s]!
  const to = sessions.firstView[s + 1]!
  return from === to ? 0 : views.page[step === 1 ? from : to - 1]!
}

/** Of how many attributes a block keeps the numbers: eight bytes a session each. */
const MOST_KEPT = 3
const numbersKept = new WeakMap<Block, Map<SessionNumber, Float64Array>>()

/** A number of each session, kept for whoever asks next: some take a look at all events. */
function sessionNumbers(block: Block, of: SessionNumber): Float64Array {
  let kept = numbersKept.get(block)
  if (!kept) numbersKept.set(block, (kept = new Map<SessionNumber, Float64Array>()))
  let numbers = kept.get(of)
  if (!numbers) {
    const number = sessionNumber(block, of)
    numbers = new Float64Array(block.sessions.count)
    for (let s = 0; s < numbers.length; s++) numbers[s] = number(s)
    if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!)
    kept.set(of, numbers)
  }
  return numbers
}

/** A number that a session has; durations in milliseconds. */
export function sessionNumber(block: Block, of: SessionNumber): (session: number) => number {
  const { sessions, events } = block
  const countKind = (kind: number) => (s: number) => {
    let count = 0
    for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
      if (events.kind[i] === kind) count++
    return count
  }
  switch (of) {
    case 'duration':
      return (s) => sessions.endMs[s]! - sessions.startMs[s]!
    case 'pages':
      return (s) => sessions.firstView[s + 1]! - sessions.firstView[s]!
    case 'clicks':
      return countKind(KIND.click)
    case 'events':
      return (s) => sessions.firstEvent[s + 1]! - sessions.firstEvent[s]!
    case 'signals':
      return (s) => sessions.firstSignal[s + 1]! - sessions.firstSignal[s]!
    case 'value':
      return (s) => {
        let value = 0
        for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
          if (events.kind[i] === KIND.action) value += amountAt(block, i) || 0
        return value
      }
    case 'width':
      return (s) => sessions.width[s]! || NaN
    case 'height':
      return (s) => sessions.height[s]! || NaN
  }
}
