import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import type { EventValue } from './event-values.ts'
import { eventValues } from './event-values.ts'

const ask = (parts: Line[][][], kind: Line['kind'], of: EventValue, key?: string) => {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  const { names } = blocks[blocks.length - 1]!
  return answerTo(
    eventValues,
    blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    { kind, of, key },
    about(names),
  ).values
}

describe('eventValues', () => {
  it('counts the sessions in which each value occurs, over any blocks', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        const expected = (kind: Line['kind'], valueOf: (line: Line) => string | undefined) => {
          const counts = new Map<string, number>()
          for (const lines of [...a, ...b])
            for (const value of new Set(lines.filter((line) => line.kind === kind).map(valueOf)))
              if (value) counts.set(value, (counts.get(value) ?? 0) + 1)
          return counts
        }
        const found = (kind: Line['kind'], of: EventValue) =>
          new Map(ask([a, b], kind, of).map(({ value, sessions }) => [value, sessions]))
        expect(found('page', 'page')).toEqual(expected('page', ({ url }) => url))
        expect(found('page', 'path')).toEqual(expected('page', ({ url }) => url))
        expect(found('click', 'element')).toEqual(expected('click', ({ target }) => target!.selector))
        expect(found('error', 'name')).toEqual(expected('error', ({ message }) => message))
      }),
    )
  })
  it('tells the properties there are, and the values of one, numbers and texts alike', () => {
    const at = (t: number, props: Line['props']): Line => ({
      visitor: 'v',
      t,
      kind: 'action',
      name: 'order',
      url: '/a',
      props,
    })
    const sessions = [
      [at(0, { plan: 'gold', seats: 2 }), at(1, { plan: 'gold' })],
      [at(0, { plan: 'tin' }), at(1, { seats: 2 })],
      [at(0, { plan: 'gold' })],
    ]
    expect(ask([sessions], 'action', 'property')).toEqual([
      { value: 'plan', sessions: 3 },
      { value: 'seats', sessions: 2 },
    ])
    expect(ask([sessions], 'action', 'property value', 'plan')).toEqual([
      { value: 'gold', sessions: 2 },
      { value: 'tin', sessions: 1 },
    ])
    expect(ask([sessions], 'action', 'property value', 'seats')).toEqual([{ value: '2', sessions: 2 }])
    expect(ask([sessions], 'action', 'property value', 'unknown')).toEqual([])
  })
})
