import { logistic } from '../../stats/logistic.ts'
import type { Priced, Site } from './designs.ts'
import { DID, TROUBLE } from './journeys.ts'
import type { Stages } from './stages.ts'

const LEAST_VIEWS = 60
const LEAST_FIELDS = 4
/** Fields differ by nature: shares, the more so where few others tell by how much. */
const OWN_SPREAD = 0.02
const SPREAD_OF_ONE = 0.09
const AS_OF_FIELDS = 3
/** A field is asked of all where so many of those who carry on fill it in. */
const ASKED_OF_ALL = 0.5

/**
 * Fields at which a form is given up more often than at its other fields: of the views in which the field before it was the
 * last one filled in, those that did not carry on, unless the last that was done went wrong. The other fields of the form are what it is compared with.
 */
export function givenUpFields(site: Site, group: number): Priced[] {
  const { stages, outlook, viewsOf } = site
  const { journeys, firstAct, on } = stages
  const { acts } = journeys
  const own = viewsOf.get(group) ?? []
  const filledOn = own.map((v) => {
    const fields: number[] = []
    for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++)
      if (acts.did[a]! & DID.filled && !fields.includes(acts.family[a]!)) fields.push(acts.family[a]!)
    return { v, fields }
  })
  const fields = orderOf(
    filledOn.filter(({ v, fields: own1 }) => on[v] && own1.length).map((one) => one.fields),
  )
  if (fields.length < LEAST_FIELDS) return []
  const place = new Map(fields.map((family, i) => [family, i]))
  const reached = fields.map(() => [] as number[])
  const stopped = fields.map(() => [] as number[])
  for (const { v, fields: filled } of filledOn) {
    const last = Math.max(-1, ...filled.map((family) => place.get(family) ?? -1))
    for (let j = 1; j <= last; j++) reached[j]!.push(v)
    if (last >= 0 && last + 1 < fields.length && !on[v] && !endsInTrouble(stages, v)) {
      reached[last + 1]!.push(v)
      stopped[last + 1]!.push(v)
    }
  }
  const shares = reached.map((views, j) => (views.length ? stopped[j]!.length / views.length : NaN))
  const taken = timesTaken(site, filledOn, place)
  return fields.flatMap((family, j) => {
    const n = reached[j]!.length
    const others = fields.flatMap((_, i) => (i > 0 && i !== j && !Number.isNaN(shares[i]!) ? [i] : []))
    if (j === 0 || n < LEAST_VIEWS || others.length < LEAST_FIELDS - 2) return []
    const { usual, spread } = usualOf(
      others.map((i) => shares[i]!),
      others.map((i) => taken[j]! / taken[i]!),
    )
    // Who reached the field and went on says what carrying on from there is worth.
    const went = reached[j]!.filter((v) => on[v])
    const worth =
      went.reduce((sum, v) => sum + logistic(outlook.wonIfOn[v]!) - logistic(outlook.wonIfNot[v]!), 0) /
      Math.max(1, went.length)
    const onward = went.length / Math.max(1, n - stopped[j]!.length)
    const each = worth * onward
    const excess = shares[j]! - usual
    const sd = Math.sqrt((shares[j]! * (1 - shares[j]!)) / n + spread ** 2)
    if (excess < 2.5 * sd) return []
    const loss = { value: n * excess * each, sd: Math.hypot(n * sd * each, 0.1 * n * excess * each) }
    return [
      {
        trouble: { cause: 'given up at field' as const, group, family, name: 0 },
        ...{
          design: 'fields' as const,
          exposed: n,
          controls: n * others.length,
          loss,
          missing: { value: loss.value, sd: Infinity },
        },
        views: new Set(stopped[j]),
        ...{ expected: 1 - usual, carriedOn: 1 - shares[j]!, worth: each, near: false, tried: false },
      },
    ]
  })
}

/** Whether the last that was done on a view went wrong: who leaves then leaves over that, and not at the field that comes next. */
function endsInTrouble({ journeys: { acts }, firstAct }: Stages, view: number): boolean {
  for (let a = firstAct[view + 1]! - 1; a >= firstAct[view]!; a--)
    if (!(acts.did[a]! & DID.seen)) return (acts.did[a]! & TROUBLE) > 0
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
function timesTaken(
  { stages: { journeys, firstAct } }: Site,
  filledOn: readonly { v: number }[],
  place: ReadonlyMap<number, number>,
): number[] {
  const { acts } = journeys
  const times = Array.from(place, () => [] as number[])
  for (const { v } of filledOn) {
    let [before, beforeMs] = [-1, 0]
    for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
      const field = acts.did[a]! & DID.filled ? place.get(acts.family[a]!) : undefined
      if (field === undefined || field <= before) continue
      if (field === before + 1 && before >= 0) times[field]!.push(acts.atMs[a]! - beforeMs)
      before = field
      beforeMs = acts.atMs[a]!
    }
  }
  return times.map((own) => Math.max(1, own.sort((a, b) => a - b)[own.length >> 1] ?? 1))
}

/** How far fields differ by nature: what is usual, as if it were known of a few fields, and what these say. */
function spreadOf(sorted: readonly number[]): number {
  const n = sorted.length
  const usual = OWN_SPREAD + SPREAD_OF_ONE / n
  const own = (sorted[Math.floor(n * 0.75)]! - sorted[Math.floor(n * 0.25)]!) / 1.35
  return Math.sqrt((AS_OF_FIELDS * usual ** 2 + n * own ** 2) / (AS_OF_FIELDS + n))
}

/** Fields that most fill in, in the order in which they usually do. */
function orderOf(all: readonly number[][]): number[] {
  const places = new Map<number, { sum: number; n: number }>()
  for (const fields of all)
    fields.forEach((family, i) => {
      const own = places.get(family) ?? { sum: 0, n: 0 }
      own.sum += i
      own.n++
      places.set(family, own)
    })
  return [...places]
    .filter(([, { n }]) => n >= ASKED_OF_ALL * all.length)
    .sort(([, a], [, b]) => a.sum / a.n - b.sum / b.n)
    .map(([family]) => family)
}
