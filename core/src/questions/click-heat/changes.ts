import type { Interval } from '../../stats/interval.ts'
import type { Rate } from '../../stats/rate.ts'
import { difference, rate } from '../../stats/rate.ts'
import { benjaminiHochberg, twoProportions } from '../../stats/significance.ts'
import type { ClickHeatAnswer } from './click-heat.ts'

/** How often an element was clicked on two sides. */
export interface ElementChange {
  selector: string
  text: string
  /** sessions that clicked it, of those that saw the page */
  first: Rate
  second: Rate
  /** second minus first, as shares, with its 95 % interval (Newcombe); null where one side has no viewers */
  difference: number | null
  interval: Interval
  /** adjusted for the number of elements (Benjamini and Hochberg 1995); null where one side has no viewers */
  p: number | null
}

type Clicked = Pick<ClickHeatAnswer, 'viewers' | 'elements'>

/** All elements of two click maps, those that changed most surely first: by p, then by size of the difference. */
export function clickChanges(first: Clicked, second: Clicked): ElementChange[] {
  const seconds = new Map(second.elements.map((element) => [element.selector, element]))
  const texts = new Map<string, string>()
  for (const { selector, text } of [...second.elements, ...first.elements]) texts.set(selector, text)
  const firsts = new Map(first.elements.map((element) => [element.selector, element]))
  const pairs = [...texts].map(([selector, text]) => ({
    ...{ selector, text },
    first: firsts.get(selector)?.rate ?? rate(0, first.viewers),
    second: seconds.get(selector)?.rate ?? rate(0, second.viewers),
  }))
  const ps = benjaminiHochberg(
    pairs.map(({ first: a, second: b }) => twoProportions(b.hits, b.base, a.hits, a.base)),
  )
  return pairs
    .map((pair, k) => ({ ...pair, ...difference(pair.second, pair.first), p: ps[k] ?? null }))
    .sort(
      (a, b) =>
        (a.p ?? 2) - (b.p ?? 2) ||
        Math.abs(b.difference ?? 0) - Math.abs(a.difference ?? 0) ||
        a.selector.localeCompare(b.selector),
    )
}
