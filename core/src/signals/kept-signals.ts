import type { Allocate, Columns, SignalTables } from '../columns/block.ts'
import { ownMemory, SIGNAL_LAYOUT, signalShape, viewSignals } from '../columns/block.ts'
import { bytesOf } from '../columns/layout.ts'
import type { SignalThresholds } from './thresholds.ts'
import { THRESHOLD_NAMES } from './thresholds.ts'

/**
 * Rises with every change after which `findSignals` finds something else in the same columns, so that what was kept before
 * is found anew. A test holds a fingerprint of what is found.
 */
const SIGNALS_VERSION = 2

/** What signals depend on besides the columns: equal where these would be the same. */
export function foundUnder(limits: SignalThresholds): string {
  return [SIGNALS_VERSION, ...THRESHOLD_NAMES.map((name) => limits[name])].join(' ')
}

/** Bytes before the tables: how many signals, sessions and events there are. */
const HEAD = 16

/** Signals of some columns as bytes to be kept beside these. */
export function packSignals(found: SignalTables): Uint8Array {
  const { buffer, byteOffset } = found.signals.event
  const tables = bytesOf(SIGNAL_LAYOUT, signalShape(found))
  const bytes = new Uint8Array(HEAD + tables)
  new Uint32Array(bytes.buffer, 0, 3).set([found.signals.count, found.ofSessions.count, found.ofEvents.count])
  bytes.set(new Uint8Array(buffer, byteOffset, tables), HEAD)
  return bytes
}

/**
 * Signals that were kept, for the columns in which they were found.
 *
 * @throws RangeError where they are not of such columns
 */
export function unpackSignals(
  bytes: Uint8Array,
  { sessions, events }: Pick<Columns, 'sessions' | 'events'>,
  allocate: Allocate = ownMemory,
): SignalTables {
  const [signals, ofSessions, ofEvents] = new Uint32Array(bytes.slice(0, HEAD).buffer)
  const counts = { signals: signals ?? 0, ofSessions: sessions.count, ofEvents: events.count }
  const shape = { counts, forms: {} }
  const size = HEAD + bytesOf(SIGNAL_LAYOUT, shape)
  if (ofSessions !== sessions.count || ofEvents !== events.count || bytes.length !== size)
    throw new RangeError('signals of other columns')
  const memory = allocate(bytes.length - HEAD)
  new Uint8Array(memory).set(bytes.subarray(HEAD))
  return viewSignals(shape, memory)
}
