import type { Allocate, Block } from '../columns/block.ts'
import { compactColumns } from '../columns/compact.ts'
import { buildDenseBlock } from '../columns/dense-sessions.ts'
import type { Dictionaries } from '../columns/dictionaries.ts'
import type { SessionRow } from '../events/session-row.ts'
import { withSignals } from './find-signals.ts'
import type { SignalThresholds } from './thresholds.ts'

/**
 * Sessions as a block that questions can be asked of, with the signals found in them.
 *
 * @param rows  each with at least one line, lines ascending in time
 * @throws RangeError where a session has no lines or they are out of order
 */
export function buildBlock(
  rows: readonly SessionRow[],
  dictionaries: Dictionaries,
  allocate?: Allocate,
  limits?: SignalThresholds,
): Block {
  return withSignals(compactColumns(buildDenseBlock(rows, dictionaries), allocate), limits, allocate)
}
