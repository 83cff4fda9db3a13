import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { median, quantile } from './quantile.ts'

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
})
