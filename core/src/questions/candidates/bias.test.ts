import { describe, expect, it } from 'vitest'
import { hidden, mayLast, mixture, noAttempt, otherPeople, shrunk } from './bias.ts'

describe('shrunk', () => {
  it('leaves what is known well, and pulls what is not to nothing', () => {
    expect(shrunk({ value: 1, sd: 0.01 }).value).toBeCloseTo(1, 2)
    expect(Math.abs(shrunk({ value: 1, sd: 5 }).value)).toBeLessThan(0.05)
    expect(shrunk({ value: 0, sd: 0.2 }).value).toBeCloseTo(0, 12)
  })

  it('is by hand where both widths are the same: one normal with another', () => {
    // Variances 1 and 4: the mean is 3 · 4 / 5, the variance 4 / 5.
    const { value, sd } = shrunk({ value: 3, sd: 1 }, 2, 2)
    expect(value).toBeCloseTo(2.4, 12)
    expect(sd).toBeCloseTo(Math.sqrt(0.8), 12)
  })
})

describe('otherPeople', () => {
  const later = { value: 0.5, sd: 0.05 }

  it('puts what shows later back to here: with one step to go as it is but for those picked', () => {
    // One step: γ = 1.17 (1 − p) / (1 − p).
    const { value } = otherPeople({ later, wonIfOn: 0.4 }, 1)
    expect(value).toBeCloseTo(1.17 * shrunk(later).value, 10)
  })

  it('is a part of it with more steps, since each answers to eagerness', () => {
    expect(otherPeople({ later, wonIfOn: 0.4 }, 4).value).toBeLessThan(
      otherPeople({ later, wonIfOn: 0.4 }, 2).value,
    )
  })

  it('believes half of it where the exposed convert less, which trouble that lasts does as well', () => {
    const less = { value: -0.5, sd: 0.05 }
    const more = otherPeople({ later, wonIfOn: 0.4 }, 2)
    const { value, sd } = otherPeople({ later: less, wonIfOn: 0.4 }, 2)
    expect(value).toBeCloseTo(-more.value / 2, 10)
    expect(sd).toBeGreaterThan(more.sd)
  })

  it('knows nothing where nothing comes later', () => {
    expect(otherPeople({ later, wonIfOn: 0.4 }, 0)).toEqual({ value: 0, sd: 0.3 })
    expect(otherPeople({ later, wonIfOn: 1 }, 2)).toEqual({ value: 0, sd: 0.3 })
  })
})

it('hidden: the more apart they were before, the more they may be in what does not show; triers less', () => {
  expect(hidden({ before: 0.2 }, false)).toBeGreaterThan(hidden({ before: 0 }, false))
  expect(hidden({ before: 0.05 }, true)).toBeLessThan(hidden({ before: 0.05 }, false))
  expect(hidden({ before: 9 }, false)).toBe(0.7)
})

describe('noAttempt', () => {
  it('is likely where the exposed do just as everybody, and not where they do far less', () => {
    expect(noAttempt({ value: 0, sd: 0.05 }, { share: 0.1, apart: 0.05 })).toBeGreaterThan(0.6)
    expect(noAttempt({ value: -1, sd: 0.05 }, { share: 0.5, apart: 0.05 })).toBeLessThan(0.001)
    expect(noAttempt({ value: 0, sd: 0.05 }, { share: 0, apart: 0.05 })).toBe(0)
  })
})

it('mixture has mean and spread of one of two (by hand)', () => {
  // Half 0 and half 10, both without spread: mean 5, deviation 5.
  expect(mixture(0.5, { value: 0, sd: 0 }, { value: 10, sd: 0 })).toEqual({ value: 5, sd: 5 })
  const one = mixture(1, { value: 3, sd: 2 }, { value: 9, sd: 1 })
  expect(one.value).toBe(3)
  expect(one.sd).toBeCloseTo(2, 12)
})

describe('mayLast', () => {
  it('is what the belief allows where the data say nothing: half none, half as a normal with sd 0.5 a log odd', () => {
    // Chance above h: 0.5 · 2 · (1 − Φ(h / 0.5)) = 0.025, from which h = 0.98 (table of the normal distribution).
    expect(mayLast({ value: 0, sd: 1e6, slope: 100 })).toBeCloseTo(98, 0)
  })
  it('grows with what is missing, and is nothing where nobody could convert otherwise', () => {
    const at = (value: number) => mayLast({ value, sd: 5, slope: 100 })
    expect(at(40)).toBeGreaterThan(at(0))
    expect(at(0)).toBeGreaterThan(at(-60))
    expect(mayLast({ value: 3, sd: 1, slope: 0 })).toBe(0)
  })
})
