import { withoutPlaces } from '@dust-trail/core'
import { FAULTS } from './simulator/scenario.ts'
import type { FaultName } from './simulator/scenario.ts'

/** A candidate as the product answers it, as far as it is judged. */
export interface Answered {
  rank: number
  pattern: string
  selector: string
  kind: string
  confident: boolean
  likely: number
  price: { value: number; low: number; high: number }
}

/** What a fault truly costs, where it was planted; conversions in 30 days. */
export interface True {
  fault: FaultName
  page: string
  selector: string
  lost: number
}

export interface World {
  seed: number
  conversions: number
  candidates: readonly Answered[]
  truth: readonly True[]
}

/** What a fault can show as: two faults at one button are told apart by it. */
const SHOWS_AS: Record<FaultName, readonly string[]> = {
  deadPicture: ['dead click', 'near miss'],
  tinyArrows: ['dead click', 'near miss'],
  silentPromo: ['dead click', 'failed request', 'site signal'],
  scriptError: ['script error'],
  silentPhone: ['refused form'],
  belowFold: ['out of sight'],
  shuttle: ['shuttle'],
  slowPage: ['slow page', 'became slow'],
  brokenLink: ['not found'],
  deadEndSearch: ['no results'],
  seatZone: ['dead click', 'near miss'],
  longForm: ['given up at field', 'corrected field'],
}
/** Some faults lie at a second element as well. */
const LIES_ALSO_AT: Partial<Record<FaultName, string>> = { seatZone: 'div.dome' }
/** Faults of a whole page have no element. */
const OF_PAGE: ReadonlySet<FaultName> = new Set<FaultName>(['slowPage', 'deadEndSearch', 'shuttle'])

/** The fault that a candidate is: page and element right; undefined where it is none. */
export function faultOf(candidate: Answered, truth: readonly True[]): True | undefined {
  return truth.find(({ fault, page, selector }) => {
    if (page !== candidate.pattern || !SHOWS_AS[fault].includes(candidate.kind)) return false
    if (OF_PAGE.has(fault)) return true
    const found = withoutPlaces(candidate.selector)
    // What is left out of the front of a selector was the same for all elements of the page.
    return [selector, LIES_ALSO_AT[fault]].some(
      (one) => one !== undefined && (found === one || found.endsWith(` ${one}`)),
    )
  })
}

/** A spot of friction as the product lists it, as far as other rankings need it. */
export interface Spot {
  kind: string
  page: string
  selector: string
  met: { hits: number }
  converted: { hits: number; base: number; share: number | null }
  others: { share: number | null }
}

/** What a kind of signal is called among candidates. */
const CALLED: Readonly<Record<string, string>> = {
  ...{ 'rage click': 'dead click', 'failing click': 'script error', 'failed submit': 'refused form' },
}

/**
 * Rankings that need no method, to be held against: by how many sessions met a signal, and by how many fewer of these
 * converted than of everybody else who saw the page. A spot of a form stands for its button.
 *
 * @param scale  makes conversions of the lens those of 30 days
 */
export function plainRankings(
  spots: readonly Spot[],
  scale: number,
): Record<'bySignals' | 'againstEverybody', Answered[]> {
  const lost = ({ met, converted, others }: Spot) =>
    Math.max(0, ((others.share ?? 0) - (converted.share ?? 0)) * met.hits * scale)
  const ranked = (by: (spot: Spot) => number, value: (spot: Spot) => number) =>
    spots
      .map((spot) => ({ spot, by: by(spot) }))
      .filter((one) => one.by > 0)
      .sort((a, b) => b.by - a.by)
      .map(({ spot }, k): Answered => {
        const kind = CALLED[spot.kind] ?? spot.kind
        const selector = kind === 'refused form' ? `${spot.selector} > button.button` : spot.selector
        const price = value(spot)
        return {
          ...{ rank: k + 1, pattern: spot.page, selector, kind, confident: false, likely: price },
          price: { value: price, low: price, high: price },
        }
      })
  return {
    bySignals: ranked(
      ({ met }) => met.hits,
      ({ met }) => met.hits,
    ),
    againstEverybody: ranked(lost, lost),
  }
}

export interface Judgement {
  /** faults above 1 % of conversions: found among the first 15, and all */
  found: number
  costly: number
  /** what is no fault, among the first ten, for each seed */
  falseAlarms: number
  /** true prices of the costly inside the interval, of those that were found */
  inside: number
  priced: number
  /** of estimated with true price, pooled */
  rank: number
  confident: number
  /** of these without a true cost */
  harmless: number
  /** median of price over truth */
  ratio: number
}

/** Judges answers for several worlds, pooled. */
export function judge(worlds: readonly World[]): Judgement {
  const result = { found: 0, costly: 0, inside: 0, priced: 0, confident: 0, harmless: 0 }
  let alarms = 0
  const estimated: number[] = []
  const real: number[] = []
  const ratios: number[] = []
  for (const { candidates, truth, conversions } of worlds) {
    const isCostly = ({ lost }: True) => lost > 0.01 * conversions
    const first = new Map<True, Answered>()
    for (const candidate of candidates) {
      const fault = faultOf(candidate, truth)
      if (fault && !first.has(fault)) first.set(fault, candidate)
      if (!fault && candidate.rank <= 10) alarms++
      if (!candidate.confident) continue
      result.confident++
      if (!fault || fault.lost <= 0) result.harmless++
    }
    for (const fault of truth.filter(isCostly)) {
      result.costly++
      if (first.has(fault)) continue
      // What was not found was estimated at nothing.
      estimated.push(0)
      real.push(fault.lost)
    }
    for (const [fault, { rank, likely, price }] of first) {
      if (rank <= 15 && isCostly(fault)) result.found++
      estimated.push(likely)
      real.push(fault.lost)
      if (!isCostly(fault)) continue
      result.priced++
      if (fault.lost >= price.low && fault.lost <= price.high) result.inside++
      ratios.push(price.value / fault.lost)
    }
  }
  ratios.sort((a, b) => a - b)
  return {
    ...result,
    falseAlarms: alarms / Math.max(1, worlds.length),
    rank: spearman(estimated, real),
    ratio: ratios[ratios.length >> 1] ?? NaN,
  }
}

/**
 * Spearman’s rank correlation; equal values share the mean of their ranks. NaN for fewer than two, or where all are equal.
 *
 * @see Spearman (1904), Am. J. Psychol. 15:72
 */
export function spearman(a: readonly number[], b: readonly number[]): number {
  const [x, y] = [ranks(a), ranks(b)]
  const middle = (a.length + 1) / 2
  let [xy, xx, yy] = [0, 0, 0]
  x.forEach((rank, i) => {
    xy += (rank - middle) * (y[i]! - middle)
    xx += (rank - middle) ** 2
    yy += (y[i]! - middle) ** 2
  })
  return xy / Math.sqrt(xx * yy)
}

function ranks(values: readonly number[]): number[] {
  const order = values.map((value, i) => ({ value, i })).sort((p, q) => p.value - q.value)
  const found = new Array<number>(values.length)
  for (let from = 0; from < order.length;) {
    let to = from
    while (to < order.length && order[to]!.value === order[from]!.value) to++
    for (let k = from; k < to; k++) found[order[k]!.i] = (from + to + 1) / 2
    from = to
  }
  return found
}

/** What a fault is called, in words. */
export const faultWords = (name: FaultName) => FAULTS[name].what
