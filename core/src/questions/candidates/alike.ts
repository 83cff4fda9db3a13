import { withoutPlaces } from '../../labels/element-families.ts'
import type { Journeys } from './journeys.ts'
import { DID } from './journeys.ts'

/** Elements that differ in nothing but their place among siblings, as one: as a kind, by a number above those of families. */
export interface Alike {
  kindOf(family: number): number
  /** the same where they never work on the page; else each stands for itself */
  of(group: number, family: number): number
  /** families, a kind left out */
  membersOf(family: number): ReadonlySet<number>
  nameOf(family: number): string
}

/** What goes wrong with things that work else. */
const FAILS = DID.error | DID.request | DID.freeze | DID.refused | DID.answeredLate
/** So many failed; on elements that have so much of all that is done there; no more than so much of it on one of them. */
const LEAST_FAILED = 20
const SPREAD = 0.8
const ON_ONE = 0.5

/**
 * Sorts families into elements that are alike; those of which one ever works on a page stay apart there. Where things go wrong
 * now with the one and now with the other of them, as with the times of a calendar, it is one trouble, and they are one thing:
 * their acts bear the number of the kind then.
 *
 * Complexity: acts.
 */
export function alikeOf(journeys: Journeys, names: readonly string[]): { alike: Alike; journeys: Journeys } {
  const { views, acts } = journeys
  const kinds = new Map<string, number[]>()
  names.forEach((name, family) => {
    const kind = withoutPlaces(name)
    const own = kinds.get(kind)
    if (own) own.push(family)
    else kinds.set(kind, [family])
  })
  const kindOf = new Uint32Array(names.length)
  const kindNames: string[] = []
  const members: ReadonlySet<number>[] = []
  for (const [name, own] of kinds) {
    for (const family of own) kindOf[family] = kindNames.length
    kindNames.push(name)
    members.push(new Set(own))
  }
  const works = new Set<number>()
  const place = (group: number, kind: number) => group * kindNames.length + kind
  /** by group and kind, where there are several of a kind: by member what was done, and what of it failed */
  const done = new Map<number, Map<number, { all: number; failed: number }>>()
  for (let v = 0, a = 0; v < views.group.length; v++)
    for (const end = a + views.acts[v]!; a < end; a++) {
      const [did, family] = [acts.did[a]!, acts.family[a]!]
      const kind = kindOf[family]!
      const at = place(views.group[v]!, kind)
      if (did & DID.worked) works.add(at)
      const failed = (did & FAILS) > 0 && !(did & DID.ofPage)
      if (!family || members[kind]!.size === 1 || !(failed || did & DID.worked)) continue
      const own = done.get(at) ?? new Map<number, { all: number; failed: number }>()
      done.set(at, own)
      const counts = own.get(family) ?? { all: 0, failed: 0 }
      own.set(family, counts)
      counts.all++
      if (failed) counts.failed++
    }
  const numberOf = (family: number) => {
    const kind = kindOf[family]
    return !family || kind === undefined || members[kind]!.size === 1 ? family : names.length + kind
  }
  const failing = new Set([...done].filter(([, own]) => isSpread([...own.values()])).map(([at]) => at))
  return {
    alike: {
      kindOf: numberOf,
      of: (group, family) =>
        family && works.has(place(group, kindOf[family] ?? 0)) ? family : numberOf(family),
      membersOf: (family) => (family < names.length ? new Set([family]) : members[family - names.length]!),
      nameOf: (family) => names[family] ?? kindNames[family - names.length]!,
    },
    journeys: failing.size
      ? withKinds(journeys, (group, family) =>
          failing.has(place(group, kindOf[family]!)) ? numberOf(family) : family,
        )
      : journeys,
  }
}

/** Whether things go wrong with most of some elements, rather than with one of them. */
function isSpread(elements: readonly { all: number; failed: number }[]): boolean {
  const sum = (of: (element: { all: number; failed: number }) => number) =>
    elements.reduce((total, element) => total + of(element), 0)
  const failed = sum((element) => element.failed)
  return (
    failed >= LEAST_FAILED &&
    elements.every((element) => element.failed <= ON_ONE * failed) &&
    sum(({ all, failed: some }) => (some ? all : 0)) >= SPREAD * sum(({ all }) => all)
  )
}

function withKinds(journeys: Journeys, numberOf: (group: number, family: number) => number): Journeys {
  const { views, acts } = journeys
  const family = acts.family.slice()
  for (let v = 0, a = 0; v < views.group.length; v++)
    for (const end = a + views.acts[v]!; a < end; a++) family[a] = numberOf(views.group[v]!, family[a]!)
  return { ...journeys, acts: { ...acts, family } }
}
