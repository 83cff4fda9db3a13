import type { Block } from '../columns/block.ts'
import { compactBlock } from '../columns/compact.ts'
import type { DenseBlock } from '../columns/dense-block.ts'
import { writeDenseSessions } from '../columns/dense-sessions.ts'
import type { Dictionaries } from '../columns/dictionaries.ts'
import type { SessionRow } from '../events/session-row.ts'
import { detectSignals } from './detect.ts'

/**
 * Sessions as dense columns, with the signals found in them.
 *
 * @param rows  each with at least one line, lines ascending in time
 * @throws RangeError where a session has no lines or they are out of order
 */
export function buildDenseBlock(rows: readonly SessionRow[], dictionaries: Dictionaries): DenseBlock {
  return writeDenseSessions(rows, dictionaries, detectSignals)
}

/** The same as a block that questions can be asked of. @throws as buildDenseBlock */
export function buildBlock(
  rows: readonly SessionRow[],
  dictionaries: Dictionaries,
  allocate?: (bytes: number) => ArrayBufferLike,
): Block {
  return compactBlock(buildDenseBlock(rows, dictionaries), allocate)
}
