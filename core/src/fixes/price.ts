import type { Selection } from '../closeup/selection.ts'
import { momentOf, selectSessions } from '../closeup/selection.ts'
import type { Rate } from '../funnel/funnel.ts'
import { rate } from '../funnel/funnel.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { Interval } from '../stats/interval.ts'
import { newcombe } from '../stats/interval.ts'

export interface PriceSpec {
  /** what a session has to have met; its base are those who could have */
  selection: Selection
  /** page whose view is the conversion */
  goal: string
  names: Names
}

export interface PricePartial {
  met: number
  metConverted: number
  others: number
  othersConverted: number
}

export interface PriceResult {
  /** conversion of the sessions that met it */
  met: Rate
  /** conversion of those who saw the page and did not meet it */
  others: Rate
  /** others minus met, as shares; null where one of the two is empty */
  difference: number | null
  interval: Interval
  /** conversions that the sessions which met it would have made at the others' rate, less those they made */
  lost: number | null
  lostInterval: Interval
}

/**
 * What a problem goes along with: conversion of the sessions that met it beside that of the others who saw the same
 * page. A conversion counts only after the moment it was met (for the others: after their first view of the page).
 * A plain comparison: the two groups can differ in more than the problem.
 */
export const price: Analysis<PriceSpec, PricePartial, PriceResult> = {
  scan(block, sessions, { selection, goal, names }) {
    const met = selectSessions(block, sessions, selection, names)
    const page = 'page' in selection && selection.type !== 'funnel' ? selection.page : undefined
    const seen =
      page === undefined ? undefined : selectSessions(block, sessions, { type: 'page', page }, names)
    const converted = selectSessions(block, sessions, { type: 'page', page: goal }, names)
    const lastGoalMs = lastViews(block, converted.sessions, goal, names)
    const partial: PricePartial = { met: 0, metConverted: 0, others: 0, othersConverted: 0 }
    for (const s of met.base) {
      const isMet = met.sessions.has(s)
      const since = isMet ? momentOf(block, met, s) : seen && momentOf(block, seen, s)
      const won = converted.sessions.has(s) && !(lastGoalMs.get(s)! < (since ?? 0)) ? 1 : 0
      if (isMet) {
        partial.met++
        partial.metConverted += won
      } else {
        partial.others++
        partial.othersConverted += won
      }
    }
    return partial
  },

  merge: (a, b) => ({
    met: a.met + b.met,
    metConverted: a.metConverted + b.metConverted,
    others: a.others + b.others,
    othersConverted: a.othersConverted + b.othersConverted,
  }),

  finish({ met, metConverted, others, othersConverted }) {
    const { difference, interval } = newcombe(othersConverted, others, metConverted, met)
    return {
      met: rate(metConverted, met),
      others: rate(othersConverted, others),
      difference,
      interval,
      lost: difference === null ? null : difference * met,
      lostInterval: [interval[0] * met, interval[1] * met],
    }
  },
}

function lastViews(
  block: Parameters<typeof price.scan>[0],
  sessions: Iterable<number>,
  goal: string,
  names: Names,
): Map<number, number> {
  const group = names.groups.find(goal)
  const { page, atMs } = block.events
  const last = new Map<number, number>()
  for (const s of sessions)
    for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++)
      if (names.groups.groupOf[page[i]!] === group) last.set(s, atMs[i]!)
  return last
}
