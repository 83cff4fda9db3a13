import type { Block } from '../columns/block.ts'
import { amountAt } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import { THRESHOLDS } from './thresholds.ts'

/** Whether an event is a view of a slow page (see thresholds.ts); one whose time is not known is not. */
export function isSlow(block: Block, event: number): boolean {
  return block.events.kind[event] === KIND_CODE.page && amountAt(block, event) > THRESHOLDS.slowMs
}
