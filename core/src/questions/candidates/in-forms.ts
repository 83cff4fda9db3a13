import { logistic } from '../../stats/logistic.ts'
import type { Priced } from './designs.ts'
import type { Site } from './site.ts'
import { DID, LOOKING, TROUBLE } from './journeys.ts'
import type { Stages } from './stages.ts'

const LEAST_VIEWS = 60
const LEAST_FIELDS = 4
/** Fields differ by nature: shares, the more so where few others tell by how much. */
const OWN_SPREAD = 0.02
const SPREAD_OF_ONE = 0.09
/** Where hardly any field is given up, none differs by much: no farther apart than this, and so many times what is usual. */
const LEAST_SPREAD = 0.01
const SPREAD_TO_USUAL = 1.5
const AS_OF_FIELDS = 3
/** A field is asked of all where so many of those who carry on fill it in. */
const ASKED_OF_ALL = 0.5

/** Fewer who carried on do not tell what comes next. */
const LEAST_WAYS = 10
const ROUNDS = 30

/**
 * Fields at which a form is given up more often than at its other fields: of the views that came to it, those that did not
 * carry on and whose last field is the one before it, unless the last that was done went wrong or was corrected again and
 * again. The other fields of the form are what it is compared with.
 */
export function givenUpFields(site: Site, group: number): Priced[] {
  const { stages, outlook, viewsOf } = site
  const { on } = stages
  const filledOn = (viewsOf.get(group) ?? []).map((v) => filledIn(stages, v))
  const carried = filledOn.filter(({ v, fields }) => on[v] && fields.length)
  const fields = askedOfAll(carried)
  if (fields.length < LEAST_FIELDS) return []
  const passed = new Map<number, number[]>()
  /** of those the ones who had no trouble with the field before it: who had may stop over that */
  const smooth = new Map<number, number[]>()
  for (const { v, fields: filled, corrected } of filledOn)
    for (let k = 1; k < filled.length; k++) {
      listed(passed, filled[k]!).push(v)
      if (!corrected[k - 1]) listed(smooth, filled[k]!).push(v)
    }
  const left = filledOn.filter(
    ({ v, fields: filled, corrected }) =>
      !on[v] && filled.length > 0 && !corrected[filled.length - 1] && !endsInTrouble(stages, v),
  )
  const stopped = stopsByField(left, waysOn(carried), smooth)
  const told = fields.map((family) => {
    const stops = stopped.get(family)?.stops ?? 0
    const own = smooth.get(family)?.length ?? 0
    const all = passed.get(family)?.length ?? 0
    // Those who had trouble before it stop there as the others do.
    return { stops, n: own + stops, reached: all + stops * (own ? all / own : 1) }
  })
  const shares = told.map(({ stops, n }) => (n >= LEAST_VIEWS ? stops / n : NaN))
  const taken = timesTaken(filledOn, fields)
  return fields.flatMap((family, j) => {
    const { n: known, reached: n } = told[j]!
    const others = fields.flatMap((_, i) => (i !== j && !Number.isNaN(shares[i]!) ? [i] : []))
    if (Number.isNaN(shares[j]!) || others.length < LEAST_FIELDS - 2) return []
    const { usual, spread } = usualOf(
      others.map((i) => shares[i]!),
      others.map((i) => taken[j]! / taken[i]!),
    )
    // Who reached the field and went on says what carrying on from there is worth.
    const went = (passed.get(family) ?? []).filter((v) => on[v])
    const worth =
      went.reduce((sum, v) => sum + logistic(outlook.wonIfOn[v]!) - logistic(outlook.wonIfNot[v]!), 0) /
      Math.max(1, went.length)
    const onward = went.length / Math.max(1, passed.get(family)?.length ?? 0)
    const each = worth * onward
    const excess = shares[j]! - usual
    const sd = Math.sqrt((shares[j]! * (1 - shares[j]!)) / known + spread ** 2)
    if (excess < 2.5 * sd) return []
    const loss = { value: n * excess * each, sd: Math.hypot(n * sd * each, 0.1 * n * excess * each) }
    return [
      {
        trouble: { cause: 'given up at field' as const, group, family, name: 0 },
        ...{
          design: 'fields' as const,
          exposed: Math.round(n),
          controls: Math.round(n * others.length),
          loss,
          missing: { value: loss.value, sd: Infinity },
        },
        views: new Set(stopped.get(family)?.views),
        ...{ expected: 1 - usual, carriedOn: 1 - shares[j]!, worth: each, near: false, tried: false },
      },
    ]
  })
}

/** Whether the last that was done on a view went wrong: who leaves then leaves over that, and not at the field that comes next. */
function endsInTrouble({ journeys: { acts }, firstAct }: Stages, view: number): boolean {
  for (let a = firstAct[view + 1]! - 1; a >= firstAct[view]!; a--)
    if (acts.did[a]! & ~LOOKING) return (acts.did[a]! & TROUBLE) > 0
  return false
}

/**
 * What is usual at a field and how far fields lie apart, from the shares that stop at others: as these are, or, where they lie
 * less far apart then, each as many times as large as the time that the field takes is longer. Who leaves at any second leaves
 * at the long ones.
 */
function usualOf(shares: readonly number[], longer: readonly number[]): { usual: number; spread: number } {
  const [plain, timed] = [shares, shares.map((share, i) => share * longer[i]!)].map((all) => {
    const sorted = [...all].sort((a, b) => a - b)
    return { usual: sorted[sorted.length >> 1]!, spread: spreadOf(sorted) }
  }) as [Usual, Usual]
  return timed.spread < plain.spread ? timed : plain
}
interface Usual {
  usual: number
  spread: number
}

/** By field how long it takes from the one before it, median in ms; 1 where nobody tells. */
function timesTaken(filledOn: readonly Filled[], fields: readonly number[]): number[] {
  const times = new Map(fields.map((family) => [family, [] as number[]]))
  for (const { fields: filled, atMs } of filledOn)
    for (let k = 1; k < filled.length; k++) times.get(filled[k]!)?.push(atMs[k]! - atMs[k - 1]!)
  return fields.map((family) => {
    const own = times.get(family)!.sort((a, b) => a - b)
    return Math.max(1, own[own.length >> 1] ?? 1)
  })
}

/** How far fields differ by nature: what is usual, as if it were known of a few fields, and what these say. */
function spreadOf(sorted: readonly number[]): number {
  const n = sorted.length
  const before = Math.min(
    OWN_SPREAD + SPREAD_OF_ONE / n,
    LEAST_SPREAD + SPREAD_TO_USUAL * sorted[sorted.length >> 1]!,
  )
  const own = (sorted[Math.floor(n * 0.75)]! - sorted[Math.floor(n * 0.25)]!) / 1.35
  return Math.sqrt((AS_OF_FIELDS * before ** 2 + n * own ** 2) / (AS_OF_FIELDS + n))
}

/** A view, and the fields that were filled in on it, each the first time. */
interface Filled {
  v: number
  fields: number[]
  atMs: number[]
  corrected: boolean[]
}

function filledIn({ journeys: { acts }, firstAct }: Stages, v: number): Filled {
  const filled: Filled = { v, fields: [], atMs: [], corrected: [] }
  for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
    if (!(acts.did[a]! & DID.filled) || filled.fields.includes(acts.family[a]!)) continue
    filled.fields.push(acts.family[a]!)
    filled.atMs.push(acts.atMs[a]!)
    filled.corrected.push((acts.did[a]! & DID.corrected) > 0)
  }
  return filled
}

/** Fields that most fill in. */
function askedOfAll(carried: readonly Filled[]): number[] {
  const counts = new Map<number, number>()
  for (const { fields } of carried)
    for (const family of fields) counts.set(family, (counts.get(family) ?? 0) + 1)
  return [...counts].filter(([, n]) => n >= ASKED_OF_ALL * carried.length).map(([family]) => family)
}

/** Of a place in a form how many who carried on passed it, and what they filled in next, unless they were at its end. */
type Ways = ReadonlyMap<string, { all: number; next: ReadonlyMap<number, number> }>

/** A place in a form: the last field that was filled in, and the one before it. */
const placeAt = (fields: readonly number[], k: number) => `${fields[k - 1] ?? ''} ${fields[k]!}`

function waysOn(carried: readonly Filled[]): Ways {
  const ways = new Map<string, { all: number; next: Map<number, number> }>()
  for (const { fields } of carried)
    fields.forEach((_, k) => {
      const place = placeAt(fields, k)
      const own = ways.get(place) ?? { all: 0, next: new Map<number, number>() }
      own.all++
      const next = fields[k + 1]
      if (next !== undefined) own.next.set(next, (own.next.get(next) ?? 0) + 1)
      ways.set(place, own)
    })
  return ways
}

/**
 * At which fields those stopped who left a form: at what comes next where they were, as those tell who carried on. Where
 * several may come next, at each by how many go there and how often it is given up, which the places tell that lead to it alone
 * (expectation and maximisation). So a field that only some are asked for, or that was filled in out of turn, leads nobody wrong.
 */
function stopsByField(
  left: readonly Filled[],
  ways: Ways,
  passed: ReadonlyMap<number, readonly number[]>,
): Map<number, { stops: number; views: number[] }> {
  const leftAt = new Map<string, number[]>()
  for (const { v, fields } of left) {
    const place = placeAt(fields, fields.length - 1)
    listed(leftAt, place).push(v)
  }
  const places = [...leftAt].flatMap(([place, views]) => {
    const way = ways.get(place)
    return way && way.all >= LEAST_WAYS ? [{ views, way }] : []
  })
  const stopped = new Map<number, { stops: number; views: number[] }>()
  for (const { views, way } of places)
    for (const family of way.next.keys()) {
      const own = stopped.get(family)
      if (own) for (const v of views) own.views.push(v)
      else stopped.set(family, { stops: 0, views: [...views] })
    }
  let rates = new Map<number, number>()
  for (let round = 0; round < ROUNDS; round++) {
    for (const own of stopped.values()) own.stops = 0
    for (const { views, way } of places) {
      const weights = [...way.next].map(([family, n]) => [family, n * (rates.get(family) ?? 1)] as const)
      const [all, here] = [sum(weights.map(([, w]) => w)), sum([...way.next.values()]) / way.all]
      for (const [family, weight] of weights)
        stopped.get(family)!.stops += all ? (views.length * here * weight) / all : 0
    }
    rates = new Map(
      [...stopped].map(([family, { stops }]) => [
        family,
        stops / Math.max(1, stops + (passed.get(family)?.length ?? 0)),
      ]),
    )
  }
  return stopped
}

/** The list of a key, made where there is none. */
function listed<K>(lists: Map<K, number[]>, key: K): number[] {
  let own = lists.get(key)
  if (!own) lists.set(key, (own = []))
  return own
}

const sum = (values: readonly number[]) => values.reduce((all, one) => all + one, 0)
