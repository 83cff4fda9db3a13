import { DEFAULT_OPTIONS } from '../funnel/options.ts'
import type { Names } from '../funnel/trace.ts'
import { leakOf } from '../funnel/trace.ts'
import type { VisitorsPartial } from '../funnel/visitors.ts'
import { eachVisitor, gatherVisitors, GATHERING } from '../funnel/visitors.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { FunnelSelection, VisitorMoments } from './selection-schema.ts'

export interface VisitorMomentsSpec {
  selection: FunnelSelection
  names: Names
}

/** The visitors that a funnel over visitors means, each by one session: that in which the moment lies. */
export const visitorMoments: Analysis<VisitorMomentsSpec, VisitorsPartial, VisitorMoments> = {
  ...GATHERING,

  scan: (block, sessions, { selection, names }, onto) =>
    gatherVisitors(block, sessions, { ...selection, names }, onto),

  finish({ visitors }, { selection, names }) {
    const { steps, options = DEFAULT_OPTIONS, step, side, leak, page } = selection
    const toGroup = page === undefined ? undefined : page === null ? 0 : names.groups.find(page)
    const found: { session: number; event: number }[] = []
    const base: number[] = []
    eachVisitor(visitors, steps.length, options, ({ depth, at, last }) => {
      if (depth <= step) return
      const dropped = depth === step + 1 && depth < steps.length
      const moment = side === 'dropped' && dropped ? last(step) : at(step)
      base.push(moment.session)
      if (side === 'continued' && depth < step + 2) return
      if (side === 'dropped') {
        if (!dropped) return
        const own = leakOf(last(step).leak)
        if (leak !== undefined && own.kind !== leak) return
        if (toGroup !== undefined && own.toGroup !== toGroup) return
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
