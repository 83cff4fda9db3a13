import { eventConditionSchema, KINDS } from '@dust-trail/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Part } from './event-parts.ts'
import { eventFrom, fixedValues, howsFor, partsOf, timesFrom } from './event-parts.ts'
import { conditionWords, eventWords } from './sentences.ts'

const part = (of: Part['of'], how: string, value: string, key = ''): Part => ({ of, how, value, key })

describe('a condition on anything that happened', () => {
  it('is one that the engine knows, whatever is put together', () => {
    const filled = fc.constantFrom(...KINDS).chain((kind) =>
      fc.tuple(
        fc.constant(kind),
        fc.array(
          fc.constantFrom(...partsOf(kind).map(([of]) => of)).chain((of) =>
            fc.record({
              of: fc.constant(of),
              key: fc.string({ minLength: 1, maxLength: 8 }),
              how: fc.constantFrom(...Object.keys(howsFor(of))),
              value: fixedValues(of)
                ? fc.constantFrom(...fixedValues(of)!)
                : fc.oneof(fc.integer().map(String), fc.string({ minLength: 1, maxLength: 8 })),
            }),
          ),
          { maxLength: 5 },
        ),
      ),
    )
    fc.assert(
      fc.property(filled, ([kind, parts]) => {
        const event = eventFrom(kind, parts)
        if (!event) {
          // Only a number that is none stands in the way.
          const numeric = parts.filter(
            ({ of, how }) => of === 'number' || of === 'amount' || / (least|most)$/.test(how),
          )
          expect(numeric.some(({ value }) => !Number.isFinite(Number(value)))).toBe(true)
          return
        }
        expect(eventConditionSchema.safeParse(event).error).toBeUndefined()
        expect(eventWords(event)).not.toContain('undefined')
      }),
    )
  })
  it('waits for what is missing, and takes two parts about the same thing together', () => {
    expect(eventFrom('click', [part('text', 'containing', '')])).toBeUndefined()
    expect(eventFrom('action', [part('property', 'equal', 'gold')])).toBeUndefined()
    expect(eventFrom('nothing known', [])).toBeUndefined()
    const event = eventFrom('click', [
      part('text', 'containing', 'Book'),
      part('text', 'not containing', 'later'),
    ])!
    expect(event.all).toHaveLength(2)
    expect(eventWords(event)).toBe(
      'click and whose text contains “Book” and whose text does not contain “later”',
    )
  })
  it('reads a property as a number where its value is one', () => {
    expect(eventFrom('action', [part('property', 'equal', '2', 'seats')])!.prop).toEqual({
      key: 'seats',
      number: { is: 'equal', to: 2 },
    })
    expect(eventFrom('action', [part('property', 'equal', 'gold', 'plan')])!.prop).toEqual({
      key: 'plan',
      text: { is: 'equal', to: 'gold' },
    })
  })
  it('says in words what is asked, and how often', () => {
    const event = eventFrom('request', [
      part('number', 'at least', '500'),
      part('page', 'not equal', 'Home'),
    ])!
    expect(conditionWords({ type: 'event', event, count: timesFrom({ how: 'at least', times: '2' })! })).toBe(
      'met request whose page is not Home with status at least 500 at least 2 times',
    )
    expect(timesFrom({ how: '', times: '4' })).toBeUndefined()
    expect(timesFrom({ how: 'at most', times: '' })).toBeUndefined()
  })
})
