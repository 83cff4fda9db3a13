import jstat from 'jstat'
import { mayLast } from './bias.ts'
import type { Cause } from './cases.ts'
import { OF_FIELDS } from './controls.ts'
import type { Estimate } from './estimate.ts'
import type { Design, Priced } from './designs.ts'

/** A priced trouble held against the others of the site. */
export interface Ranked extends Priced, Told {
  /** best guess, given that most candidates cost nothing */
  likely: number
  /** chance that there is a cost at all */
  sure: number
  confident: boolean
}

/** Trials on simulated sites: intervals were a little too short. */
const WIDER = 1.15
/** From a price to either end of its 95 % interval, in standard deviations. */
export const WIDTH = 1.96 * WIDER
/** Of conversions, what a cost can be: scales of the half-normal parts of the belief. */
const SCALES = [0.001, 0.003, 0.01, 0.03, 0.1, 0.3]
const ROUNDS = 60
/** Share of conversions below which nobody needs to look. */
const LEAST_PRICE = 0.0015

/** Signs of hesitation and the page’s own errors tell of no failed act. */
const FAILED_ACT: ReadonlySet<Cause> = new Set<Cause>([
  ...(['script error', 'failed request', 'refused form', 'dead click', 'not found'] as const),
  ...(['given up at field', 'freeze'] as const),
])
/**
 * A field that is left empty may be one that nobody must fill in. Beside people who did not try it, an act is known to be one where
 * they tried again.
 */
const isFailedAct = ({ trouble: { cause, family }, design, tried }: Priced) =>
  FAILED_ACT.has(cause) &&
  family > 0 &&
  (!OF_FIELDS.has(cause) || design === 'fields') &&
  (design !== 'page' || tried)

/** Those who were compared had tried the same thing: conversions tell of them, too. */
const TRIED: ReadonlySet<Design> = new Set<Design>(['attempt', 'instead'])
/** All who carried on had met it as well: what harm it leaves behind does not show. */
const ALL_HARMED: ReadonlySet<Design> = new Set<Design>(['itself', 'link', 'fields'])
const HARM_UNKNOWN = 0.12
/** Those who are compared had not met it, and tell what becomes of people who carry on; to other people much may have happened. */
const LASTING_UNKNOWN: ReadonlySet<Design> = new Set<Design>([
  ...(['attempt', 'instead', 'link', 'page', 'sight'] as const),
])
const BESIDE_OTHERS: ReadonlySet<Design> = new Set<Design>(['page', 'sight'])
const NATURAL: ReadonlySet<Design> = new Set<Design>(['change', 'heights'])

/** Ranks candidates of a site with so many conversions. */
export function rankOf(all: readonly Priced[], conversions: number): Ranked[] {
  const ratio = worthOfLost(all)
  const adjusted = all.map((one) => {
    // Where others were compared than those who tried or came, giving up has taken the less eager already.
    const isOthers = BESIDE_OTHERS.has(one.design) && one.shared === undefined
    const factor = isOthers ? Math.max(1, ratio.value) : ratio.value
    const byOn: Estimate = {
      value: one.loss.value * factor,
      sd: Math.hypot(
        one.loss.sd * factor,
        one.loss.value * ratio.sd,
        ALL_HARMED.has(one.design) ? one.loss.value * HARM_UNKNOWN : 0,
      ),
    }
    return { ...one, ...together(byOn, { ...one, shared: one.shared && one.shared * factor }) }
  })
  const kept = oneOfEach(adjusted)
  const believed = beliefs(kept, conversions)
  const ranked = kept.map((one): Ranked => {
    const { likely, sure } = posterior(one.price, believed.get(groupOf(one))!, conversions)
    const low = one.price.value - WIDTH * one.price.sd
    const backed = NATURAL.has(one.design) || isFailedAct(one)
    const lasts = LASTING_UNKNOWN.has(one.design) && one.after ? one.byOn * mayLast(one.after) : 0
    return {
      ...one,
      beyond: Math.max(one.beyond, lasts),
      likely,
      sure,
      confident: sure > 0.95 && low > 0 && backed && one.agree,
    }
  })
  return ranked
    .filter(({ likely, sure, price, trouble, design }) => {
      // What befell the page and kept nobody from anything is listed only where it can hardly be chance.
      if (trouble.family === 0 && design === 'page' && price.value < 2 * WIDER * price.sd) return false
      const possible = price.value > 1.3 * price.sd && price.value + 1.96 * price.sd >= 0.01 * conversions
      return likely >= LEAST_PRICE * conversions && (sure >= 0.5 || (sure >= 0.1 && possible))
    })
    .sort((a, b) => b.likely - a.likely || b.exposed - a.exposed || order(a, b))
}

const order = ({ trouble: a }: Priced, { trouble: b }: Priced) =>
  a.group - b.group || a.family - b.family || a.cause.localeCompare(b.cause)

/** So much of a variance is chance at least. */
const LEAST_OWN = 0.01

/** What both outcomes say: the price, how much of it is told by carrying on alone, and whether they agree. */
interface Told {
  /** conversions in the data: after what the others taught, and its spread before a belief about costs */
  price: Estimate
  /** how far the price may lie above its interval, hypot of both, for a reason that only raises it: harm that lasts */
  beyond: number
  byOn: number
  agree: boolean
}

/**
 * Both outcomes as one. Where they agree within what chance does they are pooled, if those who are compared tried the same or
 * it befell whoever came; of others carrying on says how much: it is the less noisy one. Where they do not agree, neither
 * can be trusted alone: their weighted mean, as wide as they are apart.
 */
function together(on: Estimate, { missing, design, shared: told }: Priced): Told {
  const shared = told ?? 0
  const apart = on.value - missing.value
  const ownSd = Math.sqrt(Math.max(LEAST_OWN * on.sd ** 2, on.sd ** 2 - shared ** 2))
  const [a, b] = [1 / ownSd ** 2, 1 / missing.sd ** 2]
  const value = (a * on.value + b * missing.value) / (a + b)
  const byOn = a / (a + b)
  if (!(Math.abs(apart) > 2 * Math.hypot(ownSd, missing.sd))) {
    const sd = Math.hypot(Math.min(ownSd, missing.sd), shared)
    return TRIED.has(design) || told !== undefined
      ? { price: { value, sd }, beyond: 0, byOn, agree: true }
      : { price: on, beyond: 0, byOn: 1, agree: true }
  }
  if (design === 'change' && missing.value > 0) {
    // Both say that there is a cost. What visitors did on other days moves with the calendar, as the change itself does: the
    // price lies between, and need not agree.
    const [less, more] = apart < 0 ? [on, missing] : [missing, on]
    const sd = less.sd + (value - less.value) / WIDTH
    const above = more.value + WIDTH * more.sd - value
    return {
      price: { value, sd },
      beyond: Math.sqrt(Math.max(0, above ** 2 - (WIDTH * sd) ** 2)),
      byOn,
      agree: true,
    }
  }
  return {
    price: { value, sd: Math.hypot(Math.sqrt(1 / (a + b)), apart / 2, shared) },
    beyond: 0,
    byOn,
    agree: false,
  }
}

/**
 * Who gave up over a trouble was not as likely to convert as who carried on, and who carried on may have suffered: over all
 * attempts of the site, conversions that are missing for each that carrying on tells.
 */
function worthOfLost(all: readonly Priced[]): Estimate {
  let [on, missing, variance] = [0, 0, 0]
  for (const { design, loss, missing: own } of all) {
    if (!TRIED.has(design) || loss.value < 2 * loss.sd) continue
    on += loss.value
    missing += own.value
    variance += own.sd ** 2
  }
  const believed = 1 / RATIO.sd ** 2
  if (on <= 0) return RATIO
  const known = on ** 2 / variance
  return {
    value: ((missing / on) * known + RATIO.value * believed) / (known + believed),
    sd: 1 / Math.sqrt(known + believed),
  }
}
/** Believed before the data: those who give up are a little less eager, and harm may last. */
const RATIO: Estimate = { value: 0.95, sd: 0.15 }

const GROUP_RARE = 0.5
type Prior = { none: number; costs: number[]; gains: number }

/** Candidates that are alike in how many of them cost anything. */
function groupOf({ design, exposed, controls, tried, trouble }: Priced): string {
  if (OF_FIELDS.has(trouble.cause) && design !== 'fields') return 'corrected field'
  if (design === 'instead' || design === 'itself') return 'attempt'
  if (design !== 'page') return design
  if (tried) return 'page, tried'
  return exposed > GROUP_RARE * controls ? 'page, often' : 'page, rare'
}

/** Of each group how its prices are spread: none, costs of some size, rarely gains. By expectation and maximisation. */
function beliefs(all: readonly Ranked0[], conversions: number): Map<string, Prior> {
  const groups = new Map<string, Ranked0[]>()
  for (const one of all) groups.set(groupOf(one), [...(groups.get(groupOf(one)) ?? []), one])
  return new Map(
    [...groups].map(([key, own]) => [
      key,
      fitPrior(
        own.map(({ price }) => price),
        conversions,
      ),
    ]),
  )
}
type Ranked0 = Priced & Told

/** A little of everything is believed before, so that few candidates do not decide alone. */
const START: Prior = { none: 0.6, costs: SCALES.map(() => 0.36 / SCALES.length), gains: 0.04 }
const STRENGTH = 4

function fitPrior(prices: readonly Estimate[], conversions: number): Prior {
  let prior = START
  for (let round = 0; round < ROUNDS; round++) {
    const sums: Prior = {
      none: STRENGTH * START.none,
      costs: START.costs.map((share) => STRENGTH * share),
      gains: STRENGTH * START.gains,
    }
    for (const price of prices) {
      const parts = partsOf(price, prior, conversions)
      const total = parts.none + parts.gains + parts.costs.reduce((sum, { weight }) => sum + weight, 0)
      sums.none += parts.none / total
      sums.gains += parts.gains / total
      parts.costs.forEach(({ weight }, k) => (sums.costs[k]! += weight / total))
    }
    const all = prices.length + STRENGTH
    prior = {
      none: sums.none / all,
      costs: sums.costs.map((sum) => sum / all),
      gains: sums.gains / all,
    }
  }
  return prior
}

const phi = (z: number) => Math.exp(-0.5 * z * z) / Math.sqrt(2 * Math.PI)
const below = (z: number) => 0.5 * jstat.jStat.erfc(-z / Math.SQRT2)

/** How likely a price is under each part of a belief, and the mean cost under it. */
function partsOf({ value, sd: own }: Estimate, prior: Prior, conversions: number) {
  const sd = own * WIDER
  const halfNormal = (scale: number, sign: 1 | -1) => {
    const variance = sd * sd + scale * scale
    const centre = (value * scale * scale) / variance
    const width = (sd * scale) / Math.sqrt(variance)
    const side = Math.max(1e-12, below((sign * centre) / width))
    const weight = ((2 * phi(value / Math.sqrt(variance))) / Math.sqrt(variance)) * side
    return { weight, mean: centre + (sign * width * phi(centre / width)) / side }
  }
  const gain = halfNormal(0.01 * conversions, -1)
  return {
    none: (prior.none * phi(value / sd)) / sd,
    gains: prior.gains * gain.weight,
    costs: SCALES.map((scale, k) => {
      const { weight, mean } = halfNormal(scale * conversions, 1)
      return { weight: prior.costs[k]! * weight, mean }
    }),
  }
}

function posterior(price: Estimate, prior: Prior, conversions: number): { likely: number; sure: number } {
  const { none, gains, costs } = partsOf(price, prior, conversions)
  const cost = costs.reduce((sum, { weight }) => sum + weight, 0)
  const total = none + gains + cost || 1
  return {
    likely: costs.reduce((sum, { weight, mean }) => sum + weight * mean, 0) / total,
    sure: cost / total,
  }
}

const SPEAKS_FIRST: readonly Design[] = ['attempt', 'itself', 'instead', 'change', 'fields', 'link']

/** Same thing on the same page, most of the smaller one’s views shared: one finding, told by the better comparison. */
function oneOfEach<P extends Priced & { price: Estimate }>(all: readonly P[]): P[] {
  const z = ({ price }: P) => price.value / price.sd
  const first = (one: P) => (SPEAKS_FIRST.includes(one.design) ? 0 : 1)
  const ordered = [...all].sort((a, b) => first(a) - first(b) || z(b) - z(a) || order(a, b))
  const kept: P[] = []
  for (const one of ordered) {
    const twin = kept.some((other) => {
      if (other.trouble.group !== one.trouble.group || !sameKind(one, other)) return false
      let shared = 0
      for (const view of one.views) if (other.views.has(view)) shared++
      const [small, large] = [one.views.size, other.views.size].sort((a, b) => a - b)
      return shared > 0.6 * small! && shared > 0.25 * large!
    })
    if (!twin) kept.push(one)
  }
  return kept
}

const TIMES: readonly Cause[] = ['slow page', 'became slow']
function sameKind({ trouble: a }: Priced, { trouble: b }: Priced): boolean {
  const [one, two] = [TIMES.includes(a.cause), TIMES.includes(b.cause)]
  return one === two
}
