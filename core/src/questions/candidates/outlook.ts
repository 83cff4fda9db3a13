import type { Steps } from '../../columns/scan.ts'
import { DEVICE_CLASSES } from '../../events/line.ts'
import { fitLogistic, logit } from '../../stats/logistic.ts'
import { DID } from './journeys.ts'
import type { Stages } from './stages.ts'
import { STEP_LEAST } from './stages.ts'

/** By view, from what was known when it began: log odds to carry on; to convert, of those who do and of those who do not. */
export interface Outlook {
  on: Float64Array
  wonIfOn: Float64Array
  wonIfNot: Float64Array
}

/** What is known of a session when a view begins; the page it is on has an intercept of its own. */
const FEATURES = [
  ...['phone', 'tablet', 'returning', 'channel', 'campaign', 'landing page', 'is landing page', 'views'],
  ...['minutes', 'times on this page', 'been further', 'furthest', 'acts', 'page before', 'earlier sessions'],
  ...['earlier furthest', 'different pages', 'fields'],
] as const
const K = FEATURES.length
/** Enough to know the coefficients well. */
const MOST_ROWS = 30_000
const MOST_ROWS_A_PAGE = 6000
const LEAST_ROWS_A_PAGE = 150

const PHONE = DEVICE_CLASSES.indexOf('mobile') + 1
const TABLET = DEVICE_CLASSES.indexOf('tablet') + 1

/**
 * Who people are, learned from before a view: logistic regressions pooled over all pages, then refitted for each page
 * around the pooled coefficients.
 */
export function* outlookInSteps(stages: Stages): Steps<Outlook> {
  const { on, won } = stages
  const features = featuresOf(stages)
  const all = Uint32Array.from(on, (_, v) => v)
  return {
    on: yield* fitByPage(stages, features, on, all, 0.25),
    wonIfOn: yield* fitByPage(
      stages,
      features,
      won,
      all.filter((v) => on[v] === 1),
      0.25,
    ),
    wonIfNot: yield* fitByPage(
      stages,
      features,
      won,
      all.filter((v) => on[v] === 0),
      0.05,
    ),
  }
}

/** Log odds for every view, from a model fitted on some of them. */
function* fitByPage(
  { journeys: { views } }: Stages,
  features: Float64Array,
  outcome: Uint8Array,
  of: Uint32Array,
  looseness: number,
): Steps<Float64Array> {
  const group = views.group
  const groups = new Map<number, number[]>()
  for (const v of of) {
    const own = groups.get(group[v]!)
    if (own) own.push(v)
    else groups.set(group[v]!, [v])
  }
  let hits = 0
  for (const v of of) hits += outcome[v]!
  const whole = (hits + 0.5) / (of.length + 1)
  const intercepts = new Map<number, number>()
  for (const [key, own] of groups) {
    let own1 = 0
    for (const v of own) own1 += outcome[v]!
    intercepts.set(key, logit((own1 + 2 * whole) / (own.length + 2)))
  }
  const base = (v: number) => intercepts.get(group[v]!) ?? logit(whole)
  const sample = everyNth(of, MOST_ROWS)
  const pooled = fitLogistic(
    rowsOf(features, sample),
    Array.from(sample, (v) => outcome[v]!),
    { mean: new Float64Array(K + 1), sd: new Float64Array(K + 1).fill(1) },
    Array.from(sample, base),
  ).coefficients
  const odds = new Float64Array(group.length)
  const byPage = new Map<number, Float64Array>()
  for (const [key, own] of groups) {
    if (own.length < LEAST_ROWS_A_PAGE) continue
    yield
    const some = everyNth(own, MOST_ROWS_A_PAGE)
    const sd = new Float64Array(K + 1).fill(looseness)
    sd[K] = 2
    byPage.set(
      key,
      fitLogistic(
        rowsOf(features, some),
        Array.from(some, (v) => outcome[v]!),
        { mean: pooled, sd },
        Array.from(some, base),
      ).coefficients,
    )
  }
  for (let v = 0; v < odds.length; v++) {
    const coefficients = byPage.get(group[v]!) ?? pooled
    let sum = base(v) + coefficients[K]!
    for (let j = 0; j < K; j++) sum += coefficients[j]! * features[v * K + j]!
    odds[v] = sum
  }
  return odds
}

function everyNth<L extends Uint32Array | number[]>(
  list: L,
  most: number,
): ArrayLike<number> & Iterable<number> {
  if (list.length <= most) return list
  const step = list.length / most
  return Array.from({ length: most }, (_, i) => list[Math.floor(i * step)]!)
}

function rowsOf(features: Float64Array, of: ArrayLike<number>): Float64Array {
  const rows = new Float64Array(of.length * (K + 1))
  for (let i = 0; i < of.length; i++) {
    rows.set(features.subarray(of[i]! * K, (of[i]! + 1) * K), i * (K + 1))
    rows[i * (K + 1) + K] = 1
  }
  return rows
}

/** By view × K. Shares are put as log odds against the site's, so that one coefficient serves all channels and pages. */
function featuresOf(stages: Stages): Float64Array {
  const { journeys, order, firstView, firstAct, value, rate } = stages
  const { sessions, views } = journeys
  const features = new Float64Array(views.group.length * K)
  const ofChannel = leaning(stages, sessions.channel)
  const ofCampaign = leaning(stages, sessions.campaign)
  const lean = (group: number) => Math.max(-3, logit(Math.max(1e-4, value[group]!)) - logit(rate))
  let visitor = NaN
  let [earlier, earlierFurthest] = [0, 0]
  for (const s of order) {
    if (sessions.visitor[s] !== visitor) [visitor, earlier, earlierFurthest] = [sessions.visitor[s]!, 0, 0]
    let [furthest, filled] = [0, 0]
    const times = new Map<number, number>()
    const from = firstView[s]!
    for (let v = from; v < firstView[s + 1]!; v++) {
      const group = views.group[v]!
      const before = v - from
      const acts = firstAct[v]! - firstAct[from]!
      const fields = filled
      for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) if (journeys.acts.did[a]! & DID.filled) filled++
      const row = [
        Number(sessions.device[s] === PHONE),
        Number(sessions.device[s] === TABLET),
        Number(sessions.returning[s]! || earlier > 0),
        ofChannel.get(sessions.channel[s]!)!,
        ofCampaign.get(sessions.campaign[s]!)!,
        lean(views.group[from]!),
        Number(before === 0),
        Math.log1p(before),
        Math.log1p(views.atMs[v]! / 60_000),
        Math.min(3, times.get(group) ?? 0),
        Number(furthest > value[group]! + STEP_LEAST),
        before ? logit(Math.max(1e-4, furthest)) - logit(rate) : 0,
        Math.log1p(acts),
        before ? lean(views.group[v - 1]!) : 0,
        Math.min(3, earlier),
        earlierFurthest ? logit(earlierFurthest) - logit(rate) : 0,
        Math.log1p(times.size),
        Math.log1p(fields),
      ]
      features.set(row, v * K)
      times.set(group, (times.get(group) ?? 0) + 1)
      furthest = Math.max(furthest, value[group]!)
    }
    earlier++
    earlierFurthest = Math.max(earlierFurthest, furthest)
  }
  return features
}

/** By value of an attribute how much likelier its sessions convert, in log odds; few sessions say little. */
function leaning({ journeys: { sessions }, rate }: Stages, of: Float64Array): Map<number, number> {
  const counts = new Map<number, [all: number, won: number]>()
  for (let s = 0; s < of.length; s++) {
    const own = counts.get(of[s]!) ?? [0, 0]
    own[0]++
    if (sessions.wonMs[s]! < Infinity) own[1]++
    counts.set(of[s]!, own)
  }
  const few = 3 / rate
  return new Map(
    [...counts].map(([code, [all, won]]) => [code, logit((won + few * rate) / (all + few)) - logit(rate)]),
  )
}
