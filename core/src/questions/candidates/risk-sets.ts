import { lowerBound } from '../../stats/lower-bound.ts'
import type { Case } from './episodes.ts'
import { MOST_CONTROLS } from './compare.ts'
import { thinned } from './controls.ts'
import type { Stages } from './stages.ts'

const MOST_PER_CASE = 40
const LEAST_PER_CASE = 3
/** Who was to leave would have left while others made for what they clicked. */
const AIMING_MS = 3000
/** No view stands for more than so many. */
const MOST_WEIGHT = 10

/**
 * Views of the same page that were still open when the exposed ones met the trouble, and did not meet it: drawn for
 * each exposed case, always the same ones. Who stays meets it and who leaves does not: of those who never met it too many left
 * early. So each stands for as many as were open for as long and met it before the end, as far as its device tells.
 *
 * @see Prentice, Breslow (1978), Biometrika 65:153 (sampling from risk sets; from memory)
 * @see Robins, Finkelstein (2000), Biometrics 56:779 (weighting for censoring that depends on what happened; from memory)
 */
export function stillOpen(stages: Stages, notMet: readonly number[], cases: readonly Case[]): Case[] {
  const { views } = stages.journeys
  const length = (v: number) => stages.endMs[v]! - views.atMs[v]!
  const open = longestFirst(notMet, length)
  if (!open.length) return []
  const weight = weights(stages, open, length, cases)
  /** of the views that were open longest, so many */
  const upTo = new Float64Array(open.length + 1)
  open.forEach((v, i) => (upTo[i + 1] = upTo[i]! + weight(v)))
  const each = Math.min(MOST_PER_CASE, Math.max(LEAST_PER_CASE, Math.ceil(MOST_CONTROLS / 2 / cases.length)))
  const controls: Case[] = []
  thinned(cases, MOST_CONTROLS / LEAST_PER_CASE).forEach(({ view, atMs }, i) => {
    const sinceMs = atMs - views.atMs[view]!
    const count = openCount(open, length, Math.max(0, sinceMs - AIMING_MS))
    for (let k = 0; k < each && count > 0; k++) {
      const drawn = lowerBound(upTo, spread(i, k) * upTo[count]!) - 1
      const v = open[Math.min(count - 1, Math.max(0, drawn))]!
      controls.push({ view: v, atMs: views.atMs[v]! + sinceMs })
    }
  })
  return controls
}

/** Of views in their order those of the same length stay so. */
function longestFirst(views: readonly number[], length: (v: number) => number): Uint32Array {
  const shorter = Float64Array.from(views, (v) => -length(v))
  const order = Uint32Array.from(views, (_, i) => i).sort((a, b) => shorter[a]! - shorter[b]! || a - b)
  return order.map((i) => views[i]!)
}

/**
 * By view that never met it how many it stands for: 1 over the share of views of its device that had not met it by the length of
 * this one (Kaplan and Meier 1958: meeting it ends a view, in the order of time since it began).
 */
function weights(
  { journeys, sessionOf }: Stages,
  open: Uint32Array,
  length: (v: number) => number,
  cases: readonly Case[],
): (v: number) => number {
  const { sessions, views } = journeys
  const deviceOf = (v: number) => sessions.device[sessionOf[v]!]!
  const metMs = new Map<number, number[]>()
  for (const { view, atMs } of cases) {
    const own = metMs.get(deviceOf(view))
    const sinceMs = Math.max(0, atMs - views.atMs[view]!)
    if (own) own.push(sinceMs)
    else metMs.set(deviceOf(view), [sinceMs])
  }
  const spared = new Map<number, { ms: number[]; share: number[] }>()
  for (const [device, met] of metMs) {
    met.sort((a, b) => a - b)
    const ends = Float64Array.from(open.filter((v) => deviceOf(v) === device).reverse(), length)
    let share = 1
    const own = { ms: [0], share: [1] }
    met.forEach((ms, i) => {
      const atRisk = met.length - i + (ends.length - lowerBound(ends, ms))
      share *= 1 - 1 / atRisk
      own.ms.push(ms)
      own.share.push(share)
    })
    spared.set(device, own)
  }
  return (v) => {
    const own = spared.get(deviceOf(v))
    if (!own) return 1
    const after = lowerBound(own.ms, length(v) + 1) - 1
    return Math.min(MOST_WEIGHT, 1 / own.share[Math.max(0, after)]!)
  }
}

/** How many of some views, longest first, were open for at least so long. */
function openCount(open: Uint32Array, length: (v: number) => number, ms: number): number {
  let [low, high] = [0, open.length]
  while (low < high) {
    const middle = (low + high) >>> 1
    if (length(open[middle]!) >= ms) low = middle + 1
    else high = middle
  }
  return low
}

/** A number from 0 to below 1 for each pair, spread evenly, the same each time. */
function spread(i: number, k: number): number {
  let h = Math.imul(i + 1, 0x9e3779b1) ^ Math.imul(k + 1, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return ((h ^ (h >>> 15)) >>> 0) / 4_294_967_296
}
