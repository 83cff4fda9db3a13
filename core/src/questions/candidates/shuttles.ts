import type { Trouble } from './cases.ts'
import type { Site } from './designs.ts'
import { DID } from './journeys.ts'

/** So many of those who take the way come back to the page they came from. */
const COMES_BACK = 0.3

/**
 * Links that are taken to and fro: those from a page to another one of which a good part come back to the first, which is
 * how pages are compared that do not stand side by side. Met when the link is first taken.
 */
export function shuttlesOf({ stages }: Site): Trouble[] {
  const { journeys, firstView, firstAct } = stages
  const { sessions, views, acts } = journeys
  const found = new Map<string, Trouble & { back: number }>()
  for (let s = 0; s < sessions.id.length; s++) {
    const met = new Set<string>()
    for (let v = firstView[s]!; v + 1 < firstView[s + 1]!; v++) {
      const [a, b] = [views.group[v]!, views.group[v + 1]!]
      const link = firstAct[v + 1]! - 1
      if (link < firstAct[v]! || !(acts.did[link]! & DID.worked)) continue
      if (views.page[v] === views.page[v + 1]) continue
      const third = v + 2 < firstView[s + 1]! ? v + 2 : -1
      const back = third >= 0 && views.page[third] === views.page[v]
      const key = `${a} ${b} ${acts.family[link]!}`
      if (met.has(key)) continue
      met.add(key)
      let own = found.get(key)
      if (!own)
        found.set(
          key,
          (own = {
            ...{ cause: 'shuttle', group: a, family: acts.family[link]!, name: 0, cases: [], back: 0 },
            ...{ again: [], near: 0 },
            members: new Set([acts.family[link]!]),
          }),
        )
      own.cases.push({ view: v, atMs: acts.atMs[link]! })
      if (back) own.back++
    }
  }
  return [...found.values()].filter(({ cases, back }) => back >= COMES_BACK * cases.length)
}
