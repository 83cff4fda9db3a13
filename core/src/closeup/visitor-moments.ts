import { DEFAULT_OPTIONS } from '../funnel/options.ts'
import type { Names } from '../funnel/trace.ts'
import { leakOf } from '../funnel/trace.ts'
import type { Visitors } from '../funnel/visitors.ts'
import { eachVisitor, joinVisitors, readVisitors } from '../funnel/visitors.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { FunnelSelection, VisitorMoments } from './selection-schema.ts'

export interface VisitorMomentsSpec {
  selection: FunnelSelection
  names: Names
}

/**
 * The visitors that a funnel over visitors means, each by one session: that in which the moment lies. A visitor's
 * sessions may lie in several blocks, so it is found out before the blocks are asked about anything else.
 */
export const visitorMoments: Analysis<VisitorMomentsSpec, { visitors: Visitors }, VisitorMoments> = {
  adds: true,

  scan(block, sessions, { selection: { steps, options = DEFAULT_OPTIONS }, names }, onto) {
    const partial = onto ?? { visitors: new Map() as Visitors }
    readVisitors(block, sessions, { steps, names, options }, partial.visitors)
    return partial
  },

  merge(a, b) {
    joinVisitors(a.visitors, b.visitors)
    return a
  },

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
