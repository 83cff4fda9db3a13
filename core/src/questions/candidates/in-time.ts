import type { Case } from './episodes.ts'
import type { Estimate } from './estimate.ts'
import { compare, lossOf, shift } from './compare.ts'
import { thinned } from './controls.ts'
import type { Priced } from './designs.ts'
import type { Site } from './site.ts'
import { priced } from './designs.ts'

const LEAST_VIEWS = 200
const PIECES = 40
/** A page became slow where it took so many times as long, for so much larger a share of its views. */
const SLOWER = 2.5
const APART = 0.5
/** Other pages have changes of their own: log odds. */
const OWN_CHANGES = 0.05

interface Period {
  fromMs: number
  toMs: number
}

/**
 * A page that took much longer from some day on, or in some period, for all or for some device, browser or channel: all its
 * views then beside all others, whoever had a fast line. What moved on the other pages at the same time is taken out.
 */
export function becameSlow(site: Site, group: number): Priced | undefined {
  const { stages, outlook, viewsOf } = site
  const { sessions, views } = stages.journeys
  const own = (viewsOf.get(group) ?? []).filter((v) => views.loadMs[v]! > 0)
  if (own.length < LEAST_VIEWS) return undefined
  let best: { within: number[]; period: Period; apart: number; size: number } | undefined
  for (const [attribute, value] of attributesOf(site, own)) {
    const within =
      attribute === undefined ? own : own.filter((v) => sessions[attribute][stages.sessionOf[v]!] === value)
    if (within.length < LEAST_VIEWS) continue
    const found = slowPeriod(site, within)
    if (found && (!best || found.apart * Math.sqrt(found.size) > best.apart * Math.sqrt(best.size) * 1.05))
      best = { ...found, within }
  }
  if (!best) return undefined
  const { within, period } = best
  const startOf = (v: number) => sessions.startMs[stages.sessionOf[v]!]!
  const isThen = (v: number) => startOf(v) >= period.fromMs && startOf(v) < period.toMs
  const firsts = firstOfSession(site, within)
  const caseOf = (v: number): Case => ({ view: v, atMs: views.atMs[v]! })
  const exposed = firsts.filter(isThen).map(caseOf)
  const controls = thinned(firsts.filter((v) => !isThen(v)).map(caseOf))
  if (exposed.length < 20 || controls.length < 50) return undefined
  const comparison = compare(stages, outlook, exposed, controls, 'others')
  const bias = elsewhere(site, group, isThen)
  return priced(
    { cause: 'became slow', group, family: 0, name: 0 },
    'change',
    comparison,
    lossOf(comparison, stages.on, bias),
  )
}

function firstOfSession({ stages }: Site, views: readonly number[]): number[] {
  let last = -1
  return views.filter((v) => {
    const s = stages.sessionOf[v]!
    const isFirst = s !== last
    last = s
    return isFirst
  })
}

type Attribute = 'device' | 'browser' | 'channel' | 'campaign'

function attributesOf({ stages }: Site, of: readonly number[]): [Attribute | undefined, number][] {
  const { sessions } = stages.journeys
  const all: [Attribute | undefined, number][] = [[undefined, 0]]
  for (const attribute of ['device', 'browser', 'channel', 'campaign'] as const) {
    const values = new Set(of.map((v) => sessions[attribute][stages.sessionOf[v]!]!))
    for (const value of [...values].sort((a, b) => a - b).slice(0, 20)) all.push([attribute, value])
  }
  return all
}

/** The stretch in which far more views of a page are slow than outside of it. */
function slowPeriod(
  { stages }: Site,
  views: readonly number[],
): { period: Period; apart: number; size: number } | undefined {
  const { journeys, sessionOf } = stages
  const loads = views.map((v) => journeys.views.loadMs[v]!).sort((a, b) => a - b)
  const limit = SLOWER * loads[Math.floor(loads.length / 4)]!
  const ordered = views
    .map((v) => ({
      ms: journeys.sessions.startMs[sessionOf[v]!]!,
      slow: Number(journeys.views.loadMs[v]! > limit),
    }))
    .sort((a, b) => a.ms - b.ms)
  const cuts = Array.from({ length: PIECES + 1 }, (_, i) => Math.round((i * ordered.length) / PIECES))
  const slow = new Float64Array(ordered.length + 1)
  ordered.forEach((one, i) => (slow[i + 1] = slow[i]! + one.slow))
  const total = slow[ordered.length]!
  let best: { from: number; to: number; apart: number } | undefined
  for (let a = 0; a < PIECES; a++)
    for (let b = a + 2; b <= PIECES; b++) {
      const [from, to] = [cuts[a]!, cuts[b]!]
      const outside = ordered.length - (to - from)
      if (outside < 50 || to - from < 30) continue
      const inside = slow[to]! - slow[from]!
      const apart = inside / (to - from) - (total - inside) / outside
      if (apart > APART && (!best || apart > best.apart + 1e-9)) best = { from, to, apart }
    }
  if (!best) return undefined
  const { from, to, apart } = best
  return {
    period: {
      fromMs: from === 0 ? -Infinity : ordered[from]!.ms,
      toMs: to === ordered.length ? Infinity : ordered[to]!.ms,
    },
    apart,
    size: to - from,
  }
}

/** How carrying on moved on all other pages at the same time: mean over pages, pulled to nothing. */
function elsewhere(
  { stages, outlook, viewsOf }: Site,
  group: number,
  isThen: (v: number) => boolean,
): Estimate {
  let [sum, weight] = [0, 1 / 0.06 ** 2]
  for (const [other, views] of viewsOf) {
    if (other === group || views.length < LEAST_VIEWS) continue
    const parts = [true, false].map((then) => {
      const own = thinned(
        views.filter((v) => isThen(v) === then),
        4000,
      )
      return shift(
        own.map((v) => stages.on[v]!),
        own.map((v) => outlook.on[v]!),
        2,
      )
    })
    const variance = parts[0]!.sd ** 2 + parts[1]!.sd ** 2 + 0.15 ** 2
    sum += (parts[0]!.value - parts[1]!.value) / variance
    weight += 1 / variance
  }
  return { value: sum / weight, sd: Math.hypot(Math.sqrt(1 / weight), OWN_CHANGES) }
}
