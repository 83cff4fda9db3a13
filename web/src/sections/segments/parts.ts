import {
  type NumberTest,
  type Condition,
  type Range,
  type SessionNumber,
  type SessionText,
  type EventCondition,
  SESSION_TEXTS,
  rangeWords,
} from '@dust-trail/core'
import { duration } from '../../ui/format.ts'
import { NUMBER_WORDS, TEXT_WORDS } from '../../words/sentences.ts'

export interface Part {
  name: string
  condition: Condition
}

/**
 * The parts of a partition, each with the condition that picks its sessions out.
 *
 * @param of  a text, a number of sessions, or "views of a page"
 * @param ranges  of a number, ascending; none while the edges are not numbers
 * @param values  those that a text takes, the most frequent first; fifty at most become parts
 */
export function wantedParts({
  of,
  countOf,
  page,
  ranges,
  whole,
  values,
}: {
  of: string
  countOf: EventCondition | undefined
  page: string
  ranges: readonly Range[]
  whole: boolean
  values: readonly { value: string }[]
}): Part[] {
  if ((SESSION_TEXTS as readonly string[]).includes(of))
    return values.slice(0, 50).map(({ value }) => ({
      name: `${TEXT_WORDS[of as SessionText]}: ${value || 'not known'}`,
      condition: {
        type: 'text',
        of: of as SessionText,
        test: value ? { is: 'equal', to: value } : { is: 'not known' },
      },
    }))
  const what = countOf ? `views of ${page}` : NUMBER_WORDS[of as SessionNumber]
  return [
    ...ranges.map((range): Part => ({
      name: `${what}: ${of === 'duration' ? timeWords(range) : rangeWords(range, whole)}`,
      condition: countOf
        ? { type: 'event', event: countOf, count: testOf(range, whole) }
        : { type: 'number', of: of as SessionNumber, test: testOf(range, whole) },
    })),
    ...(countOf || !ranges.length ? [] : [notKnown(what, of as SessionNumber)]),
  ]
}

/** Those of which a number is not known: they are in no range. Nothing that is measured lies below zero. */
function notKnown(what: string, of: SessionNumber): Part {
  return {
    name: `${what}: not known`,
    condition: { type: 'not', of: { type: 'number', of, test: { is: 'at least', to: 0 } } },
  }
}

function testOf({ from, to }: Range, whole: boolean): NumberTest {
  if (from === null) return { is: whole ? 'at most' : 'less than', to: to! }
  if (to === null) return { is: 'at least', to: from }
  // A measured number may lie anywhere below the next edge: the largest number that is still below it.
  return { is: 'between', from, to: whole ? to : to - Math.abs(to) * Number.EPSILON }
}

function timeWords({ from, to }: Range): string {
  if (from === null) return `under ${duration(to)}`
  return to === null ? `${duration(from)} or longer` : `${duration(from)} to ${duration(to)}`
}
