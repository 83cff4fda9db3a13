import { withoutPlaces } from '../../labels/element-families.ts'
import type { Trouble } from './cases.ts'
import { triesAt } from './cases.ts'
import type { Case } from './episodes.ts'
import { DID } from './journeys.ts'
import type { Site } from './site.ts'

const SOON_MS = 8000
const ENTRY = /^(?:li|tr|article|dt|dd|option)\b/

/**
 * Who used what those who met a trouble use instead, at once: what they wanted. It must be the next thing that works for at
 * least half of those who do anything more on the view, and stand in the same entry of a list, or within. That may be
 * elements alike, such as the seats of a row; then an entry is whatever stands there several times with both in it.
 *
 * @returns the first such use of each session in order, none where there is nothing such
 */
export function usedInstead(site: Site, { group, family, cases, members }: Trouble): readonly Case[] {
  const { stages, found, nameOf, membersOf, kindOf } = site
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
  if (one > 0 && isNear(nameOf(family), nameOf(one))) return triesAt(found, group, one)
  const kind = usual(next.map(kindOf), all)
  if (kind <= 0) return []
  const alike = [...membersOf(kind)]
  const names = (families: Iterable<number>) => [...families].map(nameOf)
  return haveEntriesInCommon(names(members), names(alike))
    ? firstOfSessions(
        site,
        alike.flatMap((member) => triesAt(found, group, member)),
      )
    : []
}

/** What at least half are of so many; -1 where nothing is. */
function usual(list: readonly number[], all: number): number {
  const counts = new Map<number, number>()
  for (const one of list) counts.set(one, (counts.get(one) ?? 0) + 1)
  for (const [one, count] of counts) if (count >= all / 2) return one
  return -1
}

function firstOfSessions({ stages: { sessionOf } }: Site, cases: readonly Case[]): Case[] {
  const sorted = [...cases].sort((a, b) => a.view - b.view || a.atMs - b.atMs)
  return sorted.filter(({ view }, i) => i === 0 || sessionOf[sorted[i - 1]!.view] !== sessionOf[view])
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
