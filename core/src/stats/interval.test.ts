import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { newcombe, wilson } from './interval.ts'
import { rate } from './rate.ts'

describe('wilson', () => {
  const cases = casesOf<{ successes: number; trials: number }, { lower: number; upper: number }>(
    'proportions',
    'wilson_interval',
  )
  it.each(cases)('gives the published interval: $id ($source)', ({ inputs, expected }) => {
    const [low, high] = wilson(inputs.successes, inputs.trials)
    expect(low).toBeCloseTo(expected.lower, 9)
    expect(high).toBeCloseTo(expected.upper, 9)
  })

  it('knows nothing without trials', () => {
    expect(wilson(0, 0)).toEqual([0, 1])
  })

  it('refuses more hits than trials', () => {
    expect(() => wilson(3, 2)).toThrow(RangeError)
    expect(() => wilson(-1, 2)).toThrow(RangeError)
  })

  it('always holds the share, lies in [0, 1] and narrows with more trials', () => {
    fc.assert(
      fc.property(fc.nat(500), fc.nat(500), (a, b) => {
        const [hits, n] = a <= b ? [a, b] : [b, a]
        fc.pre(n > 0)
        const [low, high] = wilson(hits, n)
        expect(low).toBeGreaterThanOrEqual(0)
        expect(high).toBeLessThanOrEqual(1)
        expect(low).toBeLessThanOrEqual(hits / n)
        expect(high).toBeGreaterThanOrEqual(hits / n)
        const [wideLow, wideHigh] = wilson(hits * 4, n * 4)
        expect(wideHigh - wideLow).toBeLessThan(high - low)
      }),
    )
  })
})

describe('newcombe', () => {
  interface Inputs {
    successes1: number
    trials1: number
    successes2: number
    trials2: number
  }
  const cases = casesOf<Inputs, { difference: number; lower: number; upper: number }>(
    'proportions',
    'newcombe_difference',
  )
  it.each(cases)('gives the published interval: $id ($source)', ({ inputs, expected }) => {
    const { difference, interval } = newcombe(
      rate(inputs.successes1, inputs.trials1),
      rate(inputs.successes2, inputs.trials2),
    )
    expect(difference).toBeCloseTo(expected.difference, 9)
    expect(interval[0]).toBeCloseTo(expected.lower, 9)
    expect(interval[1]).toBeCloseTo(expected.upper, 9)
  })

  it('has no difference where a group is empty', () => {
    expect(newcombe(rate(0, 0), rate(1, 2)).difference).toBeNull()
  })
})
