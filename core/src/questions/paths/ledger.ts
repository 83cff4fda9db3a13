import type { Place } from '../../select/grammar/walk.ts'
import { placeText } from '../../select/grammar/walk.ts'
import type { Rate } from '../../stats/rate.ts'
import { difference, rate } from '../../stats/rate.ts'
import { benjaminiHochberg, twoProportions } from '../../stats/significance.ts'
import type { PathStepsAnswer } from './path-steps.ts'

/** How one row of a step came to be what it is. */
export type LedgerChange = 'appeared' | 'vanished' | 'rose' | 'fell' | 'same'

/** Something in one step of the paths of two sets: a place, a link, or that paths ended there. */
export interface LedgerRow {
  /** counted from 0 */
  step: number
  of: 'place' | 'link' | 'end'
  /** of a link where it comes from; null: the moment itself */
  from?: Place | null | undefined
  place: Place
  /** of all who entered, of either set */
  after: Rate
  before: Rate
  /** after minus before, as shares of those who entered, with its 95 % interval (Newcombe) */
  difference: number | null
  interval: [number, number]
  /** (after − before) / before; null where it was not there before */
  relative: number | null
  /** that both shares are the same (two-sided), corrected for all rows (Benjamini and Hochberg) */
  p: number | null
  change: LedgerChange
  /** that it is more than chance: p is below 5 % */
  sure: boolean
}

/**
 * What differs, step by step, between the paths of two sets: a row for each place, each link and each end, with the shares of
 * those who entered. Nothing is left out that is in either.
 */
export function ledgerOf(after: PathStepsAnswer, before: PathStepsAnswer): LedgerRow[] {
  const rows = new Map<
    string,
    { row: Pick<LedgerRow, 'step' | 'of' | 'from' | 'place'>; after: number; before: number }
  >()
  const count = (side: 'after' | 'before', { steps }: PathStepsAnswer) => {
    steps.forEach(({ places, links }, step) => {
      const add = (of: LedgerRow['of'], place: Place, sessions: number, from?: Place | null) => {
        const key = [
          step,
          of,
          placeText(place),
          from === undefined ? '' : from ? placeText(from) : 'moment',
        ].join('\n')
        let own = rows.get(key)
        if (!own)
          rows.set(
            key,
            (own = { row: { step, of, place, ...(from !== undefined && { from }) }, after: 0, before: 0 }),
          )
        own[side] += sessions
      }
      const beforeIt = step > 0 ? steps[step - 1]!.places : []
      for (const { sessions, ended, ...place } of places) {
        add('place', place, sessions)
        if (ended) add('end', place, ended)
      }
      for (const { from, to, sessions } of links) {
        const source = from === null ? null : beforeIt[from]!
        add('link', placeOf(places[to]!), sessions, source && placeOf(source))
      }
    })
  }
  count('after', after)
  count('before', before)
  const all = [...rows.values()]
  const ps = benjaminiHochberg(
    all.map((one) => twoProportions(one.after, after.sessions, one.before, before.sessions)),
  )
  return all
    .map(({ row, ...counts }, k): LedgerRow => {
      const [now, then] = [rate(counts.after, after.sessions), rate(counts.before, before.sessions)]
      const apart = difference(now, then)
      return {
        ...row,
        ...{ after: now, before: then, ...apart },
        relative: then.share && now.share !== null ? now.share / then.share - 1 : null,
        p: ps[k]!,
        change: changeOf(counts, apart.difference),
        sure: ps[k] !== null && ps[k]! < 0.05,
      }
    })
    .sort(
      (a, b) =>
        a.step - b.step ||
        Math.abs(b.difference ?? 0) - Math.abs(a.difference ?? 0) ||
        (placeText(a.place) < placeText(b.place) ? -1 : 1),
    )
}

function changeOf(
  { after, before }: { after: number; before: number },
  difference: number | null,
): LedgerChange {
  if (!before && after) return 'appeared'
  if (!after && before) return 'vanished'
  return !difference ? 'same' : difference > 0 ? 'rose' : 'fell'
}

function placeOf({
  sessions: _,
  ended: __,
  ...place
}: PathStepsAnswer['steps'][number]['places'][number]): Place {
  return place
}
