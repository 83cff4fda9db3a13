import { describe, expect, it } from 'vitest'
import { fitLogistic, logistic, logit } from './logistic.ts'

const HOURS = [
  0.5, 0.75, 1, 1.25, 1.5, 1.75, 1.75, 2, 2.25, 2.5, 2.75, 3, 3.25, 3.5, 4, 4.25, 4.5, 4.75, 5, 5.5,
]
const PASSED = [0, 0, 0, 0, 0, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 1, 1, 1, 1, 1]
const rows = Float64Array.from(HOURS.flatMap((hours) => [1, hours]))
const nothingBelieved = { mean: [0, 0], sd: [Infinity, Infinity] }

describe('fitLogistic', () => {
  it('agrees with a published example: hours of study and passing an exam', () => {
    // Source: Wikipedia, “Logistic regression” (written down from memory): −4.0777 (1.7610) and 1.5046 (0.6287).
    const { coefficients, covariance } = fitLogistic(rows, PASSED, nothingBelieved)
    expect(coefficients[0]).toBeCloseTo(-4.0777, 3)
    expect(coefficients[1]).toBeCloseTo(1.5046, 3)
    expect(Math.sqrt(covariance[0]!)).toBeCloseTo(1.761, 2)
    expect(Math.sqrt(covariance[3]!)).toBeCloseTo(0.6287, 3)
  })

  it.each([Infinity, 1000])(
    'comes to the same from many rows, also where every eighth of them tells otherwise (by hand), sd %d',
    (sd) => {
      const share = (outcome: ArrayLike<number>) =>
        fitLogistic(new Float64Array(outcome.length).fill(1), outcome, { mean: [0], sd: [sd] })
          .coefficients[0]
      const eighth = Array.from({ length: 8000 }, (_, i) => Number(i % 8 === 0))
      expect(share(eighth)).toBeCloseTo(-Math.log(7), 5)
      // Outcomes between 0 and 1 count as so many.
      expect(share(eighth.map(() => 1 / 8))).toBeCloseTo(-Math.log(7), 5)
    },
  )

  it('finds the log odds of a share with an intercept alone (by hand)', () => {
    const outcome = [1, 1, 1, 0]
    const { coefficients, covariance } = fitLogistic(new Float64Array(4).fill(1), outcome, {
      mean: [0],
      sd: [Infinity],
    })
    expect(coefficients[0]).toBeCloseTo(Math.log(3), 8)
    expect(covariance[0]).toBeCloseTo(1 / (4 * 0.75 * 0.25), 6)
  })

  it('stays at what is believed where that is certain, and counts an offset as given', () => {
    const sure = fitLogistic(rows, PASSED, { mean: [0.3, -0.2], sd: [1e-6, 1e-6] })
    expect(sure.coefficients[0]).toBeCloseTo(0.3, 4)
    const shifted = fitLogistic(rows, PASSED, nothingBelieved, new Float64Array(20).fill(2))
    expect(shifted.coefficients[0]).toBeCloseTo(-6.0777, 3)
  })

  it('does not run away where the outcome can be told without error', () => {
    const { coefficients } = fitLogistic(
      rows,
      HOURS.map((hours) => Number(hours > 3)),
      {
        mean: [0, 0],
        sd: [5, 5],
      },
    )
    expect(coefficients.every((value) => Number.isFinite(value) && Math.abs(value) < 15)).toBe(true)
  })

  it('refuses rows that are too short', () => {
    expect(() => fitLogistic(new Float64Array(3), [0, 1], nothingBelieved)).toThrow(RangeError)
  })
})

it('turns log odds into a probability and back', () => {
  for (const p of [0.001, 0.3, 0.5, 0.97]) expect(logistic(logit(p))).toBeCloseTo(p, 10)
})
