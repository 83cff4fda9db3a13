import type { Alike } from './alike.ts'
import type { Trouble } from './cases.ts'
import type { Site } from './site.ts'
import type { Stages } from './stages.ts'
import { DID, STATE } from './journeys.ts'

/** So many of those who take the way come back to the page they came from. */
const COMES_BACK = 0.3
/** So many pages lie between on the way back of who was sent away. */
const MOST_BETWEEN = 4
/** A click leads on within this, or something else did. */
const LEADS_MS = 10_000

/**
 * Ways that are gone to and fro: links from a page to another one of which a good part come back to the first, which is how
 * pages are compared that do not stand side by side; and pages to which visitors are sent without a click, as to log in
 * anew. Met when the way is first taken; the links of a list are one. Who comes back from a page that is not there compares
 * nothing.
 */
export function shuttlesOf({ stages }: Site, alike: Alike): Trouble[] {
  const { journeys, firstView } = stages
  const { sessions, views, acts } = journeys
  const linksTell = doLinksTell(stages)
  const found = new Map<string, Trouble & { back: number }>()
  for (let s = 0; s < sessions.id.length; s++) {
    const met = new Set<string>()
    for (let v = firstView[s]!; v + 1 < firstView[s + 1]!; v++) {
      if (views.page[v] === views.page[v + 1] || views.state[v + 1]! & STATE.notFound) continue
      const link = linkTo(stages, v + 1)
      // Back to the page before is the way of who looks around, unless it is told that the page was loaded anew.
      const isBack = v > firstView[s]! && views.page[v - 1] === views.page[v + 1]
      if (link < 0 && isBack && !(linksTell && views.state[v + 1]! & STATE.navigated)) continue
      const [a, b] = [views.group[v]!, views.group[v + 1]!]
      // Who was sent away may have to go the whole way once more.
      const until = Math.min(firstView[s + 1]!, v + 3 + (link < 0 ? MOST_BETWEEN : 0))
      let back = false
      for (let next = v + 2; next < until; next++) if (views.page[next] === views.page[v]) back = true
      const family = link < 0 ? 0 : alike.kindOf(acts.family[link]!)
      const key = `${a} ${b} ${family}`
      if (met.has(key)) continue
      met.add(key)
      let own = found.get(key)
      if (!own)
        found.set(
          key,
          (own = {
            ...{ cause: 'shuttle', group: a, family, name: 0, cases: [], back: 0 },
            ...{ again: [], near: 0, ...(link < 0 && { to: b }) },
            members: new Set([...alike.membersOf(family), family]),
          }),
        )
      own.cases.push({ view: v, atMs: link < 0 ? views.atMs[v + 1]! : acts.atMs[link]! })
      if (back) own.back++
    }
  }
  return [...found.values()].filter(({ cases, back }) => back >= COMES_BACK * cases.length)
}

/** Whether most pages that are loaded anew follow a click: where clicks are not told, links look as if nobody had asked for them. */
function doLinksTell(stages: Stages): boolean {
  const { journeys, firstView } = stages
  let [all, byLink] = [0, 0]
  for (let s = 0; s < journeys.sessions.id.length; s++)
    for (let v = firstView[s]! + 1; v < firstView[s + 1]!; v++) {
      if (!(journeys.views.state[v]! & STATE.navigated)) continue
      all++
      if (linkTo(stages, v) >= 0) byLink++
    }
  return byLink > all / 2
}

/** The click that led to a view: the last act on the one before, where it worked and was shortly before; -1 where none did. */
function linkTo({ journeys: { views, acts }, firstAct }: Stages, view: number): number {
  const last = firstAct[view]! - 1
  if (last < firstAct[view - 1]! || !(acts.did[last]! & DID.worked)) return -1
  return views.atMs[view]! - acts.atMs[last]! <= LEADS_MS ? last : -1
}
