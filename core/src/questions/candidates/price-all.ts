import type { Steps } from '../../columns/scan.ts'
import type { Journeys } from './journeys.ts'
import { STATE } from './journeys.ts'
import type { Alike } from './alike.ts'
import { alikeOf } from './alike.ts'
import type { Cause, Trouble } from './cases.ts'
import { casesOf } from './cases.ts'
import type { Priced } from './designs.ts'
import type { Site } from './site.ts'
import { priceTrouble } from './designs.ts'
import { givenUpFields } from './in-forms.ts'
import { outOfSight, screensApart } from './in-sight.ts'
import { becameSlow } from './in-time.ts'
import { outlookInSteps } from './outlook.ts'
import type { Ranked } from './rank.ts'
import { rankOf } from './rank.ts'
import { shuttlesOf } from './shuttles.ts'
import type { Told } from './spared.ts'
import { kindsOfSessions, sparedBy } from './spared.ts'
import type { Stages } from './stages.ts'
import { stagesOf, STEP_RATIO } from './stages.ts'

/** Fewer sessions than this share of the conversions cannot cost much. */
const LEAST_REACH = 0.005
const LEAST_SESSIONS = 20

interface SiteNames {
  /** how many page groups there are, and which is the goal; -1 where none is set */
  groups: number
  goalGroup: number
  /** names of families of elements */
  families: readonly string[]
}

export interface PricedSite extends Pick<Alike, 'nameOf' | 'membersOf'> {
  ranked: Ranked[]
  /** all that could be compared, listed or not */
  all: Priced[]
  conversions: number
  considered: number
  /** with nobody to compare with, since they befall everybody: those that most sessions met first */
  unpriced: Unpriced[]
}

export interface Unpriced extends Pick<Trouble, 'cause' | 'group' | 'family' | 'name' | 'to'> {
  sessions: number
}

/** Finds and prices the troubles of a site. Complexity: views × (features of an outlook)², and for each trouble its controls. */
export function* priceInSteps(
  looked: Journeys,
  { groups, goalGroup, families }: SiteNames,
): Steps<PricedSite> {
  const { alike, journeys } = alikeOf(looked, families)
  const stages = stagesOf(journeys, groups, goalGroup)
  const { conversions } = stages
  yield
  const { nameOf, membersOf } = alike
  if (!conversions)
    return { ...{ ranked: [], all: [], conversions, considered: 0, unpriced: [] }, nameOf, membersOf }
  const found = casesOf(stages, alike)
  yield
  const viewsOf = new Map<number, number[]>()
  journeys.views.group.forEach((group, v) => {
    const own = viewsOf.get(group)
    if (own) own.push(v)
    else viewsOf.set(group, [v])
  })
  const site: Site = {
    ...{ stages, outlook: yield* outlookInSteps(stages), found, viewsOf, ...alike },
    stepsFrom: stepsFrom(stages),
  }
  const least = Math.max(LEAST_SESSIONS, LEAST_REACH * conversions)
  const told: Told[] = []
  const unpriced: Unpriced[] = []
  for (const trouble of [...found.troubles.values(), ...shuttlesOf(site, alike)]) {
    if (trouble.cases.length < least || trouble.group === goalGroup || trouble.group === 0) continue
    if (comesOfLeaving(stages, trouble)) continue
    const priced = priceTrouble(site, trouble)
    if (priced) told.push({ trouble, priced })
    else unpriced.push({ ...trouble, sessions: trouble.cases.length })
    yield
  }
  const all: Priced[] = []
  const kinds = kindsOfSessions(stages)
  for (const one of told) {
    const spared = sparedBy(site, one, told, kinds)
    const again = spared && priceTrouble({ ...site, stages: { ...stages, spared } }, one.trouble)
    all.push(again ?? one.priced)
    yield
  }
  const apart = screensApart(site)
  for (const group of viewsOf.keys()) {
    if (group === goalGroup || group === 0) continue
    const slow = becameSlow(site, group)
    if (slow) all.push(slow)
    yield
    const sight = outOfSight(site, group, apart)
    if ('unseen' in sight) unpriced.push(sight.unseen)
    else all.push(...sight)
    all.push(...givenUpFields(site, group))
    yield
  }
  const ranked = rankOf(all, conversions)
  unpriced.push(...neverWorks(all, ranked))
  return {
    ...{ ranked, all, conversions, considered: all.length },
    unpriced: unpriced.sort(
      (a, b) =>
        b.sessions - a.sessions || a.group - b.group || a.family - b.family || a.cause.localeCompare(b.cause),
    ),
    nameOf,
    membersOf,
  }
}

/** Nobody who leaves over something does so within this. */
const AS_IT_ENDS_MS = 1000
const NEARLY_ALL = 0.8
const OF_LEAVING: ReadonlySet<Cause> = new Set<Cause>(['script error', 'failed request'])

/** Whether a page reports it as it is left, as requests do that are cut off then: it keeps nobody, and who leaves meets it. */
function comesOfLeaving({ journeys: { views } }: Stages, { cause, family, cases }: Trouble): boolean {
  if (family !== 0 || !OF_LEAVING.has(cause)) return false
  const told = cases.filter(({ view }) => !(views.state[view]! & STATE.openEnd))
  const atEnd = told.filter(({ view, atMs }) => views.endMs[view]! - atMs <= AS_IT_ENDS_MS)
  return told.length >= LEAST_SESSIONS && atEnd.length >= NEARLY_ALL * told.length
}

/** By rule broken: whoever tries it meets it. */
const BROKEN: ReadonlySet<Cause> = new Set<Cause>(['script error', 'failed request', 'refused form'])

/**
 * What is broken for all who try it, and of which those who did not try it cannot tell a price: they are other people. It
 * has reach all the same.
 */
function neverWorks(all: readonly Priced[], ranked: readonly Ranked[]): Unpriced[] {
  const place = ({ trouble: { group, family } }: Priced) => `${group} ${family}`
  const listed = new Set(ranked.map(place))
  return all
    .filter((one) => one.design === 'page' && one.trouble.family > 0 && BROKEN.has(one.trouble.cause))
    .filter((one) => !listed.has(place(one)))
    .map(({ trouble, exposed }) => ({ ...trouble, sessions: exposed }))
}

/** How many further pages those who convert see after a page, the next one left out. */
function stepsFrom({ journeys, firstView, value }: Stages): (group: number) => number {
  const { sessions, views } = journeys
  const sums = new Map<number, { steps: number; n: number }>()
  for (let s = 0; s < sessions.id.length; s++) {
    if (sessions.wonMs[s] === Infinity) continue
    const further = new Set<number>()
    for (let v = firstView[s + 1]! - 1; v >= firstView[s]!; v--) {
      const group = views.group[v]!
      if (views.atMs[v]! > sessions.wonMs[s]!) continue
      let steps = 0
      for (const other of further) if (value[other]! > value[group]! * STEP_RATIO) steps++
      const own = sums.get(group) ?? { steps: 0, n: 0 }
      own.steps += Math.max(0, steps - 1)
      own.n++
      sums.set(group, own)
      further.add(group)
    }
  }
  return (group) => {
    const own = sums.get(group)
    return own ? own.steps / own.n : 0
  }
}
