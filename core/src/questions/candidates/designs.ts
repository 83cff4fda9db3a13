import { logit } from '../../stats/logistic.ts'
import { apartElsewhere } from './apart.ts'
import { lossBeside } from './at-once.ts'
import { hidden, mixture, noAttempt, otherPeople } from './bias.ts'
import type { Cause, Trouble } from './cases.ts'
import { IN_VAIN, triesAt } from './cases.ts'
import type { Comparison } from './compare.ts'
import type { Case } from './episodes.ts'
import type { Estimate } from './estimate.ts'
import { compare, lossOf, mean, shift } from './compare.ts'
import { OF_FIELDS, sessionsOf, thinned, triersBeside, usedUncovered } from './controls.ts'
import type { Instead } from './instead.ts'
import { atOnceMore, usedInstead } from './instead.ts'
import { inTurn } from './in-turn.ts'
import { stillOpen } from './risk-sets.ts'
import type { Site } from './site.ts'
import type { Stages } from './stages.ts'
import { doneBefore } from './stages.ts'

/** With whom those who met a trouble were compared. */
export const DESIGNS = [
  ...([
    'attempt',
    'itself',
    'instead',
    'link',
    'page',
    'change',
    'sight',
    'screens',
    'heights',
    'fields',
  ] as const),
] as const
export type Design = (typeof DESIGNS)[number]

/** A trouble and what it cost, before it is held against the others of the site. */
export interface Priced {
  trouble: Pick<Trouble, 'cause' | 'group' | 'family' | 'name' | 'to'>
  design: Design
  exposed: number
  controls: number
  /** views of the exposed, for telling whether two are the same */
  views: ReadonlySet<number>
  /** conversions in the data, by carrying on */
  loss: Estimate
  /** the same by conversions alone */
  missing: Estimate
  /** of the spread of `loss`, what lies in who they are: it is that of `missing` as well, which leaves it out */
  shared?: number
  /** where it can be told, of those who carried on: see Comparison */
  after?: Comparison['after']
  /** chances of the exposed: to carry on without the trouble, and what they did; of conversion likewise */
  expected: number
  carriedOn: number
  /** what carrying on is worth, on average */
  worth: number
  /** clicks just beside a control, for a good part */
  near: boolean
  /** clicks in vain that a good part repeated */
  tried: boolean
}

const LEAST_CONTROLS = 20
const LEAST_SHARE = 0.1
const NEAR = 0.25
/** Where so many of those who click in vain click again, they want something. */
const TRIED_AGAIN = 0.3
/** Log odds by which they must use it at once more than others. */
const FAR_MORE = 1
/** Log odds by which they must carry on less who clicked once. */
const FAR_LESS = 0.7

/** Prices a trouble by the best comparison that the data have; undefined where there is nobody to compare with. */
export function priceTrouble(site: Site, trouble: Trouble): Priced | undefined {
  const { stages, found } = site
  const { cause, family, cases } = trouble
  if (cause === 'shuttle') return byPage(site, trouble)
  if (family === 0 || cause === 'not found') return family ? byLink(site, trouble) : byPage(site, trouble)
  if (OF_FIELDS.has(cause))
    return byAttempt(site, trouble, triersBeside(stages, found, trouble), 'attempt') ?? byPage(site, trouble)
  const beside = triersBeside(stages, found, trouble)
  if (areEnough(beside, cases)) return byAttempt(site, trouble, beside, 'attempt')
  const certain = byItself(site, trouble)
  if (certain) return certain
  const instead = usedInstead(site, trouble)
  const used = without(stages, instead?.uses ?? [], trouble)
  if (areEnough(used, cases)) return byAttempt(site, trouble, used, 'instead', instead)
  const uncovered = usedUncovered(stages, found, trouble)
  if (areEnough(uncovered, cases)) return byAttempt(site, trouble, uncovered, 'instead')
  return byPage(site, trouble)
}

const areEnough = (controls: readonly Case[], cases: readonly Case[]) =>
  controls.length >= Math.max(LEAST_CONTROLS, LEAST_SHARE * cases.length)

/** An act that leads on nearly always when it works needs nobody beside it: whoever tried it would have been further. */
const LEADS_ON = 0.9

/** Where everybody meets the trouble before it works: what came of those for whom it worked in the end. */
function byItself(site: Site, trouble: Trouble): Priced | undefined {
  const { stages, found } = site
  const worked = triesAt(found, trouble.group, trouble.family)
  const share = mean(worked.map(({ view }) => stages.on[view]!))
  if (worked.length < LEAST_CONTROLS || share < LEADS_ON) return undefined
  const comparison = compare(stages, site.outlook, trouble.cases, thinned(worked), 'the same')
  const odds = logit(Math.min(0.99, share))
  const sure: Comparison = {
    ...comparison,
    odds: comparison.odds.map(() => odds),
    expected: comparison.expected.map(() => share),
    covariance: comparison.covariance.map(() => 0),
  }
  return priced(trouble, 'itself', sure, lossOf(sure, stages.on, { value: 0, sd: 0.3 }))
}

function without(stages: Stages, cases: readonly Case[], trouble: Trouble): Case[] {
  const exposed = sessionsOf(stages, trouble.cases)
  return cases.filter(({ view }) => !exposed.has(stages.sessionOf[view]!))
}

/**
 * Share of troubles that are believed to be no attempts before the data, and by how many log odds they who do such things carry on
 * otherwise than all viewers: some of what is pressed and fails; half of what is clicked in vain once, as while reading, by those
 * who are there to read; hardly any where it is clicked again, or where a form was filled in before.
 */
const NO_ATTEMPT = {
  attempt: { share: 0.1, apart: 0.05 },
  instead: { share: 0.5, apart: 0.35 },
  link: { share: 0.5, apart: 0.05 },
  sure: { share: 0.01, apart: 0.05 },
}

/**
 * Whether those who click in vain want something: many clicks are always meant, and so is what is followed at once by the use of
 * what would do it, far more than by others who were there at that moment.
 */
function isWanted(site: Site, trouble: Trouble, others: readonly Case[], instead?: Instead): boolean {
  if (!instead || trouble.cause !== 'dead click' || wasTriedAgain(trouble)) return true
  const { value, sd } = atOnceMore(site, instead, trouble.cases, others)
  return value > FAR_MORE && value > 2 * sd
}

/** Whether a good part of those who met it did the same again on the spot. */
const wasTriedAgain = ({ again, cases }: Pick<Trouble, 'again' | 'cases'>) =>
  again.filter(Boolean).length >= TRIED_AGAIN * cases.length

/** Those who tried the same, or what the exposed used instead, without trouble. */
function byAttempt(
  site: Site,
  trouble: Trouble,
  all: readonly Case[],
  design: 'attempt' | 'instead',
  instead?: Instead,
): Priced | undefined {
  const { stages, outlook } = site
  if (all.length < LEAST_CONTROLS) return undefined
  const controls = thinned(all)
  const comparison = compare(stages, outlook, trouble.cases, controls, 'the same')
  const bias = triersApart(site, trouble, comparison)
  const loss = lossOf(comparison, stages.on, bias)
  const page = againstPage(site, trouble)
  if (!page) return priced(trouble, design, comparison, loss)
  const typed = trouble.cases.filter(({ view, atMs }) => doneBefore(stages, view, atMs).filled).length
  const isSure =
    typed > trouble.cases.length / 2 ||
    (design === 'instead' && isWanted(site, trouble, page.controls, instead))
  const share = noAttempt(page.here, NO_ATTEMPT[isSure ? 'sure' : design])
  const other = lossOf(page, stages.on, otherPeople(page, site.stepsFrom(trouble.group)))
  const missing =
    isSure || design === 'attempt' ? comparison.missing : mixture(share, page.missing, comparison.missing)
  return priced(trouble, design, { ...comparison, missing }, mixture(share, other, loss))
}

/** By how much those who tried and failed are other people than those who tried and did not, in log odds. */
function triersApart(site: Site, trouble: Trouble, { before }: Comparison): Estimate {
  if (OF_FIELDS.has(trouble.cause)) return otherFields(site, trouble)
  return { value: 0, sd: trouble.cause === 'slow answer' ? befall(before) : 0.03 }
}

/** What is slow is slow for lines and devices, whose people differ as far as what shows. */
const befall = (before: number) => Math.min(MOST_WIDTH, 0.04 + 3 * before)

/** Other views of the page that were still open at that moment, of some sessions where that is asked. */
function againstPage(
  { stages, outlook, viewsOf }: Site,
  { group, family, cases }: Trouble,
  among?: (session: number) => boolean,
): Comparison | undefined {
  const firstMet = new Map(cases.map(({ view }) => [stages.sessionOf[view]!, view]))
  const views = (viewsOf.get(group) ?? []).filter((v) => {
    const session = stages.sessionOf[v]!
    // Before they met it they are like others: who never did is, of all who come again and again, who soon came no more.
    return (among?.(session) ?? true) && v < (firstMet.get(session) ?? Infinity)
  })
  const controls = stillOpen(stages, views, cases)
  return controls.length < LEAST_CONTROLS || !cases.length
    ? undefined
    : // What befalls a page befalls whoever comes: those who carried on in spite of it are more eager than those who gave up.
      compare(stages, outlook, cases, controls, family ? 'others' : 'the same', family ? views : undefined)
}

/** What befalls people before they do anything. */
const GIVEN: ReadonlySet<Cause> = new Set<Cause>([
  ...(['slow page', 'script error', 'failed request', 'not found', 'freeze'] as const),
])
/** What a site reports of a page befalls them too, where so many had not done anything before. */
const BEFORE_ANYTHING = 0.8

function befalls({ stages }: Site, { cause, family, cases }: Trouble): boolean {
  if (family !== 0) return false
  if (cause !== 'site signal') return GIVEN.has(cause)
  const idle = cases.filter(({ view, atMs }) => {
    const { acts, fields } = doneBefore(stages, view, atMs)
    return !acts && !fields
  })
  return idle.length >= BEFORE_ANYTHING * cases.length
}

/** What breaks in a browser does not break in these: fewer of their sessions met it than this share of the one that most met. */
const SPARED_SHARE = 0.3
const MOST_WIDTH = 0.3
/**
 * Log odds by which those whom something befell can be other people, whatever shows: what freezes does so on old machines; errors
 * of a page come of what some do there, what blocks them, and where they come from.
 */
const LEAST_APART: Partial<Record<Cause, number>> = { 'slow page': 0, freeze: 0.1, 'site signal': 0.1 }
/** So many for each of the exposed are enough to compare with in their own browsers. */
const OWN_BROWSERS = 0.25

/**
 * What befell some, beside others who were on the page at that moment. What breaks comes with browsers, and browsers with people:
 * those who have the same ones and were spared are compared, or where there are too few of them all others, as far as people
 * of these browsers are like others elsewhere.
 */
function byChance(site: Site, trouble: Trouble): Priced | undefined {
  const { stages, viewsOf } = site
  const { sessionOf, journeys } = stages
  const { browser } = journeys.sessions
  const group = viewsOf.get(trouble.group) ?? []
  const counts = (sessions: Iterable<number>) => {
    const of = new Map<number, number>()
    for (const s of sessions) of.set(browser[s]!, (of.get(browser[s]!) ?? 0) + 1)
    return of
  }
  const exposed = sessionsOf(stages, trouble.cases)
  const met = counts(exposed)
  const came = new Set(group.map((v) => sessionOf[v]!))
  const shares = new Map([...counts(came)].map(([code, n]) => [code, (met.get(code) ?? 0) / n]))
  const most = Math.max(...shares.values())
  const isHit = (s: number) =>
    trouble.cause === 'slow page' || shares.get(browser[s]!)! >= SPARED_SHARE * most
  const beside = [...came].filter((s) => isHit(s) && !exposed.has(s)).length
  // Errors that some of a browser meet and others do not come of what these do.
  const isOwn = trouble.cause in LEAST_APART && beside >= OWN_BROWSERS * exposed.size
  const comparison = againstPage(site, trouble, isOwn ? isHit : undefined)
  if (!comparison) return undefined
  const width = befall(comparison.before)
  const bias = { value: 0, sd: Math.hypot(width, LEAST_APART[trouble.cause] ?? MOST_WIDTH) }
  if (!isOwn) {
    const { controls } = comparison
    const spared = controls.filter(({ view }) => !isHit(sessionOf[view]!)).length / controls.length
    const apart = apartElsewhere(site, trouble.group, (s) => (shares.get(browser[s]!) && isHit(s) ? 1 : 0))
    bias.value = spared * apart.value
    bias.sd = Math.hypot(bias.sd, spared * apart.sd)
  }
  bias.sd = Math.min(MOST_WIDTH, bias.sd)
  // Waiting for a page takes its time: who leaves over that leaves later than at once.
  const { loss, missing } =
    trouble.cause === 'slow page'
      ? { loss: lossOf(comparison, stages.on, bias), missing: comparison.missing }
      : lossBeside(site, comparison, bias)
  const alike = lossOf(comparison, stages.on, { value: bias.value, sd: 0 })
  const shared = Math.sqrt(Math.max(0, loss.sd ** 2 - alike.sd ** 2))
  return { ...priced(trouble, 'page', { ...comparison, missing }, loss), shared }
}

function byPage(site: Site, trouble: Trouble): Priced | undefined {
  if (befalls(site, trouble)) return byChance(site, trouble)
  const met = beforeField(trouble)
  const all = againstPage(site, met)
  if (!all) return undefined
  const own = attemptsOf(site, met, all)
  const comparison = own === met ? all : againstPage(site, own)
  if (!comparison) return undefined
  const tried = IN_VAIN.has(trouble.cause) && wasTriedAgain(own)
  const people = otherPeople(comparison, site.stepsFrom(trouble.group), hidden(comparison, tried))
  const { loss, missing } = lossBeside(site, comparison, people)
  return priced(trouble, 'page', { ...comparison, missing }, loss)
}

/** Who is compared has not filled in the field: what was done by then is told without it. */
const beforeField = (trouble: Trouble): Trouble =>
  OF_FIELDS.has(trouble.cause)
    ? { ...trouble, cases: trouble.cases.map(({ view, atMs }) => ({ view, atMs: atMs - 0.5 })) }
    : trouble

/**
 * Of clicks in vain those that were attempts at something. Who wants something tries again, and who does is not kept by it;
 * where those who clicked once carry on far less than those who tried again, they had not come for more.
 */
function attemptsOf(site: Site, trouble: Trouble, comparison: Comparison): Trouble {
  if (trouble.cause !== 'dead click') return trouble
  const { on } = site.stages
  const [again, once] = [true, false].map((is) => {
    const places = trouble.cases.flatMap((_, i) => (trouble.again[i] === is ? [i] : []))
    return {
      cases: places.map((i) => trouble.cases[i]!),
      here: shift(
        places.map((i) => on[trouble.cases[i]!.view]!),
        places.map((i) => comparison.odds[i]!),
        5,
      ),
    }
  }) as [Half, Half]
  const apart = again.here.value - once.here.value
  if (apart <= Math.max(FAR_LESS, 2 * Math.hypot(again.here.sd, once.here.sd))) return trouble
  return { ...trouble, cases: again.cases, again: again.cases.map(() => true) }
}

interface Half {
  cases: Case[]
  here: Estimate
}

/** So many of those who take a link that is whole are further then. */
const ARRIVES = 0.95

/** A link that leads to the same from so many kinds of pages belongs to the frame of the site, and is no step of a way. */
const FRAME_GROUPS = 3
const FRAME_LEAST = 5

function isOfFrame({ stages, found, viewsOf }: Site, { cases, family }: Trouble): boolean {
  const { page } = stages.journeys.views
  const targets = new Set(cases.map(({ view }) => page[view + 1]!))
  const leadThere = ({ view }: Case) =>
    stages.sessionOf[view] === stages.sessionOf[view + 1] && targets.has(page[view + 1]!)
  let groups = 0
  for (const group of viewsOf.keys())
    if (triesAt(found, group, family).filter(leadThere).length >= FRAME_LEAST) groups++
  return groups >= FRAME_GROUPS
}

/** Less likely than this, a link is taken to be no step. */
const HARDLY_A_STEP = 0.1

/**
 * Chance that a link which leads nowhere was to lead on. Of pages from which most of those who go on go by something else it
 * leads aside, as terms and help do: people come back from these and go on here. Odds: those who take it over those who go on
 * without it, squared, so that equally many decide nothing and three times as many nearly all.
 */
function isStep({ stages, viewsOf }: Site, { group, cases }: Trouble): number {
  const exposed = sessionsOf(stages, cases)
  const others = new Set<number>()
  for (const v of viewsOf.get(group) ?? []) {
    const session = stages.sessionOf[v]!
    if (stages.on[v] && !exposed.has(session)) others.add(session)
  }
  return exposed.size ** 2 / (exposed.size ** 2 + others.size ** 2)
}

/** A link that led nowhere: without the trouble those who took it would have been further, unless it leads to nothing that matters. */
function byLink(site: Site, trouble: Trouble): Priced | undefined {
  const { stages, found } = site
  const whole = inTurn(stages, found, trouble, new Set())
  if (areEnough(whole, trouble.cases)) return byAttempt(site, trouble, whole, 'attempt')
  const step = isStep(site, trouble)
  if (step < HARDLY_A_STEP || isOfFrame(site, trouble)) return byPage(site, trouble)
  const page = againstPage(site, trouble)
  if (!page) return undefined
  const arrives: Comparison = {
    ...page,
    odds: page.odds.map(() => logit(ARRIVES)),
    covariance: page.covariance.map(() => 0),
  }
  const share = noAttempt(page.here, NO_ATTEMPT.link)
  const other = lossOf(page, stages.on, otherPeople(page, site.stepsFrom(trouble.group)))
  const loss = lossOf(arrives, stages.on, { value: 0, sd: 0.5 })
  // No link helps by leading nowhere.
  const aside = { ...other, value: Math.max(0, other.value) }
  const mixed = mixture(share, other, mixture(1 - step, aside, loss))
  const told = { ...arrives, expected: page.expected.map(() => ARRIVES) }
  // Those who did not take it convert far less: conversions tell nothing of those who did.
  return priced(trouble, 'link', { ...told, missing: { value: mixed.value, sd: Infinity } }, mixed)
}

/**
 * Who corrects one field much fails at others, too, and who leaves one empty may leave more: by how much those who did the
 * same with the other fields of the page carry on less. Never in favour of the field.
 */
function otherFields(site: Site, { cause, group, family }: Trouble): Estimate {
  const { stages, outlook, found } = site
  const heres: number[] = []
  for (const other of found.troubles.values()) {
    if (other.cause !== cause || other.group !== group || other.family === family) continue
    const controls = triersBeside(stages, found, other)
    if (other.cases.length < 20 || controls.length < LEAST_CONTROLS) continue
    heres.push(compare(stages, outlook, other.cases, thinned(controls, 4000), 'the same').here.value)
  }
  if (heres.length < 3) return { value: -0.1, sd: 0.3 }
  heres.sort((a, b) => a - b)
  return { value: Math.min(0, heres[heres.length >> 1]!), sd: 0.15 }
}

export function priced(
  trouble: Priced['trouble'] & Partial<Pick<Trouble, 'near' | 'cases' | 'again'>>,
  design: Design,
  { exposed, controls, expected, worth, missing, after, carriedOn }: Comparison,
  loss: Estimate,
): Priced {
  const { cause, group, family, name, to, near = 0, cases, again = [] } = trouble
  return {
    trouble: { cause, group, family, name, ...(to !== undefined && { to }) },
    ...{ design, exposed: exposed.length, controls: controls.length, loss, missing, after },
    views: new Set(exposed.map(({ view }) => view)),
    expected: mean(expected),
    carriedOn,
    near: cases !== undefined && near > NEAR * cases.length,
    tried: again.filter(Boolean).length >= TRIED_AGAIN * exposed.length,
    worth: mean(worth),
  }
}
