import { z } from 'zod'
import { rowOf } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { KINDS } from '../../events/line.ts'
import { addCounts } from '../../stats/counts.ts'
import { countSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** What of an event is told: see EventCondition. */
export const EVENT_VALUES = ['page', 'path', 'element', 'text', 'name', 'property', 'property value'] as const
export type EventValue = (typeof EVENT_VALUES)[number]

/** By code, or a property's number as a text, in how many sessions. */
type Counted = Map<number | string, number>

/** What events of a kind hold, each value with the sessions in which it occurs: what a condition on them can name. */
export const eventValues = question({
  name: 'event-values',
  summary: 'what events of a kind hold, each value with the sessions in which it occurs',
  asked: z.strictObject({
    kind: z.enum(KINDS),
    of: z.enum(EVENT_VALUES),
    key: z.string().max(200).optional().describe('of which property the values are meant'),
    most: z.number().int().min(1).max(1000).default(200),
  }),
  answer: z.object({ values: z.array(z.object({ value: z.string(), sessions: countSchema })) }),
  example: { kind: 'click', of: 'element', most: 50 },

  scan(block, among, { kind, of, key, names }) {
    const counted: Counted = new Map()
    const seenIn = new Map<number | string, number>()
    const { events, props, propped } = block
    const { groupOf } = names.groups
    const { familyOf } = names.families
    const wanted = KIND_CODE[kind]
    const propCode = key === undefined ? -1 : names.dictionaries.propKey.find(key)
    const note = (s: number, value: number | string) => {
      if (value === 0 || value === '' || seenIn.get(value) === s) return
      seenIn.set(value, s)
      counted.set(value, (counted.get(value) ?? 0) + 1)
    }
    const noteProps = (s: number, i: number) => {
      const row = rowOf(events.hasProps, events.propsBefore, i)
      if (row < 0) return
      for (let p = propped.first[row]!; p < propped.first[row + 1]!; p++) {
        if (of === 'property') note(s, props.key[p]!)
        else if (props.key[p] === propCode)
          note(s, props.text[p]! || (Number.isNaN(props.number[p]) ? 0 : String(props.number[p])))
      }
    }
    among.forEach((s) => {
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        if (events.kind[i] !== wanted) continue
        if (of === 'page') note(s, groupOf[events.page[i]!]!)
        else if (of === 'path') note(s, events.page[i]!)
        else if (of === 'element') note(s, familyOf[events.target[i]!]!)
        else if (of === 'text' || of === 'name') note(s, events[of][i]!)
        else noteProps(s, i)
      }
    })
    return { counted }
  },

  merge: (a, b) => ({ counted: addCounts(a.counted, b.counted) }),

  finish({ counted }, { of, most, names: { dictionaries, groups, families } }) {
    const words = {
      page: groups.names,
      path: dictionaries.page.values,
      element: families.names,
      text: dictionaries.text.values,
      name: dictionaries.name.values,
      property: dictionaries.propKey.values,
      'property value': dictionaries.propText.values,
    }[of]
    return {
      values: [...counted]
        .map(([value, sessions]) => ({ value: typeof value === 'string' ? value : words[value]!, sessions }))
        .sort((a, b) => b.sessions - a.sessions || (a.value < b.value ? -1 : 1))
        .slice(0, most),
    }
  },

  table: ({ values }) => values,
})
