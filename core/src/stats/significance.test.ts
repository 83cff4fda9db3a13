import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { benjaminiHochberg, chiSquare, holm, twoProportions } from './significance.ts'

describe('twoProportions', () => {
  const cases = casesOf<
    { successes1: number; trials1: number; successes2: number; trials2: number },
    { p_value: number }
  >('proportions', 'two_proportion_z_test')
  it.each(cases)('agrees with $id ($source)', ({ inputs, expected }) => {
    const { successes1, trials1, successes2, trials2 } = inputs
    const p = twoProportions(successes1, trials1, successes2, trials2)!
    expect(p / expected.p_value).toBeCloseTo(1, 9)
  })
  it('knows nothing of an empty group, and sees no difference where nothing varies', () => {
    expect(twoProportions(0, 0, 1, 2)).toBeNull()
    expect(twoProportions(0, 5, 0, 9)).toBe(1)
    expect(() => twoProportions(3, 2, 0, 1)).toThrow(RangeError)
  })
})

describe('chiSquare', () => {
  const several = casesOf<
    { successes: number[]; trials: number[] },
    { chi_square: number; df: number; p_value: number }
  >('proportions', 'chi_square_k_proportions')
  it.each(several)('agrees with $id ($source)', ({ inputs, expected }) => {
    const { statistic, df, p } = chiSquare(inputs.successes, inputs.trials)!
    expect(statistic).toBeCloseTo(expected.chi_square, 9)
    expect(df).toBe(expected.df)
    expect(p).toBeCloseTo(expected.p_value, 9)
  })
  const two = casesOf<
    { table: [[number, number], [number, number]]; continuity_correction: boolean },
    { chi_square: number; p_value: number }
  >('proportions', 'chi_square_2x2').filter(({ inputs }) => !inputs.continuity_correction)
  it.each(two)('agrees with $id ($source)', ({ inputs, expected }) => {
    const [[a, b], [c, d]] = inputs.table
    const { statistic, p } = chiSquare([a, c], [a + b, c + d])!
    expect(statistic).toBeCloseTo(expected.chi_square, 9)
    expect(p).toBeCloseTo(expected.p_value, 9)
  })
  it('has nothing to say about one group, or where nothing varies', () => {
    expect(chiSquare([3, 0], [5, 0])).toBeNull()
    expect(chiSquare([0, 0], [5, 9])).toBeNull()
  })
})

describe('benjaminiHochberg', () => {
  const cases = casesOf<{ p_values: number[] }, { adjusted: number[] }>('multiplicity', 'benjamini_hochberg')
  it.each(cases)('agrees with $id ($source)', ({ inputs, expected }) => {
    benjaminiHochberg(inputs.p_values).forEach((p, i) => expect(p).toBeCloseTo(expected.adjusted[i]!, 9))
  })
  it('leaves out what is not known', () => {
    expect(benjaminiHochberg([null, 0.02, 0.03])).toEqual([null, 0.03, 0.03])
  })
})

describe('holm', () => {
  const cases = casesOf<{ p_values: number[] }, { adjusted: number[] }>('multiplicity', 'holm')
  it.each(cases)('agrees with $id ($source)', ({ inputs, expected }) => {
    holm(inputs.p_values).forEach((p, i) => expect(p).toBeCloseTo(expected.adjusted[i]!, 9))
  })
  it('leaves out what is not known', () => {
    expect(holm([null, 0.02, 0.03])).toEqual([null, 0.04, 0.04])
  })
})
