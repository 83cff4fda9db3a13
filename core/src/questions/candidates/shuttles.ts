import type { Alike, Trouble } from './cases.ts'
import type { Site } from './designs.ts'
import { DID, STATE } from './journeys.ts'

/** So many of those who take the way come back to the page they came from. */
const COMES_BACK = 0.3

/**
 * Links that are taken to and fro: those from a page to another one of which a good part come back to the first, which is
 * how pages are compared that do not stand side by side. Met when the link is first taken; the links of a list are one. Who
 * comes back from a page that is not there compares nothing.
 */
export function shuttlesOf({ stages }: Site, alike: Alike): Trouble[] {
  const { journeys, firstView, firstAct } = stages
  const { sessions, views, acts } = journeys
  const found = new Map<string, Trouble & { back: number }>()
  for (let s = 0; s < sessions.id.length; s++) {
    const met = new Set<string>()
    for (let v = firstView[s]!; v + 1 < firstView[s + 1]!; v++) {
      const [a, b] = [views.group[v]!, views.group[v + 1]!]
      const link = firstAct[v + 1]! - 1
      if (link < firstAct[v]! || !(acts.did[link]! & DID.worked)) continue
      if (views.page[v] === views.page[v + 1] || views.state[v + 1]! & STATE.notFound) continue
      const third = v + 2 < firstView[s + 1]! ? v + 2 : -1
      const back = third >= 0 && views.page[third] === views.page[v]
      const family = alike.kindOf(acts.family[link]!)
      const key = `${a} ${b} ${family}`
      if (met.has(key)) continue
      met.add(key)
      let own = found.get(key)
      if (!own)
        found.set(
          key,
          (own = {
            ...{ cause: 'shuttle', group: a, family, name: 0, cases: [], back: 0 },
            ...{ again: [], near: 0 },
            members: alike.membersOf(family),
          }),
        )
      own.cases.push({ view: v, atMs: acts.atMs[link]! })
      if (back) own.back++
    }
  }
  return [...found.values()].filter(({ cases, back }) => back >= COMES_BACK * cases.length)
}
