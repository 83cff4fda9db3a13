import { fitLogistic, logistic } from '../../stats/logistic.ts'
import { shrunk } from './bias.ts'
import type { Known } from './known.ts'
import { isPhone, K, knownOf, PRIOR, rowsOf } from './known.ts'
import { afterLastDone, AS_IT_IS, telling } from './last-done.ts'
import type { Case } from './episodes.ts'
import type { Outlook } from './outlook.ts'
import type { Estimate } from './estimate.ts'
import type { Stages } from './stages.ts'

/** So many are compared at most. */
export const MOST_CONTROLS = 12_000

/** Exposed and comparable cases, and what came of them. */
export interface Comparison {
  exposed: readonly Case[]
  controls: readonly Case[]
  /** by exposed case: chance to carry on without the trouble, and what carrying on is worth then */
  expected: Float64Array
  worth: Float64Array
  /** log odds behind `expected`, so that they can be moved */
  odds: Float64Array
  /** of what the controls say of the exposed: rows of the exposed, covariance of the coefficients */
  rows: Float64Array
  covariance: Float64Array
  known: { exposed: Known; controls: Known }
  /** log odds by which the exposed carry on more than expected, and by which those of them who do convert more */
  here: Estimate
  later: Estimate
  /** log odds by which their outlook differed before the trouble: to carry on or to convert, whichever is more */
  before: number
  /** conversions that are missing, by conversions alone: what no carrying on tells */
  missing: Estimate
  /** of those of the exposed who carried on: conversions that are missing all the same, and how many more for each log odd */
  after: Estimate & { slope: number }
  /** share of the exposed that carried on */
  carriedOn: number
  /** chance of the controls to convert once they have carried on */
  wonIfOn: number
}

/** Who carried on in spite of it was a little more eager than who gave up. */
const SURVIVORS = 0.7

/**
 * What would have come of the exposed without the trouble, as the controls tell it: a regression of carrying on on the
 * outlook, the device, the moment and what had been done, and had failed, by then. @see docs/pricing.md
 *
 * @param never  views that never met it, where what was done last may tell of the exposed: see last-done.ts
 */
export function compare(
  stages: Stages,
  outlook: Outlook,
  exposed: readonly Case[],
  controls: readonly Case[],
  people: 'the same' | 'others',
  never?: readonly number[],
): Comparison {
  const { on, won, spared } = stages
  const of = (cases: readonly Case[], outcome: Uint8Array) => cases.map(({ view }) => outcome[view]!)
  const outcome = controls.map(({ view, atMs }) => {
    const other = spared?.get(view)
    return other && other.atMs >= atMs ? other.chance : on[view]!
  })
  const tells = never ? telling(stages, exposed, never) : AS_IT_IS
  const known = {
    exposed: knownOf(stages, outlook, exposed, tells),
    controls: knownOf(stages, outlook, controls, tells),
  }
  const after = afterLastDone(known.controls.last, outcome)
  const { coefficients, covariance } = fitLogistic(rowsOf(known.controls, after), outcome, PRIOR)
  const rows = rowsOf(known.exposed, after)
  const odds = oddsOf(rows, exposed.length, coefficients)
  const wentOn = controls.filter(({ view }) => on[view])
  const gaveUp = controls.filter(({ view }) => !on[view])
  const ifOn = fitLogistic(
    Float64Array.from(wentOn.flatMap(({ view }) => [1, outlook.wonIfOn[view]!])),
    of(wentOn, won),
    { mean: [0, 1], sd: [1, 0.3] },
  )
  const ifNot = shift(
    of(gaveUp, won),
    gaveUp.map(({ view }) => outlook.wonIfNot[view]!),
    0.5,
  )
  const regardless = (view: number) => ifOn.coefficients[0]! + ifOn.coefficients[1]! * outlook.wonIfOn[view]!
  const inBrowser = byBrowser(stages, wentOn, regardless)
  const oddsIfOn = (view: number) => regardless(view) + inBrowser(view)
  const chanceIfNot = (view: number) => logistic(outlook.wonIfNot[view]! + ifNot.value)
  const expected = odds.map(logistic)
  const carried = exposed.filter(({ view }) => on[view])
  const fromIfOn = shift(
    of(carried, won),
    carried.map(({ view }) => oddsIfOn(view)),
    5,
  )
  const later = { value: fromIfOn.value, sd: Math.sqrt(fromIfOn.sd ** 2 + ifOn.covariance[0]!) }
  // Converting more once they have carried on can only come of who they are; converting less can come of the trouble.
  // Of the same people those who give up are the less eager: what is left of them is no guide to them.
  const eager = people === 'the same' ? 0 : SURVIVORS * Math.max(0, shrunk(later).value)
  const worth = Float64Array.from(exposed, ({ view }) => logistic(oddsIfOn(view) + eager) - chanceIfNot(view))
  const ofCarried = { value: 0, sd: 0, slope: 0 }
  for (const { view } of carried) {
    const p = logistic(oddsIfOn(view))
    ofCarried.value += p - won[view]!
    ofCarried.slope += p * (1 - p)
  }
  ofCarried.sd = Math.sqrt(ofCarried.slope + ofCarried.slope ** 2 * ifOn.covariance[0]!)
  let [missing, variance, meanWon] = [0, 0, 0]
  exposed.forEach(({ view }, i) => {
    const q = chanceIfNot(view) + expected[i]! * worth[i]!
    missing += q - won[view]!
    variance += (q - won[view]!) ** 2
    meanWon += q / exposed.length
  })
  variance += (exposed.length ** 2 * meanWon * (1 - meanWon)) / Math.max(1, controls.length)
  return {
    ...{ exposed, controls, expected, worth, odds, rows, covariance, known },
    here: shift(of(exposed, on), odds, 5),
    later,
    missing: { value: missing, sd: Math.sqrt(variance) },
    after: ofCarried,
    before: Math.max(
      apart(stages, outlook.on, exposed, controls),
      apart(stages, outlook.wonIfOn, exposed, controls),
    ),
    carriedOn: exposed.length ? carried.length / exposed.length : 0,
    wonIfOn: wentOn.length ? of(wentOn, won).reduce((a, b) => a + b, 0) / wentOn.length : 0,
  }
}

/**
 * By view how many log odds likelier those convert who have its browser, once they have carried on: what breaks further on in
 * some browsers befalls those who are compared, or spares them.
 */
function byBrowser(
  { journeys, sessionOf, won }: Stages,
  wentOn: readonly Case[],
  odds: (view: number) => number,
): (view: number) => number {
  const browserOf = (view: number) => journeys.sessions.browser[sessionOf[view]!]!
  const views = new Map<number, number[]>()
  for (const { view } of wentOn) {
    const own = views.get(browserOf(view))
    if (own) own.push(view)
    else views.set(browserOf(view), [view])
  }
  const apart = new Map<number, number>()
  for (const [browser, own] of views) {
    const told = shift(
      own.map((view) => won[view]!),
      own.map(odds),
      5,
    )
    apart.set(browser, shrunk(told).value)
  }
  return (view) => apart.get(browserOf(view)) ?? 0
}

/** What is known of cases, and of each an outcome, 0 or 1. */
type WithOutcome = readonly [known: Known, outcome: Uint8Array]

/**
 * Log odds by which an outcome is likelier among the exposed than the controls tell, given their outlook and the moment.
 *
 * @returns besides it, by exposed case the odds that the controls tell, and how far these are open on average
 */
export function apartIn(
  [exposed, own]: WithOutcome,
  [controls, others]: WithOutcome,
): Estimate & { odds: Float64Array; open: number } {
  const after = afterLastDone(controls.last, others)
  const { coefficients, covariance } = fitLogistic(rowsOf(controls, after), others, {
    mean: PRIOR.mean.map(() => 0),
    sd: PRIOR.sd,
  })
  const rows = rowsOf(exposed, after)
  const odds = oddsOf(rows, own.length, coefficients)
  const { value, sd } = shift(own, odds, 5)
  const middle = new Float64Array(K)
  for (let i = 0; i < rows.length; i++) middle[i % K]! += rows[i]! / own.length
  let open = 0
  for (let j = 0; j < K; j++)
    for (let l = 0; l < K; l++) open += middle[j]! * covariance[j * K + l]! * middle[l]!
  return { value, sd: Math.sqrt(sd ** 2 + open), odds, open: Math.sqrt(open) }
}

function oddsOf(rows: Float64Array, count: number, coefficients: ArrayLike<number>): Float64Array {
  return Float64Array.from({ length: count }, (_, i) => {
    let sum = 0
    for (let j = 0; j < K; j++) sum += coefficients[j]! * rows[i * K + j]!
    return sum
  })
}

/**
 * How far two groups of people lie apart on average, when they came to the page for the first time: the others as if as many of
 * them had phones, which is accounted for.
 */
function apart(stages: Stages, odds: Float64Array, some: readonly Case[], others: readonly Case[]): number {
  let sum = 0
  const [own, controls] = [some, others].map((cases) => firstViews(stages, cases)) as [number[], number[]]
  for (const phone of [true, false]) {
    const [a, b] = [own, controls].map((views) =>
      views.filter((view) => isPhone(stages, view) === phone).map((view) => odds[view]!),
    ) as [number[], number[]]
    if (a.length && b.length) sum += a.length * (mean(a) - mean(b))
  }
  return Math.abs(sum) / Math.max(1, own.length)
}

/** Of the sessions of some cases the first view of the page. */
function firstViews({ journeys: { views }, sessionOf, firstView }: Stages, cases: readonly Case[]): number[] {
  const of = new Map<number, number>()
  for (const { view } of cases) {
    const session = sessionOf[view]!
    if (of.has(session)) continue
    let first = firstView[session]!
    while (views.group[first] !== views.group[view]) first++
    of.set(session, first)
  }
  return [...of.values()]
}

/** The mean of some values; 0 of none. */
export function mean(values: ArrayLike<number>): number {
  let sum = 0
  for (let i = 0; i < values.length; i++) sum += values[i]!
  return values.length ? sum / values.length : 0
}

/** Log odds by which an outcome is likelier than some odds say, with a belief around 0 of the given width. */
export function shift(outcome: ArrayLike<number>, odds: ArrayLike<number>, width: number): Estimate {
  const { coefficients, covariance } = fitLogistic(
    new Float64Array(outcome.length).fill(1),
    outcome,
    { mean: [0], sd: [width] },
    odds,
  )
  return { value: coefficients[0]!, sd: Math.sqrt(covariance[0]!) }
}

/**
 * Conversions lost, where the exposed would have carried on with other odds than expected by `bias`.
 * Variance: chance of each, what the controls leave open, and the width of the bias.
 */
export function lossOf(
  { exposed, odds, worth, rows, covariance }: Comparison,
  on: Uint8Array,
  bias: Estimate,
): Estimate {
  let [loss, variance, slope] = [0, 0, 0]
  const gradient = new Float64Array(K)
  exposed.forEach(({ view }, i) => {
    const p = logistic(odds[i]! + bias.value)
    const lost = (p - on[view]!) * worth[i]!
    loss += lost
    variance += lost * lost
    const steep = p * (1 - p) * worth[i]!
    slope += steep
    for (let j = 0; j < K; j++) gradient[j]! += steep * rows[i * K + j]!
  })
  for (let j = 0; j < K; j++)
    for (let l = 0; l < K; l++) variance += gradient[j]! * covariance[j * K + l]! * gradient[l]!
  return { value: loss, sd: Math.sqrt(variance + (slope * bias.sd) ** 2 + (0.1 * loss) ** 2) }
}
