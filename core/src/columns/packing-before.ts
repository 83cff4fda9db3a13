/* What blocks looked like before version 4 of how they are packed: see packing.ts. */
import type { DenseBlock, DenseCounts } from './dense-block.ts'
import { EFFECTS } from '../events/line.ts'
import { KIND_CODE, TRAIT_BIT } from './event-codes.ts'

type Length = 'sessions' | 'sessions + 1' | 'events' | 'events + 1' | 'props' | 'signals'

/** Columns in the order in which they were stored. */
const COLUMNS: [table: string, columns: string[], length: Length][] = [
  ['sessions', ['id', 'startMs', 'endMs', 'visitor'], 'sessions'],
  ['sessions', ['firstEvent', 'firstSignal'], 'sessions + 1'],
  ['sessions', ['browser', 'os', 'country', 'channel', 'source', 'campaign'], 'sessions'],
  ['sessions', ['width', 'height', 'returning', 'device'], 'sessions'],
  ['events', ['atMs', 'number', 'page', 'target', 'text', 'name'], 'events'],
  ['events', ['firstProp'], 'events + 1'],
  ['events', ['x', 'y', 'rx', 'ry', 'amount', 'kind', 'effect', 'friction'], 'events'],
  ['props', ['number', 'key', 'text'], 'props'],
  ['signals', ['atMs', 'page', 'target', 'text', 'name', 'clicks', 'kind'], 'signals'],
]

/** Visits the columns of a block of so many rows, in that order. */
export function eachOldColumn(
  counts: DenseCounts & { signals?: number },
  visit: (table: string, column: string, length: number) => void,
): void {
  for (const [table, columns, length] of COLUMNS) {
    const [rows, more] = length.split(' + ')
    for (const column of columns)
      visit(table, column, (counts[rows as keyof DenseCounts] ?? 0) + Number(more ?? 0))
  }
}

/**
 * Fills the columns that there were not: nothing is known of them, but that a click without effect that was not called dead
 * fell into a field.
 *
 * @param friction  FRICTION_BIT by event, as it was stored
 */
export function fillNewColumns({ events }: DenseBlock, friction: Uint8Array): void {
  const nothing = EFFECTS.indexOf('none') + 1
  events.currency.fill(0)
  for (const column of [events.detail, events.w, events.h]) column.fill(NaN)
  for (let i = 0; i < events.count; i++) {
    const isField =
      events.kind[i] === KIND_CODE.click && events.effect[i] === nothing && (friction[i]! & DEAD) === 0
    events.traits[i] = isField ? TRAIT_BIT.field : 0
  }
  inDecimals(events.amount)
}

/** The bit of a dead click, as it was stored. */
const DEAD = 2

/** Undoes single precision, in which amounts were held: the shortest decimal fraction that it may have been made of. */
function inDecimals(amounts: Float64Array): void {
  for (let i = 0; i < amounts.length; i++) {
    const amount = amounts[i]!
    if (Number.isInteger(amount) || Number.isNaN(amount)) continue
    for (let digits = 1; digits <= 9; digits++) {
      const shorter = Number(amount.toPrecision(digits))
      if (Math.fround(shorter) !== amount) continue
      amounts[i] = shorter
      break
    }
  }
}
