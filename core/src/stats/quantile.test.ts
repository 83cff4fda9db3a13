import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { median, quantile, quantileOfWhole, quantilesOf } from './quantile.ts'

describe('quantile', () => {
  const cases = casesOf<
    { values: number[]; probabilities: number[] },
    { quantiles: number[]; median: number }
  >('quantiles', 'quantile_type_7')
  it.each(cases)('agrees with definition 7: $id ($source)', ({ inputs, expected }) => {
    const sorted = [...inputs.values].sort((a, b) => a - b)
    inputs.probabilities.forEach((p, i) => expect(quantile(sorted, p)).toBeCloseTo(expected.quantiles[i]!, 9))
    expect(median(inputs.values)).toBeCloseTo(expected.median, 9)
  })

  it('is unknown without values and refuses what is no probability', () => {
    expect(median([])).toBeNull()
    expect(() => quantile([1], 1.1)).toThrow(RangeError)
  })
  it('finds several in values that are not sorted as in sorted ones', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: 0, max: 9 }), fc.double({ noNaN: true, min: -1e6, max: 1e6 }))),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 5 }),
        (values, shares) => {
          const sorted = Float64Array.from(values).sort()
          const want = shares.map((share) => quantile(sorted, share))
          expect(quantilesOf(Float64Array.from(values), shares)).toEqual(want)
        },
      ),
    )
  })
  it('finds one of many whole numbers as in sorted ones', () => {
    const several = fc.uint32Array({ minLength: 1, maxLength: 40, size: 'max' })
    fc.assert(
      fc.property(several, fc.double({ min: 0, max: 1, noNaN: true }), fc.nat(31), (few, share, shift) => {
        // Enough of them that they are counted first, near to one another or far apart.
        const values = Uint32Array.from({ length: 5000 }, (_, k) => few[k % few.length]! >>> shift)
        values.set(few)
        const want = quantile(values.slice().sort(), share)
        expect(quantileOfWhole(values, share)).toBe(want)
        expect(quantileOfWhole(few, share)).toBe(quantile(few.slice().sort(), share))
      }),
    )
    expect(quantileOfWhole(new Uint32Array(0), 0.5)).toBeNull()
  })
})
