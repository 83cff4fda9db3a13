/** What is believed of each coefficient before the data: normal, independent of one another. */
export interface NormalPrior {
  mean: ArrayLike<number>
  /** standard deviations; Infinity where nothing is believed */
  sd: ArrayLike<number>
}

export interface LogisticFit {
  coefficients: Float64Array
  /** by row × number of coefficients + column: inverse of the curvature at the coefficients */
  covariance: Float64Array
}

const MOST_STEPS = 40
const SMALL_STEP = 1e-6
/** Of many rows every so manieth finds where to begin. */
const MANY_ROWS = 4000
const EVERY = 8

/**
 * Logistic regression with normal priors (their posterior mode), by Newton’s method. Without beliefs (sd Infinity) these are
 * the coefficients of greatest likelihood, and the covariance is that of Wald.
 * Complexity: steps × rows × coefficients².
 *
 * @param rows     values by row × number of coefficients + column; an intercept is a column of ones
 * @param outcome  from 0 to 1 by row
 * @param offset   log odds by row that are added as they are
 * @throws RangeError where there are not as many values as rows × coefficients
 * @see McCullagh, Nelder (1989), Generalized Linear Models, 2.5 (from memory)
 */
export function fitLogistic(
  rows: Float64Array,
  outcome: ArrayLike<number>,
  prior: NormalPrior,
  offset?: ArrayLike<number>,
): LogisticFit {
  const n = outcome.length
  const k = prior.mean.length
  if (rows.length < n * k) throw new RangeError(`${n} rows of ${k} values are ${n * k}, not ${rows.length}`)
  let coefficients = Float64Array.from(prior.mean)
  const precision = Float64Array.from(prior.sd, (sd) => 1 / (sd * sd))
  const curvature = new Float64Array(k * k)
  const slope = new Float64Array(k)
  // Arrays of one kind: reading them is what takes the time.
  const outcomes = Float64Array.from(outcome)
  const offsets = offset ? Float64Array.from(offset) : new Float64Array(n)
  if (n >= MANY_ROWS) {
    const near = start(rows, outcomes, prior, offsets)
    const fits = (at: Float64Array) => gradient(rows, outcomes, at, offsets, slope, curvature)
    // Rows that tell nothing of the others lead away from them.
    if (fits(near) > fits(coefficients)) coefficients = near
  }
  let fitness = -Infinity
  let step = new Float64Array(k)
  let share = 1
  for (let turn = 0; turn < MOST_STEPS; turn++) {
    const found = gradient(rows, outcomes, coefficients, offsets, slope, curvature)
    let now = found
    for (let j = 0; j < k; j++) {
      const away = coefficients[j]! - prior.mean[j]!
      now -= 0.5 * precision[j]! * away * away
      slope[j]! -= precision[j]! * away
      curvature[j * k + j]! += precision[j]!
    }
    if (now < fitness - 1e-9 && share > 1e-4) {
      // Too far: half of the way back.
      share /= 2
      for (let j = 0; j < k; j++) coefficients[j]! -= share * step[j]!
      continue
    }
    const gained = now - fitness
    fitness = now
    share = 1
    step = new Float64Array(solve(curvature, slope, k))
    let largest = 0
    for (const by of step) largest = Math.max(largest, Math.abs(by))
    if (gained >= 0 && gained < 1e-10) break
    for (let j = 0; j < k; j++) coefficients[j]! += step[j]!
    // The next step would be about the square of this one.
    if (largest < SMALL_STEP) break
  }
  return { coefficients, covariance: invert(curvature, k) }
}

/** The coefficients that some of the rows tell, near to those of all. */
function start(
  rows: Float64Array,
  outcome: Float64Array,
  prior: NormalPrior,
  offset: Float64Array,
): Float64Array<ArrayBuffer> {
  const k = prior.mean.length
  const count = Math.floor(outcome.length / EVERY)
  const some = new Float64Array(count * k)
  for (let i = 0; i < count; i++) some.set(rows.subarray(i * EVERY * k, (i * EVERY + 1) * k), i * k)
  const every = (list: Float64Array) => Float64Array.from({ length: count }, (_, i) => list[i * EVERY]!)
  return fitLogistic(some, every(outcome), prior, every(offset)).coefficients as Float64Array<ArrayBuffer>
}

/** Log-likelihood; fills in its slope and curvature. */
function gradient(
  rows: Float64Array,
  outcome: Float64Array,
  coefficients: Float64Array,
  offset: Float64Array,
  slope: Float64Array,
  curvature: Float64Array,
): number {
  const k = coefficients.length
  slope.fill(0)
  curvature.fill(0)
  let fitness = 0
  for (let i = 0; i < outcome.length; i++) {
    const at = i * k
    let odds = offset[i]!
    for (let j = 0; j < k; j++) odds += coefficients[j]! * rows[at + j]!
    const small = Math.exp(-Math.abs(odds))
    const p = (odds < 0 ? small : 1) / (1 + small)
    fitness += outcome[i]! * odds - Math.max(0, odds) - Math.log1p(small)
    const miss = outcome[i]! - p
    const weight = p * (1 - p)
    for (let j = 0; j < k; j++) {
      const x = rows[at + j]!
      if (x === 0) continue
      slope[j]! += miss * x
      const wx = weight * x
      for (let l = 0; l <= j; l++) curvature[j * k + l]! += wx * rows[at + l]!
    }
  }
  for (let j = 0; j < k; j++) for (let l = j + 1; l < k; l++) curvature[j * k + l] = curvature[l * k + j]!
  return fitness
}

/** Probability from log odds. */
export function logistic(odds: number): number {
  return 1 / (1 + Math.exp(-odds))
}

/** Log odds from a probability, which is kept away from 0 and 1. */
export function logit(p: number): number {
  const kept = Math.min(1 - 1e-6, Math.max(1e-6, p))
  return Math.log(kept / (1 - kept))
}

/** Lower triangle of the root of a positive definite matrix; a pivot that is not positive becomes tiny. */
function root(matrix: Float64Array, k: number): Float64Array {
  const lower = new Float64Array(k * k)
  for (let i = 0; i < k; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * k + j]!
      for (let l = 0; l < j; l++) sum -= lower[i * k + l]! * lower[j * k + l]!
      lower[i * k + j] = i === j ? Math.sqrt(Math.max(sum, 1e-12)) : sum / lower[j * k + j]!
    }
  return lower
}

function solveWith(lower: Float64Array, right: ArrayLike<number>, k: number): Float64Array {
  const x = Float64Array.from(right)
  for (let i = 0; i < k; i++) {
    for (let l = 0; l < i; l++) x[i]! -= lower[i * k + l]! * x[l]!
    x[i]! /= lower[i * k + i]!
  }
  for (let i = k - 1; i >= 0; i--) {
    for (let l = i + 1; l < k; l++) x[i]! -= lower[l * k + i]! * x[l]!
    x[i]! /= lower[i * k + i]!
  }
  return x
}

function solve(matrix: Float64Array, right: ArrayLike<number>, k: number): Float64Array {
  return solveWith(root(matrix, k), right, k)
}

function invert(matrix: Float64Array, k: number): Float64Array {
  const lower = root(matrix, k)
  const inverse = new Float64Array(k * k)
  for (let j = 0; j < k; j++) {
    const unit = new Float64Array(k)
    unit[j] = 1
    const column = solveWith(lower, unit, k)
    for (let i = 0; i < k; i++) inverse[i * k + j] = column[i]!
  }
  return inverse
}
