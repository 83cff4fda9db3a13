import type { Estimate } from './estimate.ts'

/** How exposed and comparable people differ. @see Comparison */
interface Apart {
  later: Estimate
  wonIfOn: number
  before: number
}

/** Those who carried on are picked already and differ less: from trials on simulated sites with known costs. */
const PICKED = 1.17
/** How far apart groups of visitors usually are: half hardly, half a good deal. */
const HARDLY = 0.1
const MUCH = 0.7
/** What does not show lies as many times as far apart as what does, and never less than this; less among triers. */
const HIDDEN = 4
const LEAST_HIDDEN = 0.25
const HIDDEN_OF_TRIERS = 3
const LEAST_HIDDEN_OF_TRIERS = 0.08

/**
 * How far apart the exposed and the controls may be in what no data show: the farther, the more they differ in what was known
 * before the trouble. Those who try a thing again and again are there to go on.
 *
 * @see Altonji, Elder, Taber (2005), J. Polit. Econ. 113:151 (selection on what shows as a guide to what does not; from memory)
 */
export function hidden({ before }: Pick<Apart, 'before'>, tried: boolean): number {
  return tried
    ? Math.min(MUCH / 2, LEAST_HIDDEN_OF_TRIERS + HIDDEN_OF_TRIERS * before)
    : Math.min(MUCH, LEAST_HIDDEN + HIDDEN * before)
}

/** Normal density. */
const density = (x: number, variance: number) =>
  Math.exp((-0.5 * x * x) / variance) / Math.sqrt(2 * Math.PI * variance)

/** What is left of an estimate where half of such numbers are nearly zero and half are not: posterior mean and deviation. */
export function shrunk({ value, sd }: Estimate, narrow = HARDLY, wide = MUCH): Estimate {
  const parts = [narrow, wide].map((width) => {
    const variance = sd * sd + width * width
    return {
      weight: density(value, variance),
      mean: (value * width * width) / variance,
      variance: (sd * sd * width * width) / variance,
    }
  })
  const total = parts.reduce((sum, { weight }) => sum + weight, 0) || 1
  const mean = parts.reduce((sum, part) => sum + (part.weight / total) * part.mean, 0)
  const second = parts.reduce(
    (sum, part) => sum + (part.weight / total) * (part.variance + part.mean ** 2),
    0,
  )
  return { value: mean, sd: Math.sqrt(Math.max(0, second - mean * mean)) }
}

/**
 * By how much the exposed are other people, in log odds of carrying on: what shows later, put back to here. With n steps
 * still to go of which each answers to eagerness alike, log odds of converting move by Σ(1 − p) / (1 − Πp) times what one
 * step moves. Converting more later can only come of who they are; converting less can come of the trouble as well, so that
 * half of it is believed and its width says so.
 *
 * @param steps  still to go after carrying on
 * @param much   how far apart they are where they are, log odds
 */
export function otherPeople(
  { later, wonIfOn }: Pick<Apart, 'later' | 'wonIfOn'>,
  steps: number,
  much = MUCH,
): Estimate {
  if (steps < 0.5 || wonIfOn <= 0.01 || wonIfOn >= 0.99) return { value: 0, sd: 0.3 }
  const pass = wonIfOn ** (1 / steps)
  const gamma = (PICKED * (1 - wonIfOn)) / (steps * (1 - pass))
  const known = shrunk(later, HARDLY, much)
  const width = Math.hypot(gamma * known.sd, 0.17 * known.value, 0.05)
  if (known.value >= 0) return { value: gamma * known.value, sd: width }
  const half = 0.5 * gamma * known.value
  return { value: half, sd: Math.hypot(width, half) }
}

/** Half of all troubles do no harm that lasts; by how many log odds that of the others keeps from converting: half-normal. */
const LASTS = 0.5
const LASTING = 0.5
const MOST_LASTING = 2
/** By how much those who carried on can be other people than those they are compared with, log odds. */
const OTHERS = 0.3
const STEPS = 400

/**
 * How many conversions more a trouble may have cost among those who carried on in spite of it: 97.5th percentile of what can
 * be believed after the data.
 *
 * @param after  conversions that are missing of them, and how many more would be for each log odd
 */
export function mayLast({ value, sd, slope }: Estimate & { slope: number }): number {
  if (slope <= 0) return 0
  const variance = sd ** 2 + (OTHERS * slope) ** 2
  const step = (MOST_LASTING * slope) / STEPS
  const weights = Array.from({ length: STEPS + 1 }, (_, k) => {
    const harm = k * step
    const before = k ? (1 - LASTS) * 2 * density(harm, (LASTING * slope) ** 2) * step : LASTS
    return before * density(value - harm, variance)
  })
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  if (!(total > 0)) return MOST_LASTING * slope
  let sum = 0
  return (
    step *
    Math.max(
      0,
      weights.findIndex((weight) => (sum += weight) >= 0.975 * total),
    )
  )
}

/**
 * Chance that what failed was no attempt: those who failed did just as all viewers of the page do. A loss that cancels the
 * eagerness of triers exactly would be a coincidence.
 *
 * @param believed  share of such troubles that are none, and how far apart viewers are who do such things, log odds
 */
export function noAttempt(against: Estimate, { share, apart }: { share: number; apart: number }): number {
  const variance = against.sd * against.sd
  const none = share * density(against.value, variance + apart ** 2)
  const some = (1 - share) * density(against.value, variance + 1.5 ** 2)
  return none / (none + some)
}

/** One of two estimates, the first with the given chance. */
export function mixture(share: number, first: Estimate, second: Estimate): Estimate {
  const value = share * first.value + (1 - share) * second.value
  const square =
    share * (first.sd ** 2 + first.value ** 2) + (1 - share) * (second.sd ** 2 + second.value ** 2)
  return { value, sd: Math.sqrt(Math.max(0, square - value * value)) }
}
