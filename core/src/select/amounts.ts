import type { Block } from '../columns/block.ts'
import { amountAt, rowOf } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import { rateReader } from '../labels/money.ts'
import type { Names } from '../labels/names.ts'
import { lowerBound } from '../stats/lower-bound.ts'

/**
 * Reads amounts of events: the value of an action in the site's currency, at the rate of the day on which it happened;
 * of other events the milliseconds they took (see `measures` in columns/block.ts).
 *
 * @returns by event of the block the amount; NaN where there is none, or no rate for its currency
 */
export function amountReader(block: Block, names: Names): (event: number) => number {
  const { sessions, events, measures } = block
  const { money, dictionaries } = names
  if (!money) return (event) => amountAt(block, event)
  const rate = rateReader(money, dictionaries.currency.values)
  return (event) => {
    const row = rowOf(events.hasMeasure, events.measuresBefore, event)
    if (row < 0) return NaN
    const code = measures.currency[row]!
    const amount = measures.amount[row]!
    if (code === 0 || events.kind[event] !== KIND_CODE.action) return amount
    const session = lowerBound(sessions.firstEvent, event + 1) - 1
    return amount * rate(code, sessions.startMs[session]! + events.atMs[event]!)
  }
}
