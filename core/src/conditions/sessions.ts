import type { Block } from '../events/columns.ts'
import { KIND } from '../events/columns.ts'
import { DEVICE_CLASSES } from '../events/line.ts'
import type { Names } from '../funnel/trace.ts'
import { SessionSet } from '../sets/session-set.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'
import { eventMatcher, pageTable, passing, targetTable } from './events.ts'
import type { Condition, SessionNumber, SessionText } from './schema.ts'
import { holdsSequence } from './sequence.ts'
import { numberTester } from './tests.ts'

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
    default:
      return among.where(sessionTest(block, condition, names))
  }
}

function sessionTest(
  block: Block,
  condition: Exclude<Condition, { type: 'all' | 'any' | 'not' }>,
  names: Names,
): (session: number) => boolean {
  const { sessions, events, signals } = block
  switch (condition.type) {
    case 'text': {
      const { codes, values } = textColumn(block, condition.of, names)
      const table = passing(values, condition.test)
      return (s) => table[codes(s)] === 1
    }
    case 'number': {
      const of = sessionNumber(block, condition.of)
      const test = numberTester(condition.test)
      return (s) => test(of(s))
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

/** A text attribute of sessions as codes into values; code 0 is "not known". */
export function textColumn(
  block: Block,
  of: SessionText,
  { dictionaries, groups }: Names,
): { codes: (session: number) => number; values: readonly string[] } {
  const { sessions } = block
  const coded = (codes: ArrayLike<number>, values: readonly string[]) => ({
    codes: (s: number) => codes[s]!,
    values,
  })
  switch (of) {
    case 'device':
      return coded(sessions.device, ['', ...DEVICE_CLASSES])
    case 'browser':
      return coded(sessions.browser, dictionaries.browser.values)
    case 'system':
      return coded(sessions.os, dictionaries.os.values)
    case 'country':
      return coded(sessions.country, dictionaries.country.values)
    case 'channel':
      return coded(sessions.channel, dictionaries.channel.values)
    case 'source':
      return coded(sessions.source, dictionaries.source.values)
    case 'campaign':
      return coded(sessions.campaign, dictionaries.campaign.values)
    case 'visitor':
      return coded(sessions.visitor, dictionaries.visitor.values)
    case 'entry page':
      return { codes: (s) => groups.groupOf[edgePage(block, s, 1)]!, values: groups.names }
    case 'exit page':
      return { codes: (s) => groups.groupOf[edgePage(block, s, -1)]!, values: groups.names }
  }
}

/** Page code of a session's first or last page view; 0 where it has none. */
function edgePage({ sessions, events }: Block, s: number, step: 1 | -1): number {
  const from = sessions.firstEvent[s]!
  const to = sessions.firstEvent[s + 1]! - 1
  for (let i = step === 1 ? from : to; i >= from && i <= to; i += step)
    if (events.kind[i] === KIND.page) return events.page[i]!
  return 0
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
      return countKind(KIND.page)
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
          if (events.kind[i] === KIND.action && events.amount[i]! === events.amount[i]!)
            value += events.amount[i]!
        return value
      }
    case 'width':
      return (s) => sessions.width[s]! || NaN
    case 'height':
      return (s) => sessions.height[s]! || NaN
  }
}
