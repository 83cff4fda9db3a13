import { expect, it } from 'vitest'
import { eValue } from './e-value.ts'

it('agrees with the worked example of its authors', () => {
  // VanderWeele and Ding (2017), smoking and lung cancer and the others of their table, written down from memory:
  // a ratio of 3.9 has 7.26, its lower limit of 1.8 has 3.0.
  expect(eValue(3.9)).toBeCloseTo(7.26, 2)
  expect(eValue(1.8)).toBeCloseTo(3, 10)
})

it('is 1 without an effect, and the same for a ratio and its inverse', () => {
  expect(eValue(1)).toBe(1)
  expect(eValue(0.5)).toBeCloseTo(eValue(2), 12)
})
