import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { Money } from '../../labels/money.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import { sessionNumbers } from '../../select/attributes.ts'
import { selectSessions } from '../../select/sessions.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { about, answerTo, namesOf, rowsOf } from '../../testing/world.ts'
import { distribution } from '../distribution/distribution.ts'
import { money } from './money.ts'

const DAY = 86_400_000
const RATES: Money = {
  currency: 'EUR',
  rates: [
    { currency: 'USD', from: '1970-01-02', rate: 0.5 },
    { currency: 'USD', from: '1970-01-04', rate: 0.25 },
  ],
}
const sale = (t: number, value: number, currency?: string): Line => ({
  ...{ visitor: 'v', t, kind: 'action', name: 'order', value },
  ...(currency && { currency }),
})
const worldOf = (lines: Line[][], rates = RATES) => {
  const dictionaries = new Dictionaries()
  const block = buildBlock(rowsOf(lines), dictionaries)
  return { block, names: { ...namesOf(dictionaries), money: rates } }
}
const all = { type: 'everyone' } as const

describe('money', () => {
  it('is exact: an amount is found as it was sent, and sums of cents are sums of cents', () => {
    const { block, names } = worldOf([[sale(0, 39.02)], [sale(0, 0.1), sale(1, 0.2)]])
    const found = (to: number) =>
      selectSessions(
        block,
        SessionSet.all(2),
        {
          type: 'where',
          condition: { type: 'event', event: { kinds: ['action'], amount: { is: 'equal', to } } },
        },
        names,
      ).sessions.count()
    expect([found(39.02), found(39.019), found(0.1)]).toEqual([1, 0, 1])
    expect([...sessionNumbers(block, 'value', names)]).toEqual([39.02, 0.3])
  })

  it('adds any amounts of cents as whole numbers add, in whatever order', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1e9, max: 1e9 }), { maxLength: 40 }), (cents) => {
        const parts = cents.map((one) => toParts(one / 100)).reduce((a, b) => a + b, 0)
        expect(fromParts(parts)).toBe(cents.reduce((a, b) => a + b, 0) / 100)
      }),
    )
  })

  it('never adds currencies: others are converted at the rate of their day, or counted apart', () => {
    const lines = [
      [sale(0, 10), sale(1, 10, 'EUR'), sale(2, 10, 'USD')],
      [sale(2 * DAY, 10, 'USD'), sale(3 * DAY, 10, 'USD'), sale(3 * DAY + 1, 7, 'SEK')],
    ]
    const { block, names } = worldOf(lines)
    const blocks = [{ block, sessions: SessionSet.all(2) }]
    expect([...sessionNumbers(block, 'value', names)]).toEqual([20, 7.5])
    expect(answerTo(money, blocks, {}, about(names)).currencies).toEqual([
      { currency: 'USD', actions: 3, sum: 30, counted: 2, countedSum: 7.5 },
      { currency: null, actions: 1, sum: 10, counted: 1, countedSum: 10 },
      { currency: 'EUR', actions: 1, sum: 10, counted: 1, countedSum: 10 },
      { currency: 'SEK', actions: 1, sum: 7, counted: 0, countedSum: 0 },
    ])
    const options = { measure: 'value', countOf: null, by: null, quantiles: [], bins: 0 } as never
    const { values } = answerTo(distribution, blocks, { selection: all, options }, about(names))
    expect(values[0]!.mean).toBe(13.75)
  })
})
