import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { addTo, meanDifference, meanOf, noSums, sumsOf } from './mean.ts'

const described = (values: readonly number[]) => ({ n: values.length, ...meanOf(sumsFrom(values)) })
const sumsFrom = (values: readonly number[]) => {
  const sums = noSums()
  for (const value of values) addTo(sums, value)
  return sums
}

describe('mean', () => {
  const cases = casesOf<{ values: number[] }, { mean: number; standard_deviation: number }>(
    'quantiles',
    'univariate_summary',
  )
  it.each(cases)('agrees with a certified data set: $id ($source)', ({ inputs, expected }) => {
    // Hundredths as whole numbers: sums of them are exact.
    const { mean, deviation } = meanOf(sumsFrom(inputs.values.map((value) => Math.round(value * 100))), 100)
    expect(mean).toBeCloseTo(expected.mean, 9)
    expect(deviation).toBeCloseTo(expected.standard_deviation, 9)
  })
  it('has an interval by Student’s t: 2.776 standard errors with four degrees of freedom (table of t, from memory)', () => {
    const { mean, deviation, interval } = meanOf(sumsFrom([1, 2, 3, 4, 5]))
    expect(mean).toBe(3)
    expect(interval![1] - 3).toBeCloseTo((2.776 * deviation!) / Math.sqrt(5), 3)
    expect(3 - interval![0]).toBeCloseTo(interval![1] - 3, 12)
  })
  it('is the same in any order and any parts', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(10_000)), fc.array(fc.nat(10_000)), (one, other) => {
        const together = meanOf(sumsOf(sumsFrom(one), sumsFrom(other)), 100)
        expect(together).toEqual(meanOf(sumsFrom([...other, ...one].sort((a, b) => a - b)), 100))
      }),
    )
  })
  it('tells nothing of nobody, and no spread of one', () => {
    expect(meanOf(noSums())).toEqual({ mean: null, deviation: null, interval: null })
    expect(meanOf(sumsFrom([7]))).toEqual({ mean: 7, deviation: null, interval: null })
  })
})

describe('difference of two means', () => {
  it('has the interval of Welch: equal variances and sizes give that of the pooled test (by hand)', () => {
    const [a, b] = [described([2, 4, 6]), described([1, 3, 5])]
    const found = meanDifference(a, b)!
    expect(found.difference).toBe(1)
    // Both have variance 4; the standard error is √(8 / 3) and t with 4 degrees of freedom is 2.7764.
    expect(found.interval[1] - 1).toBeCloseTo(2.7764 * Math.sqrt(8 / 3), 3)
  })
  it('is not known of too few, and exact where nothing varies', () => {
    expect(meanDifference(described([1]), described([1, 2]))).toBeNull()
    expect(meanDifference(described([3, 3]), described([1, 1]))).toEqual({ difference: 2, interval: [2, 2] })
  })
})
