import { apartElsewhere } from './apart.ts'
import type { Case } from './episodes.ts'
import { compare, lossOf } from './compare.ts'
import { thinned } from './controls.ts'
import type { Priced } from './designs.ts'
import type { Site } from './site.ts'
import { priced } from './designs.ts'
import { firstOf } from './stages.ts'
import type { Action } from './shown.ts'
import { AT_ONCE_MS } from './journeys.ts'
import { shareShown } from './shown.ts'

const LEAST_VIEWS = 100
/** Low screens show it at once in less than this share of views, high ones in more by that. */
const HARDLY = 0.2
const MORE = 0.4

/**
 * Where low screens do not show a call to action at once and high ones of the same device do: how much less the low ones carry on
 * here, beyond what they do on other pages. Of each session on a low screen the first view is taken, whether or not it was found
 * in the end: what comes of later ones comes of it as well.
 */
export function byHeight(
  site: Site,
  group: number,
  cta: Action,
  byDevice: ReadonlyMap<number, readonly number[]>,
): Priced | undefined {
  const { stages, outlook } = site
  const { journeys, sessionOf, on } = stages
  const { height, device } = journeys.sessions
  /** by device the height below which screens are low */
  const lowBelow = new Map<number, number>()
  const exposed: Case[] = []
  const controls: Case[] = []
  const heightOf = (v: number) => height[sessionOf[v]!]!
  for (const [code, views] of byDevice) {
    const known = views.filter((v) => heightOf(v) > 0)
    const bound = boundOf(known, heightOf, (some) => shareShown(stages, some, cta, AT_ONCE_MS))
    if (bound === undefined) continue
    lowBelow.set(code, bound)
    for (const view of firstOf(stages, known))
      (heightOf(view) < bound ? exposed : controls).push({ view, atMs: journeys.views.atMs[view]! })
  }
  if (!exposed.length) return undefined
  const comparison = compare(stages, outlook, exposed, thinned(controls), 'the same')
  const bias = apartElsewhere(site, group, (s) => {
    const bound = lowBelow.get(device[s]!)
    return bound === undefined || !height[s] ? undefined : height[s] < bound ? 1 : 0
  })
  return priced(
    { cause: 'out of sight', group, family: cta.family, name: 0 },
    'heights',
    comparison,
    lossOf(comparison, on, bias),
  )
}

/** The height that parts the screens of a device best into those that show it at once and those that do not. */
function boundOf(
  views: readonly number[],
  heightOf: (view: number) => number,
  shown: (views: readonly number[]) => number,
): number | undefined {
  const heights = [...new Set(views.map(heightOf))].sort((a, b) => a - b)
  let [best, most] = [undefined as number | undefined, MORE]
  for (const bound of everyNth(heights.slice(1))) {
    const low = views.filter((v) => heightOf(v) < bound)
    if (low.length < LEAST_VIEWS || views.length - low.length < LEAST_VIEWS) continue
    const below = shown(low)
    const apart = shown(views.filter((v) => heightOf(v) >= bound)) - below
    if (below < HARDLY && apart > most) [best, most] = [bound, apart]
  }
  return best
}

/** Enough heights to part by. */
const MOST_BOUNDS = 24
const everyNth = (list: readonly number[]) => thinned(list, MOST_BOUNDS)
