import { logistic } from '../../stats/logistic.ts'
import type { Comparison } from './compare.ts'
import type { Case } from './episodes.ts'
import { apartIn, lossOf } from './compare.ts'
import type { Estimate } from './estimate.ts'
import { someOf } from './known.ts'
import { STATE } from './journeys.ts'
import type { Site } from './site.ts'
import type { Stages } from './stages.ts'
import { isFurther } from './stages.ts'

/**
 * Who leaves over a trouble leaves within this; who leaves later may leave over anything. Where most are gone or further by then,
 * too few are left to tell who they are: less.
 */
const WITHIN_MS = [20_000, 10_000]
const STILL_OPEN = 0.25
/** A trouble takes a part of that time itself, in which nobody leaves over anything else: by so many log odds is it known. */
const WINDOW = 0.1
const LEAST = 20
/** By so many standard deviations must they leave at once more than others, and more than they themselves leave later. */
const MORE = 2
const MORE_THAN_LATER = 3
/** How far those of whom nothing was decided tell of all who met it: log odds, and a share of what they tell. */
const UNLIKE = 0.1
const UNLIKE_SHARE = 0.3
/** By what share those who left at once would have come further less, or more, than the others. */
const LEAVERS = 0.15
/** What a trouble costs later, as a share of what it costs at once: mostly little. */
const LATER_SHARE = 0.3

/**
 * Conversions lost by those who met a trouble, beside others who may be other people. Who is less eager leaves more at any time;
 * who leaves over a trouble leaves at once. So where they left at once more than they left later, how they fared later tells how
 * far they are other people, and how many left at once tells the loss, with less chance in it than all that came of them.
 * Harm that takes its time looks like other people: then nothing is told.
 *
 * @param people  log odds by which they carry on more than those who are compared, as it is believed before
 * @returns conversions lost, by carrying on and by conversions alone
 * @see Farrington (1995), Biometrics 51:228 (risk in a window after an event against that outside of it; from memory)
 */
export function lossBeside(
  site: Site,
  comparison: Comparison,
  people: Estimate,
): { loss: Estimate; missing: Estimate } {
  const { stages } = site
  const told = atOnce(site, comparison)
  const { missing } = comparison
  if (!told) return { loss: lossOf(comparison, stages.on, people), missing }
  const { early, late } = told
  const apart = bothOf(people, whoTheyAre(late))
  const { odds, expected, worth } = comparison
  let [loss, variance, slope, eager, steep] = [0, 0, 0, 0, 0]
  comparison.exposed.forEach((_, i) => {
    const on = logistic(odds[i]! + apart.value)
    eager += (on - expected[i]!) * worth[i]!
    steep += on * (1 - on) * worth[i]!
    const leaves = logistic(early.odds[i]! - apart.value)
    const worthOfStaying = Math.min(1, on / (1 - leaves)) * worth[i]!
    const lost = (told.left[i]! - leaves) * worthOfStaying
    loss += lost
    variance += lost * lost
    slope += leaves * (1 - leaves) * worthOfStaying
  })
  const soon: Estimate = {
    value: loss,
    sd: Math.hypot(Math.sqrt(variance), slope * Math.hypot(apart.sd, early.open, WINDOW), LEAVERS * loss),
  }
  return {
    loss: withLater(soon, lossOf(comparison, stages.on, apart)),
    missing: { value: missing.value + eager, sd: Math.hypot(missing.sd, steep * apart.sd) },
  }
}

/** What was lost at once, and of what came later as much as can be told from chance. */
function withLater(soon: Estimate, all: Estimate): Estimate {
  const unknown = Math.max(0, all.sd ** 2 - soon.sd ** 2)
  const believed = (LATER_SHARE * soon.value) ** 2
  const share = believed / (believed + unknown)
  return {
    value: soon.value + share * (all.value - soon.value),
    sd: Math.sqrt(soon.sd ** 2 + share * unknown),
  }
}

/**
 * What the later ones tell of all. Coming further more can only come of who they are; coming further less can come of the trouble
 * as well, or of the time that it took: half of it is believed, and its width says so.
 */
function whoTheyAre({ value, sd: own }: Estimate): Estimate {
  const sd = Math.hypot(own, UNLIKE, UNLIKE_SHARE * value)
  return value >= 0 ? { value, sd } : { value: value / 2, sd: Math.hypot(sd, value / 2) }
}

/** Two estimates as one; the second alone where they exclude each other. */
function bothOf(one: Estimate, other: Estimate): Estimate {
  if (Math.abs(one.value - other.value) > 2 * Math.hypot(one.sd, other.sd)) return other
  const [a, b] = [1 / one.sd ** 2, 1 / other.sd ** 2]
  return { value: (a * one.value + b * other.value) / (a + b), sd: 1 / Math.sqrt(a + b) }
}

/** Who of the exposed left at once, by how much more than others, and how those fared of whom nothing was decided by then. */
function atOnce(
  { stages }: Site,
  { exposed, controls, known }: Comparison,
): { left: Uint8Array; early: ReturnType<typeof apartIn>; late: Estimate } | undefined {
  const [ownMs, othersMs] = [exposed, controls].map((cases) => decidedMs(stages, cases)) as [
    number[],
    number[],
  ]
  const areOpen = (all: readonly number[], ms: number) =>
    all.filter((after) => after > ms).length >= STILL_OPEN * all.length
  const withinMs = WITHIN_MS.find((ms) => areOpen(ownMs, ms) && areOpen(othersMs, ms)) ?? WITHIN_MS[0]!
  const own = leftAndOpen(stages, exposed, ownMs, withinMs)
  const others = leftAndOpen(stages, controls, othersMs, withinMs)
  const leavers = own.left.reduce((sum, left) => sum + left, 0)
  if (Math.min(leavers, own.open.length, others.open.length) < LEAST) return undefined
  const came = (cases: readonly Case[], places: readonly number[]) =>
    Uint8Array.from(places, (i) => stages.on[cases[i]!.view]!)
  const early = apartIn([known.exposed, own.left], [known.controls, others.left])
  const late = apartIn(
    [someOf(known.exposed, own.open), came(exposed, own.open)],
    [someOf(known.controls, others.open), came(controls, others.open)],
  )
  const sd = Math.hypot(early.sd, WINDOW)
  const isMore = early.value > MORE * sd
  const isMoreThanLater = early.value + late.value > MORE_THAN_LATER * Math.hypot(sd, late.sd)
  return isMore && isMoreThanLater ? { left: own.left, early, late } : undefined
}

/** Of some cases how long after it was decided: they came further, or the session ended without that; ms. */
function decidedMs(stages: Stages, cases: readonly Case[]): number[] {
  const { on, sessionOf, firstView, endMs } = stages
  return cases.map(({ view, atMs }) => {
    const last = firstView[sessionOf[view]! + 1]! - 1
    return (on[view] ? furtherMs(stages, view) : endMs[last]!) - atMs
  })
}

/** Of some cases who left within some time, 1, and the places of those of whom nothing was decided by then. */
function leftAndOpen(
  { on }: Stages,
  cases: readonly Case[],
  decided: readonly number[],
  withinMs: number,
): { left: Uint8Array; open: number[] } {
  return {
    left: Uint8Array.from(cases, ({ view }, i) => Number(!on[view] && decided[i]! <= withinMs)),
    open: decided.flatMap((ms, i) => (ms > withinMs ? [i] : [])),
  }
}

/** When a session that comes further does, ms since its start. */
function furtherMs(stages: Stages, view: number): number {
  const { journeys, sessionOf, firstView } = stages
  const { views, sessions } = journeys
  const s = sessionOf[view]!
  const wonMs = sessions.wonMs[s]!
  for (let v = view + 1; v < firstView[s + 1]! && views.atMs[v]! < wonMs; v++)
    if (!(views.state[v]! & STATE.notFound) && isFurther(stages, view, v)) return views.atMs[v]!
  return wonMs
}
