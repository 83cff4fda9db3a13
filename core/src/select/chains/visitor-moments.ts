import type { Scan } from '../../columns/scan.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelSelection, VisitorMoments } from '../grammar/conditions.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import { DEFAULT_OPTIONS } from '../grammar/funnel-options.ts'
import { countingErrors, LeakTally } from './leak-counts.ts'
import { leakOf, reasonWith } from './leaks.ts'
import type { Visitors, VisitorsFound } from './visitors.ts'
import { eachVisitor, GATHERING, gatherVisitors } from './visitors.ts'

export interface VisitorMomentsSpec {
  selection: FunnelSelection
  names: Names
}

/** The visitors that a funnel over visitors means, each by one session: that in which the moment lies. */
export const visitorMoments: Scan<VisitorMomentsSpec, VisitorsFound, VisitorMoments> = {
  name: 'visitor-moments',
  ...GATHERING,

  scan: (block, sessions, { selection, names }, onto) =>
    gatherVisitors(block, sessions, { ...selection, names }, onto),

  finish({ visitors }, { selection, names }) {
    const { steps, options = DEFAULT_OPTIONS, step, side, leak, page } = selection
    const toGroup = page === undefined ? undefined : page === null ? 0 : names.groups.find(page)
    const found: { session: number; event: number }[] = []
    const base: number[] = []
    const wantsReason = side === 'dropped' && (leak !== undefined || toGroup !== undefined)
    const counting = wantsReason ? errorsCounting(visitors, steps.length, options, step) : NONE
    eachVisitor(visitors, steps.length, options, ({ depth, at, last }) => {
      // Who reached a step is of those who entered.
      if (side === 'reached' && depth > 0 && depth <= step) base.push(at(0).session)
      if (depth <= step) return
      const dropped = depth === step + 1 && depth < steps.length
      const moment = side === 'dropped' && dropped ? last(step) : at(step)
      base.push(moment.session)
      if (side === 'continued' && depth < step + 2) return
      if (side === 'dropped') {
        if (!dropped) return
        const { reason, errors } = last(step)
        const leakHere = leakOf(reasonWith(errors, counting, reason))
        if (leak !== undefined && leakHere.kind !== leak) return
        if (toGroup !== undefined && leakHere.toGroup !== toGroup) return
      }
      found.push(moment)
    })
    found.sort((a, b) => a.session - b.session)
    return {
      sessions: Float64Array.from(found, ({ session }) => session),
      events: Uint32Array.from(found, ({ event }) => event),
      base: Float64Array.from(base).sort(),
    }
  },
}

const NONE: ReadonlySet<number> = new Set()

/** The errors that count as the reason of a leak, held by visitors. */
function errorsCounting(
  visitors: Visitors,
  steps: number,
  options: FunnelOptions,
  step: number,
): ReadonlySet<number> {
  const tally = new LeakTally()
  let lost = 0
  let continued = 0
  eachVisitor(visitors, steps, options, ({ depth, met, last }) => {
    if (depth > step + 1) {
      continued++
      tally.addContinued(met(step))
    } else if (depth === step + 1 && depth < steps) {
      lost++
      tally.addLost(0, last(step).errors)
    }
  })
  return countingErrors(tally.counts(), lost, continued)
}
