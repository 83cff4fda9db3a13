import { rowOf } from '../columns/block.ts'
import type { FoundSignals, SessionEvents } from './session-events.ts'
import { endOfView } from './session-events.ts'
import type { SignalThresholds } from './thresholds.ts'

interface Field {
  first: number
  visits: number
  /** times that it was corrected too often in one go, and the first of these */
  corrected: number
  firstCorrected: number
}

/** Fields of one view that were corrected again and again in one go, or come back to; once for each field. */
export function addFieldTrouble(
  found: FoundSignals,
  session: SessionEvents,
  { corrections, returns }: SignalThresholds,
): void {
  const { columns, inputs, fromView, toView } = session
  const { events, measures, views } = columns
  let k = 0
  for (let view = fromView; view < toView; view++) {
    const [from, end] = [views.event[view]!, endOfView(session, view)]
    while (k < inputs.count && inputs.at[k]! < from) k++
    let fields: Map<number, Field> | undefined
    for (; k < inputs.count && inputs.at[k]! < end; k++) {
      const i = inputs.at[k]!
      fields ??= new Map()
      let field = fields.get(events.target[i]!)
      if (!field)
        fields.set(events.target[i]!, (field = { first: i, visits: 0, corrected: 0, firstCorrected: -1 }))
      field.visits++
      const row = rowOf(events.hasMeasure, events.measuresBefore, i)
      if (row >= 0 && measures.detail[row]! >= corrections && field.corrected++ === 0)
        field.firstCorrected = i
    }
    if (!fields) continue
    for (const field of fields.values())
      if (field.corrected) found.add('field trouble', field.firstCorrected, field.corrected)
      else if (field.visits >= returns) found.add('field trouble', field.first, field.visits)
  }
}
