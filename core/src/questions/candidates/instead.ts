import { withoutPlaces } from '../../labels/element-families.ts'
import type { Trouble } from './cases.ts'
import { triesAt } from './cases.ts'
import type { Case } from './episodes.ts'
import { OF_FIELDS } from './controls.ts'
import type { Estimate } from './estimate.ts'
import { DID } from './journeys.ts'
import type { Site } from './site.ts'

const SOON_MS = 8000
const ENTRY = /^(?:li|tr|article|dt|dd|option)\b/

/** What is used instead of something that never works. */
export interface Instead {
  families: ReadonlySet<number>
  /** the first of each session, in order */
  uses: readonly Case[]
}

/**
 * Who used what those who met a trouble use instead, at once: what they wanted. It must be the next thing that works for at
 * least half of those who do anything more on the view, and stand in the same entry of a list, or within. That may be
 * elements alike, such as the seats of a row; then an entry is whatever stands there several times with both in it.
 *
 * @returns undefined where there is nothing such
 */
export function usedInstead(site: Site, { group, family, cases, members }: Trouble): Instead | undefined {
  const { stages, nameOf, membersOf, kindOf } = site
  const { journeys, firstAct } = stages
  const { acts } = journeys
  const next: number[] = []
  let all = 0
  for (const { view, atMs } of cases)
    for (let a = firstAct[view]!; a < firstAct[view + 1]!; a++) {
      if (acts.atMs[a]! <= atMs || members.has(acts.family[a]!) || !(acts.did[a]! & DID.worked)) continue
      all++
      if (acts.atMs[a]! - atMs <= SOON_MS) next.push(acts.family[a]!)
      break
    }
  const one = usual(next, all)
  if (one > 0 && isNear(nameOf(family), nameOf(one)))
    return { families: new Set([one]), uses: usesOf(site, group, new Set([one])) }
  const kind = usual(next.map(kindOf), all)
  if (kind <= 0) return undefined
  const families = new Set([...membersOf(kind), kind])
  const names = (list: ReadonlySet<number>) => [...list].map(nameOf)
  if (!haveEntriesInCommon(names(membersOf(family)), names(membersOf(kind)))) return undefined
  return { families, uses: usesOf(site, group, families) }
}

/** The first use of each session, whether it worked or failed: what fails there would have befallen the others as well. */
function usesOf({ stages, found }: Site, group: number, families: ReadonlySet<number>): Case[] {
  const uses = [...families].flatMap((member) => triesAt(found, group, member))
  for (const { cause, group: at, members, cases } of found.troubles.values())
    if (at === group && !OF_FIELDS.has(cause) && [...members].some((member) => families.has(member)))
      uses.push(...cases)
  uses.sort((a, b) => a.view - b.view || a.atMs - b.atMs)
  const sessions = uses.map(({ view }) => stages.sessionOf[view]!)
  return uses.filter((_, i) => sessions[i] !== sessions[i - 1])
}

/**
 * Log odds by which those who met a trouble use something at once more than others who were there at that moment: who is only
 * reading does so no more than these.
 */
export function atOnceMore(
  { stages: { journeys, firstAct } }: Site,
  { families }: Instead,
  cases: readonly Case[],
  others: readonly Case[],
): Estimate {
  const { acts } = journeys
  const isUsed = ({ view, atMs }: Case) => {
    for (let a = firstAct[view]!; a < firstAct[view + 1]! && acts.atMs[a]! <= atMs + SOON_MS; a++)
      if (acts.atMs[a]! > atMs && families.has(acts.family[a]!) && acts.did[a]! & DID.worked) return true
    return false
  }
  let [value, variance] = [0, 0]
  for (const [list, sign] of [[cases, 1] as const, [others, -1] as const]) {
    const used = list.filter(isUsed).length + 0.5
    const not = list.length + 1 - used
    value += sign * Math.log(used / not)
    variance += 1 / used + 1 / not
  }
  return { value, sd: Math.sqrt(variance) }
}

/** What at least half are of so many; -1 where nothing is. */
function usual(list: readonly number[], all: number): number {
  const counts = new Map<number, number>()
  for (const one of list) counts.set(one, (counts.get(one) ?? 0) + 1)
  for (const [one, count] of counts) if (count >= all / 2) return one
  return -1
}

const partsOf = (name: string) => name.split(' > ')

function inCommon(one: readonly string[], two: readonly string[]): number {
  let common = 0
  while (common < Math.min(one.length, two.length) && one[common] === two[common]) common++
  return common
}

function isNear(a: string, b: string): boolean {
  const [one, two] = [partsOf(a), partsOf(b)]
  const common = inCommon(one, two)
  return common === Math.min(one.length, two.length) || one.slice(0, common).some((part) => ENTRY.test(part))
}

/** Whether elements of two kinds stand together in more than one box of a kind: these are entries, whatever they are made of. */
function haveEntriesInCommon(one: readonly string[], two: readonly string[]): boolean {
  const common = inCommon(partsOf(withoutPlaces(one[0]!)), partsOf(withoutPlaces(two[0]!)))
  const boxes = (names: readonly string[]) =>
    new Set(names.map((name) => partsOf(name).slice(0, common).join(' > ')))
  const own = boxes(one)
  return [...boxes(two)].filter((box) => own.has(box)).length > 1
}
