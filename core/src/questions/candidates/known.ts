import { DEVICE_CLASSES } from '../../events/line.ts'
import type { Case } from './episodes.ts'
import type { State, Telling } from './last-done.ts'
import { lastDone } from './last-done.ts'
import type { Outlook } from './outlook.ts'
import type { Stages } from './stages.ts'
import { doneBefore } from './stages.ts'

/** A state that tells nothing. */
const NOT_TOLD = -1
const PHONE = DEVICE_CLASSES.indexOf('mobile') + 1
/** Features of a case; the last one is what its state says, which depends on the outcome. */
export const K = 9
/** Before the data: as the outlook says, whatever had been done on the view. */
export const PRIOR = { mean: [0, 1, 0, 0, 0, 0, 0, 0, 0.5], sd: [2, 0.5, 0.5, 0.3, 0.4, 1, 1, 0.5, 0.5] }

/** What is known of cases by their moments. */
export interface Known {
  /** by case × K, the last of each left at 0 */
  rows: Float64Array
  /** by case what was done last, where that tells anything: see last-done.ts */
  last: Float64Array
}

export function knownOf(
  stages: Stages,
  outlook: Outlook,
  cases: readonly Case[],
  { fields, states }: Telling,
): Known {
  const { views } = stages.journeys
  const rows = new Float64Array(cases.length * K)
  const last = new Float64Array(cases.length).fill(NOT_TOLD)
  cases.forEach((one, i) => {
    const { view, atMs } = one
    const done = doneBefore(stages, view, atMs)
    rows[i * K] = 1
    rows[i * K + 1] = outlook.on[view]!
    rows[i * K + 2] = Number(isPhone(stages, view))
    rows[i * K + 3] = Math.log1p(Math.max(0, atMs - views.atMs[view]!) / 1000) - 2
    rows[i * K + 4] = done.acts
    rows[i * K + 5] = fields ? done.filled : 0
    rows[i * K + 6] = done.failed
    rows[i * K + 7] = fields ? Math.log1p(done.fields) : 0
    if (!states.size) return
    const state = lastDone(stages, one)
    if (states.has(state)) last[i] = state
  })
  return { rows, last }
}

/** Features by case × K, where what was done last says so much. */
export function rowsOf({ rows, last }: Known, after: (state: State) => number): Float64Array {
  const whole = Float64Array.from(rows)
  for (let i = 0; i < last.length; i++) whole[i * K + K - 1] = after(last[i]!)
  return whole
}

/** What is known of some of the cases. */
export function someOf({ rows, last }: Known, places: readonly number[]): Known {
  const some: Known = { rows: new Float64Array(places.length * K), last: new Float64Array(places.length) }
  places.forEach((i, to) => {
    some.rows.set(rows.subarray(i * K, (i + 1) * K), to * K)
    some.last[to] = last[i]!
  })
  return some
}

export const isPhone = ({ journeys, sessionOf }: Stages, view: number) =>
  journeys.sessions.device[sessionOf[view]!] === PHONE
