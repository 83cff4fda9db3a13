import type { Scan } from '../../columns/scan.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelSelection } from '../grammar/conditions.ts'
import { DEFAULT_OPTIONS } from '../grammar/funnel-options.ts'
import type { LeakCounts } from './leak-counts.ts'
import { addLeaks, countingErrors, LeakTally } from './leak-counts.ts'
import { leakReader } from './leaks.ts'
import { funnelWalk } from './walk.ts'

export interface LeakErrorsSpec {
  selection: FunnelSelection
  names: Names
}

interface LeakErrorsFound {
  lost: number
  continued: number
  counts: LeakCounts
}

/**
 * Which errors count as the reason of a leak at the step of a funnel over sessions: their ids, see LeakReader. Whether one
 * does can only be said of all sessions of the lens together.
 */
export const leakErrors: Scan<LeakErrorsSpec, LeakErrorsFound, readonly number[]> = {
  name: 'leak-errors',

  scan(block, among, { selection: { steps, options = DEFAULT_OPTIONS, step }, names }) {
    const { depths, event, lasts } = funnelWalk(block, among, steps, options, names)
    const read = leakReader(block, names)
    const tally = new LeakTally()
    let lost = 0
    let continued = 0
    among.forEach((s) => {
      if (depths[s]! > step + 1) {
        continued++
        const errors = read.errors(s, event(s, step), block.events.atMs[event(s, step + 1)])
        tally.addContinued(errors)
      } else if (depths[s] === step + 1) {
        lost++
        const errors = read.errors(s, lasts(step)[s]!)
        if (errors.length) tally.addLost(0, errors)
      }
    })
    return { lost, continued, counts: tally.counts() }
  },

  merge(a, b) {
    a.lost += b.lost
    a.continued += b.continued
    addLeaks(a.counts, b.counts)
    return a
  },

  finish: ({ lost, continued, counts }) => [...countingErrors(counts, lost, continued)],
}
