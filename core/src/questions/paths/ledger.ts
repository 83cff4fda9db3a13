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
  const all: Counted[] = []
  const ids = new Map<string, number>()
  const numbered = (place: Place): Numbered => {
    const text = placeText(place)
    let id = ids.get(text)
    if (id === undefined) ids.set(text, (id = ids.size + 1))
    return { place, text, id }
  }
  /** by step, kind, place and where a link comes from: small keys, that are found fastest */
  const counted: Record<LedgerRow['of'], Map<number, Map<number, Counted>>>[] = []
  const count = (isAfter: boolean, { steps }: PathStepsAnswer) => {
    /** of the step before, by their place there */
    let above: Numbered[] = []
    steps.forEach(({ places, links }, step) => {
      const kinds = (counted[step] ??= { place: new Map(), link: new Map(), end: new Map() })
      const add = (of: LedgerRow['of'], at: Numbered, sessions: number, from?: Numbered | null) => {
        let rows = kinds[of].get(at.id)
        if (!rows) kinds[of].set(at.id, (rows = new Map<number, Counted>()))
        const { place, text } = at
        let own = rows.get(from?.id ?? 0)
        if (!own) {
          own = { step, of, from: from && from.place, place, text, after: 0, before: 0 }
          rows.set(from?.id ?? 0, own)
          all.push(own)
        }
        if (isAfter) own.after += sessions
        else own.before += sessions
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
  count(true, after)
  count(false, before)
  const ps = benjaminiHochberg(
    all.map((one) => twoProportions(one.after, after.sessions, one.before, before.sessions)),
  )
  const [ofAfter, ofBefore] = [rates(after.sessions), rates(before.sessions)]
  const rows = all.map((one, k): LedgerRow => {
    const [now, then] = [ofAfter(one.after), ofBefore(one.before)]
    const { difference: apart, interval } = difference(now, then)
    const p = ps[k]!
    // Field by field: there are tens of thousands of rows, and spread objects take ten times as long.
    return {
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
  })
  const apart = Float64Array.from(rows, (row) => Math.abs(row.difference ?? 0))
  return Array.from(rows.keys())
    .sort(
      (a, b) =>
        all[a]!.step - all[b]!.step || apart[b]! - apart[a]! || (all[a]!.text < all[b]!.text ? -1 : 1),
    )
    .map((k) => rows[k]!)
}

/** Makes rates of one base: most rows have as few hits as many others. */
function rates(base: number): (hits: number) => Rate {
  const made = new Map<number, Rate>()
  return (hits) => {
    let own = made.get(hits)
    if (!own) made.set(hits, (own = rate(hits, base)))
    return own
  }
}

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
