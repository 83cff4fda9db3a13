import { logistic } from '../../stats/logistic.ts'
import { shift } from './compare.ts'
import type { Estimate } from './estimate.ts'
import type { Site } from './site.ts'

/** Of a page that fewer views of either kind tell about than this knows, nothing is known: deviation in log odds. */
const MOST_SD = 0.3
/** Pages of a site lie at least so far apart, log odds. */
const LEAST_SPREAD = 0.05
/** Before other pages tell. */
const UNKNOWN: Estimate = { value: 0, sd: 0.3 }

/**
 * By how much two kinds of sessions differ in carrying on where nothing is known to befall either: on the other pages of the site,
 * in views before they came to the page in question, beyond what their outlooks say. Who comes to that page has carried on:
 * what becomes of people there may be owed to it. What it is on any one page, with what pages differ: random effects.
 *
 * @param kindOf  of a session: 1 the one kind, 0 the other, undefined neither
 * @returns log odds, the first kind against the second
 * @see DerSimonian, Laird (1986), Control. Clin. Trials 7:177 (from memory)
 */
export function apartElsewhere(
  { stages, outlook }: Site,
  group: number,
  kindOf: (session: number) => 0 | 1 | undefined,
): Estimate {
  const { journeys, firstView, on } = stages
  const { sessions, views } = journeys
  const pages = new Map<number, { odds: number[]; on: number[]; kinds: number[] }>()
  for (let s = 0; s < sessions.id.length; s++) {
    const kind = kindOf(s)
    if (kind === undefined) continue
    let end = firstView[s]!
    while (end < firstView[s + 1]! && views.group[end] !== group) end++
    const comes = end < firstView[s + 1]!
    for (let v = firstView[s]!; v < end; v++) {
      const own = pages.get(views.group[v]!) ?? { odds: [], on: [], kinds: [] }
      pages.set(views.group[v]!, own)
      own.odds.push(outlook.on[v]!)
      own.on.push(comes ? 1 : on[v]!)
      own.kinds.push(kind)
    }
  }
  const found = [...pages.values()].flatMap(({ odds, on, kinds }) => {
    const level = shift(on, odds, 5).value
    /** by kind: how many more carried on than expected, and how much that says */
    const more = [0, 0]
    const known = [0, 0]
    on.forEach((outcome, i) => {
      const p = logistic(odds[i]! + level)
      more[kinds[i]!]! += outcome - p
      known[kinds[i]!]! += p * (1 - p)
    })
    const variance = 1 / known[0]! + 1 / known[1]!
    return variance <= MOST_SD ** 2 ? [{ value: more[1]! / known[1]! - more[0]! / known[0]!, variance }] : []
  })
  return found.length < 2 ? UNKNOWN : oneMore(found)
}

/** What one more of such values would be. */
function oneMore(values: readonly { value: number; variance: number }[]): Estimate {
  const pooled = (spread: number) => {
    let [sum, weights] = [0, 0]
    for (const { value, variance } of values) {
      sum += value / (variance + spread)
      weights += 1 / (variance + spread)
    }
    return { value: sum / weights, weights }
  }
  const fixed = pooled(0)
  let [q, squares] = [0, 0]
  for (const { value, variance } of values) {
    q += (value - fixed.value) ** 2 / variance
    squares += 1 / variance ** 2
  }
  const spread = Math.max(
    LEAST_SPREAD ** 2,
    (q - (values.length - 1)) / (fixed.weights - squares / fixed.weights),
  )
  const { value, weights } = pooled(spread)
  return { value, sd: Math.sqrt(1 / weights + spread) }
}
