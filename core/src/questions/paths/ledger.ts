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
  const counted = new Map<number, Counted>()
  const ids = new Map<string, number>()
  const numbered = (place: Place): Numbered => {
    const text = placeText(place)
    let id = ids.get(text)
    if (id === undefined) ids.set(text, (id = ids.size + 1))
    return { place, text, id }
  }
  const count = (side: 'after' | 'before', { steps }: PathStepsAnswer) => {
    /** of the step before, by their place there */
    let above: Numbered[] = []
    steps.forEach(({ places, links }, step) => {
      const add = (
        of: LedgerRow['of'],
        { place, text, id }: Numbered,
        sessions: number,
        from?: Numbered | null,
      ) => {
        const key =
          ((step * KINDS.length + KINDS.indexOf(of)) * MOST_PLACES + id) * MOST_PLACES + (from?.id ?? 0)
        const own = counted.get(key)
        if (own) own[side] += sessions
        else
          counted.set(key, {
            step,
            of,
            from: from && from.place,
            place,
            text,
            after: 0,
            before: 0,
            [side]: sessions,
          })
      }
      const here = places.map(({ sessions: _, ended: __, ...place }) => numbered(place))
      places.forEach(({ sessions, ended }, k) => {
        add('place', here[k]!, sessions)
        if (ended) add('end', here[k]!, ended)
      })
      for (const { from, to, sessions } of links)
        add('link', here[to]!, sessions, from === null ? null : above[from]!)
      above = here
    })
  }
  count('after', after)
  count('before', before)
  const all = [...counted.values()]
  const ps = benjaminiHochberg(
    all.map((one) => twoProportions(one.after, after.sessions, one.before, before.sessions)),
  )
  const rows = all.map((one, k): { row: LedgerRow; text: string } => {
    const [now, then] = [rate(one.after, after.sessions), rate(one.before, before.sessions)]
    const { difference: apart, interval } = difference(now, then)
    const p = ps[k]!
    // Field by field: there are tens of thousands of rows, and spread objects take ten times as long.
    const row: LedgerRow = {
      step: one.step,
      of: one.of,
      from: one.from,
      place: one.place,
      after: now,
      before: then,
      difference: apart,
      interval,
      relative: then.share && now.share !== null ? now.share / then.share - 1 : null,
      p,
      change: changeOf(one, apart),
      sure: p !== null && p < 0.05,
    }
    return { row, text: one.text }
  })
  return rows
    .sort(
      (a, b) =>
        a.row.step - b.row.step ||
        Math.abs(b.row.difference ?? 0) - Math.abs(a.row.difference ?? 0) ||
        (a.text < b.text ? -1 : 1),
    )
    .map(({ row }) => row)
}

const KINDS = ['place', 'link', 'end'] as const
/** Of all steps together: with the kind and the step a key is a whole number below 2⁵³. */
const MOST_PLACES = 2 ** 22

interface Numbered {
  place: Place
  text: string
  /** from 1; the same for places of the same text */
  id: number
}

/** A row with how many sessions of each set there are. */
interface Counted extends Pick<LedgerRow, 'step' | 'of' | 'from' | 'place'> {
  /** of the place */
  text: string
  after: number
  before: number
}

function changeOf(
  { after, before }: { after: number; before: number },
  difference: number | null,
): LedgerChange {
  if (!before && after) return 'appeared'
  if (!after && before) return 'vanished'
  return !difference ? 'same' : difference > 0 ? 'rose' : 'fell'
}
