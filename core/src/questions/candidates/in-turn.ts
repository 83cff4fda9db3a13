import { lowerBound } from '../../stats/lower-bound.ts'
import type { Found, Trouble } from './cases.ts'
import { triesAt } from './cases.ts'
import type { Case } from './episodes.ts'
import { MOST_CONTROLS } from './compare.ts'
import { placeKey } from './episodes.ts'
import type { Stages } from './stages.ts'

/** More tries than this in one session are as this many. */
const MOST_TURNS = 8
/** No session stands for more than so many. */
const MOST_WEIGHT = 10
/** Where so many meet it when they try first, all is told by the first tries. */
const AT_FIRST = 0.98

/**
 * Who tried something and never met a trouble, each at one of their tries, view by view: the first, second … as often as it was met at the
 * first, second … Who tries again and again meets in the end what befalls now and then, unless they were soon further: of those
 * who never met it too many were. So each stands for as many as tried as often and met it by then.
 *
 * @param skip  sessions that are left out
 * @see Robins, Finkelstein (2000), Biometrics 56:779 (weighting for censoring that depends on what happened; from memory)
 */
export function inTurn(
  { sessionOf }: Stages,
  found: Found,
  { group, family, cases }: Trouble,
  skip: ReadonlySet<number>,
): readonly Case[] {
  const first = triesAt(found, group, family)
  const tries = new Map(first.map((one) => [sessionOf[one.view]!, [one]]))
  for (const one of found.later.get(placeKey(group, family)) ?? []) tries.get(sessionOf[one.view]!)?.push(one)
  const metAt = new Map(
    cases.map((met) => {
      const session = sessionOf[met.view]!
      return [session, tries.get(session)?.filter((one) => one.view < met.view).length ?? 0]
    }),
  )
  const never = [...tries].filter(([session]) => !metAt.has(session) && !skip.has(session))
  const turns = new Float64Array(MOST_TURNS)
  for (const turn of metAt.values()) turns[Math.min(MOST_TURNS - 1, turn)]!++
  if (turns[0]! >= AT_FIRST * metAt.size) return never.map(([, own]) => own[0]!)
  const spared = sparedBy(turns, [
    ...never.map(([, own]) => own.length),
    ...[...metAt.values()].map((turn) => turn + 1),
  ])
  const weightAt = (own: readonly Case[], turn: number) =>
    Math.min(MOST_WEIGHT, spared[turn]! / spared[Math.min(MOST_TURNS, own.length) - 1]!)
  const controls: Case[] = []
  turns.forEach((count, turn) => {
    const there = never.filter(([, own]) => own.length > turn)
    const upTo = new Float64Array(there.length + 1)
    there.forEach(([, own], i) => (upTo[i + 1] = upTo[i]! + weightAt(own, turn)))
    const all = upTo[there.length]!
    const most = Math.round((Math.min(never.length, MOST_CONTROLS) * count) / metAt.size)
    for (let k = 0; all && k < most; k++) {
      const drawn = lowerBound(upTo, ((k + 0.5) / most) * all) - 1
      controls.push(there[Math.max(0, drawn)]![1][turn]!)
    }
  })
  return controls
}

/**
 * Share of those who try again and again that have not met it by a turn (Kaplan and Meier 1958).
 *
 * @param turns  how many met it at each turn
 * @param tried  by session how often it tried, up to where it met it
 */
function sparedBy(turns: Float64Array, tried: readonly number[]): Float64Array {
  const atRisk = new Float64Array(MOST_TURNS)
  for (const times of tried) for (let k = 0; k < Math.min(MOST_TURNS, times); k++) atRisk[k]!++
  let share = 1
  return turns.map((met, k) => (share *= 1 - met / Math.max(1, atRisk[k]!, met + 1)))
}
