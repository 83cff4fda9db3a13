import type { Scan } from '../../columns/scan.ts'
import type { Names } from '../../labels/names.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import { DEFAULT_OPTIONS } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import type { VisitorsFound } from './visitors.ts'
import { eachVisitor, GATHERING, gatherVisitors } from './visitors.ts'

/**
 * How visitors came through a funnel, session by session: each row is a part of one session that lies between two steps,
 * or after the last one reached. In ascending order of session.
 */
export interface VisitorWays {
  /** id of the session */
  session: Float64Array
  /** whose it is, as a number that means nothing else */
  visitor: Uint32Array
  /** the step reached before */
  step: Uint8Array
  /** the number, from 0, of the session's event that is the step; -1 = it was reached in a session before */
  from: Int32Array
  /** that of the next step; -1 = it is in a later session, or was never reached */
  to: Int32Array
  /** 1 = the visitor came no further, and was at the step for the last time at `from` */
  lost: Uint8Array
}

export interface VisitorWaysSpec {
  steps: readonly Step[]
  options?: FunnelOptions | undefined
  names: Names
}

type Row = [session: number, visitor: number, step: number, from: number, to: number, lost: number]

export const visitorWays: Scan<VisitorWaysSpec, VisitorsFound, VisitorWays> = {
  name: 'visitor-ways',
  ...GATHERING,

  scan: gatherVisitors,

  finish({ visitors }, { steps, options = DEFAULT_OPTIONS }) {
    const rows: Row[] = []
    let visitor = 0
    eachVisitor(visitors, steps.length, options, ({ depth, runs, at, last }) => {
      visitor++
      const place = (session: number) => runs.findIndex((run) => run.session === session)
      for (let step = 0; step + 1 < depth; step++) {
        const [a, b] = [at(step), at(step + 1)]
        if (a.session === b.session) rows.push([a.session, visitor, step, a.event, b.event, 0])
        else {
          rows.push([a.session, visitor, step, a.event, -1, 0])
          for (const { session } of runs.slice(place(a.session) + 1, place(b.session)))
            rows.push([session, visitor, step, -1, -1, 0])
          rows.push([b.session, visitor, step, -1, b.event, 0])
        }
      }
      if (depth > 0 && depth < steps.length) {
        const { session, event } = last(depth - 1)
        rows.push([session, visitor, depth - 1, event, -1, 1])
      }
    })
    rows.sort(([a], [b]) => a - b)
    const column = (k: number) => rows.map((row) => row[k]!)
    return {
      session: Float64Array.from(column(0)),
      visitor: Uint32Array.from(column(1)),
      step: Uint8Array.from(column(2)),
      from: Int32Array.from(column(3)),
      to: Int32Array.from(column(4)),
      lost: Uint8Array.from(column(5)),
    }
  },
}
