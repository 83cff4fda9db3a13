import { DID } from './journeys.ts'
import type { Stages } from './stages.ts'

/** A call to action of a page, and which of its views tell whether it was seen. */
export interface Action {
  family: number
  tells: (view: number) => boolean
}

/** Where so many of the views that show it show something else as well, a view that shows nothing at all tells nothing. */
const OTHERS_SHOWN = 0.9

/**
 * Which views of a page tell whether something was seen: those that tell of anything seen. Where a sender tells of hardly
 * anything else there, silence says that it was not seen, from the first to the last session that told of it.
 */
export function tellsOf(
  { journeys: { acts, sessions }, firstAct, sessionOf }: Stages,
  of: readonly number[],
  family: number,
): (view: number) => boolean {
  const seesAny = (v: number, is: (family: number) => boolean) => {
    for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++)
      if (acts.did[a]! & DID.seen && is(acts.family[a]!)) return true
    return false
  }
  const startMs = (v: number) => sessions.startMs[sessionOf[v]!]!
  let [shown, others, fromMs, toMs] = [0, 0, Infinity, -Infinity]
  for (const v of of) {
    if (!seesAny(v, (one) => one === family)) continue
    shown++
    if (seesAny(v, (one) => one !== family)) others++
    fromMs = Math.min(fromMs, startMs(v))
    toMs = Math.max(toMs, startMs(v))
  }
  if (others >= OTHERS_SHOWN * shown) return (v) => seesAny(v, () => true)
  return (v) => startMs(v) >= fromMs && startMs(v) <= toMs
}

/** Share of the views that tell what they see in which it came into view, within some time, not on the way to a click on it. */
export function shareShown(
  { journeys: { acts, views }, firstAct }: Stages,
  of: readonly number[],
  { family, tells }: Action,
  withinMs = Infinity,
): number {
  let [tell, shown] = [0, 0]
  for (const v of of) {
    if (!tells(v)) continue
    tell++
    for (let a = firstAct[v]!; a < firstAct[v + 1]!; a++) {
      const isIt = acts.family[a] === family && acts.did[a]! & DID.seen && !(acts.did[a]! & DID.onTheWay)
      if (!isIt || acts.atMs[a]! - views.atMs[v]! > withinMs) continue
      shown++
      break
    }
  }
  return tell ? shown / tell : NaN
}
