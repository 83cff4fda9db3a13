import { DEVICE_CLASSES } from '../../events/line.ts'
import { logistic } from '../../stats/logistic.ts'
import { otherPeople } from './bias.ts'
import type { Case } from './episodes.ts'
import { compare, lossOf } from './compare.ts'
import { thinned } from './controls.ts'
import type { Priced } from './designs.ts'
import type { Site } from './site.ts'
import { priced } from './designs.ts'
import type { Estimate } from './estimate.ts'
import { AT_ONCE_MS, DID } from './journeys.ts'
import { byHeight } from './by-height.ts'
import type { Action } from './shown.ts'
import { shareShown, tellsOf } from './shown.ts'
import type { Stages } from './stages.ts'
import { firstOf } from './stages.ts'

const LEAST_VIEWS = 100
/** A call to action that leads on: from so large a share of the clicks on it. */
const LEADS_ON = 0.6
const LEAST_LEADS = 20
/** Below this share out of sight there is nothing to repair. */
const LEAST_UNSEEN = 0.1
/** Share of those who see it that have by the landmark. */
const LANDMARK = 0.8

/**
 * Calls to action that lead on from a page and had not come into view by the time at which most of those who saw it had:
 * who had not seen it then, beside who had, both still on the page. By device, since screens differ.
 *
 * @see Anderson, Cain, Gelber (1983), J. Clin. Oncol. 1:710 (landmark analysis, against the time that seeing takes; from memory)
 */
export function outOfSight(site: Site, group: number, apart: ScreensApart): Priced[] | { unseen: Unseen } {
  const { stages, viewsOf } = site
  const { sessions } = stages.journeys
  const family = leadingOn(site, group)
  if (family === undefined) return []
  const byDevice = new Map<number, number[]>()
  for (const v of viewsOf.get(group) ?? []) {
    const device = sessions.device[stages.sessionOf[v]!]!
    const own = byDevice.get(device)
    if (own) own.push(v)
    else byDevice.set(device, [v])
  }
  const cta: Action = { family, tells: tellsOf(stages, viewsOf.get(group) ?? [], family) }
  const across = acrossScreens(site, group, cta, byDevice, apart)
  // Where hardly any phone ever shows it, those who see it on a phone are nobody to compare with.
  if (across && shareShown(stages, byDevice.get(PHONE) ?? [], cta) < HARDLY_EVER) return [across]
  const priced = [across, byHeight(site, group, cta, byDevice), byLandmark(site, group, cta, byDevice)]
    .filter((one) => one !== undefined)
    .sort((a, b) => a.loss.sd - b.loss.sd)
    .slice(0, 1)
  const unseen = priced.length ? 0 : neverShown(site, group, cta)
  return unseen ? { unseen: { cause: 'out of sight', group, family, name: 0, sessions: unseen } } : priced
}

/** A call to action that most never see, with nobody to compare them with. */
interface Unseen {
  cause: 'out of sight'
  group: number
  family: number
  name: 0
  sessions: number
}

/** Sessions that viewed a page and never saw something on it, where most do not; else 0. */
function neverShown({ stages, viewsOf }: Site, group: number, cta: Action): number {
  const views = viewsOf.get(group) ?? []
  if (!(shareShown(stages, views, cta) < 0.5)) return 0
  const saw = (v: number) => shareShown(stages, [v], cta) > 0
  const sessions = new Set(views.map((v) => stages.sessionOf[v]!))
  for (const v of views) if (saw(v)) sessions.delete(stages.sessionOf[v]!)
  return sessions.size
}

/** Who had not seen it by a landmark, beside who had. */
function byLandmark(
  site: Site,
  group: number,
  cta: Action,
  byDevice: ReadonlyMap<number, number[]>,
): Priced | undefined {
  const { stages } = site
  const exposed: Case[] = []
  const controls: Case[] = []
  for (const views of byDevice.values()) {
    const parts = halves(site, views, cta)
    if (!parts) continue
    // One by one: there may be more than a call takes.
    for (const one of parts.unseen) exposed.push(one)
    for (const one of parts.seen) controls.push(one)
  }
  if (exposed.length < 20 || controls.length < 20) return undefined
  const comparison = compare(stages, site.outlook, exposed, thinned(controls), 'others')
  const people = otherPeople(comparison, site.stepsFrom(group))
  return priced(
    { cause: 'out of sight', group, family: cta.family, name: 0 },
    'sight',
    comparison,
    lossOf(comparison, stages.on, people),
  )
}

/** Log odds of carrying on, small screens against large ones, as they are on the pages of the site: their middle and spread. */
export type ScreensApart = Estimate

const PHONE = DEVICE_CLASSES.indexOf('mobile') + 1
const DESKTOP = DEVICE_CLASSES.indexOf('desktop') + 1
const LEAST_A_SCREEN = 80
const HARDLY_EVER = 0.05
const USUAL_SPREAD = 0.2

/** Middle of the differences between phones and desktops over the pages of a site, and how far they lie apart. */
export function screensApart({ stages, viewsOf }: Site): ScreensApart {
  const differences: number[] = []
  for (const views of viewsOf.values()) {
    const found = phoneAgainstDesktop(stages, views)
    if (found && found.sd < 0.25) differences.push(found.value)
  }
  if (differences.length < 3) return { value: -0.2, sd: 2 * USUAL_SPREAD }
  differences.sort((a, b) => a - b)
  const at = (share: number) => differences[Math.floor(share * (differences.length - 1))]!
  return { value: at(0.5), sd: Math.max(USUAL_SPREAD, (at(0.75) - at(0.25)) / 1.35) }
}

function phoneAgainstDesktop(
  { on, journeys, sessionOf }: Stages,
  views: readonly number[],
): Estimate | undefined {
  const counts = { phone: [0, 0], desktop: [0, 0] }
  for (const v of views) {
    const device = journeys.sessions.device[sessionOf[v]!]!
    const own = device === PHONE ? counts.phone : device === DESKTOP ? counts.desktop : undefined
    if (own) own[on[v]!]!++
  }
  const [a, b] = [counts.phone, counts.desktop]
  if (a[0]! + a[1]! < LEAST_A_SCREEN || b[0]! + b[1]! < LEAST_A_SCREEN) return undefined
  const odds = ([not, did]: number[]) => Math.log((did! + 0.5) / (not! + 0.5))
  return {
    value: odds(a) - odds(b),
    sd: Math.sqrt([...a, ...b].reduce((sum, count) => sum + 1 / (count + 0.5), 0)),
  }
}

/**
 * Where phones do not show it at once and desktops do: how much less phones carry on here than phones do on other pages.
 */
function acrossScreens(
  site: Site,
  group: number,
  cta: Action,
  byDevice: ReadonlyMap<number, number[]>,
  apart: ScreensApart,
): Priced | undefined {
  const { stages, outlook } = site
  const { journeys, on } = stages
  const [phones, desktops] = [PHONE, DESKTOP].map((device) =>
    firstOf(stages, byDevice.get(device) ?? []),
  ) as [number[], number[]]
  const shown = (views: readonly number[], withinMs?: number) => shareShown(stages, views, cta, withinMs)
  if (!(shown(phones, AT_ONCE_MS) < 0.2)) return undefined
  const isLess =
    shown(desktops, AT_ONCE_MS) > shown(phones, AT_ONCE_MS) + 0.3 || shown(desktops) > shown(phones) + 0.1
  if (!isLess) return undefined
  const here = phoneAgainstDesktop(stages, [...phones, ...desktops])
  if (!here) return undefined
  const caseOf = (v: number): Case => ({ view: v, atMs: journeys.views.atMs[v]! })
  const exposed = phones.map(caseOf)
  const comparison = compare(stages, outlook, exposed, thinned(desktops.map(caseOf)), 'others')
  // On phones as they are, moved by what this page takes beyond what pages of the site take.
  let hits = 0
  for (const v of phones) hits += on[v]!
  const own = Math.log((hits + 0.5) / (phones.length - hits + 0.5))
  const moved = own - (here.value - apart.value)
  const sure = {
    ...comparison,
    odds: comparison.odds.map(() => moved),
    expected: comparison.expected.map(() => logistic(moved)),
    covariance: comparison.covariance.map(() => 0),
  }
  const loss = lossOf(sure, on, { value: 0, sd: Math.hypot(here.sd, apart.sd) })
  return priced(
    { cause: 'out of sight', group, family: cta.family, name: 0 },
    'screens',
    { ...sure, missing: { ...loss, sd: Infinity } },
    loss,
  )
}

/**
 * The element seen on a page whose clicks lead on most often in all: straight to the page that comes next, or, where none does,
 * by way of what it opens here.
 */
function leadingOn({ stages, viewsOf }: Site, group: number): number | undefined {
  const { journeys, firstAct, on, sessionOf, firstView, value } = stages
  const { acts, views } = journeys
  const shown = new Set<number>()
  const clicks = new Map<number, { all: number; straight: number; on: number }>()
  for (const v of viewsOf.get(group) ?? []) {
    const further = v + 1 < firstView[sessionOf[v]! + 1]! && value[views.group[v + 1]!]! > value[group]!
    for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
      if (acts.did[a]! & DID.seen) shown.add(acts.family[a]!)
      if (!(acts.did[a]! & DID.worked)) continue
      const count = clicks.get(acts.family[a]!) ?? { all: 0, straight: 0, on: 0 }
      count.all++
      if (on[v] && further) {
        count.on++
        if (a === firstAct[v + 1]! - 1) count.straight++
      }
      clicks.set(acts.family[a]!, count)
    }
  }
  const most = (of: 'straight' | 'on') => {
    let best: { family: number; leads: number } | undefined
    for (const [family, count] of clicks)
      if (
        shown.has(family) &&
        count[of] >= LEADS_ON * count.all &&
        count[of] > (best?.leads ?? LEAST_LEADS - 1)
      )
        best = { family, leads: count[of] }
    return best?.family
  }
  return most('straight') ?? most('on')
}

function halves(
  { stages }: Site,
  own: readonly number[],
  { family, tells }: Action,
): { unseen: Case[]; seen: Case[] } | undefined {
  const { journeys, firstAct } = stages
  const { acts, views } = journeys
  const rows = own.flatMap((v) => {
    if (!tells(v)) return []
    let seenMs = Infinity
    for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++)
      if (acts.did[a]! & DID.seen && acts.family[a] === family && !(acts.did[a]! & DID.onTheWay))
        seenMs = Math.min(seenMs, acts.atMs[a]! - views.atMs[v]!)
    return [{ v, seenMs, length: stages.endMs[v]! - views.atMs[v]! }]
  })
  const seers = rows.filter(({ seenMs }) => seenMs < Infinity).map(({ seenMs }) => seenMs)
  if (rows.length < LEAST_VIEWS || seers.length < LEAST_UNSEEN * rows.length) return undefined
  if (seers.length > (1 - LEAST_UNSEEN) * rows.length) return undefined
  const landmark = seers.sort((a, b) => a - b)[Math.floor(LANDMARK * seers.length)]!
  const open = rows.filter(({ length }) => length >= landmark)
  const caseOf = ({ v }: (typeof rows)[number]) => ({ view: v, atMs: views.atMs[v]! + landmark })
  return {
    unseen: open.filter(({ seenMs }) => seenMs > landmark).map(caseOf),
    seen: open.filter(({ seenMs }) => seenMs <= landmark).map(caseOf),
  }
}
