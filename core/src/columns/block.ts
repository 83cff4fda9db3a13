import { countBits } from '../stats/bit-count.ts'
import type { Shape, TablesOf } from './layout.ts'
import { bytesOf, codes, numbers, only, shapeOf, starts, times, viewTables, words } from './layout.ts'

/**
 * Sessions and their events as questions read them: each column as narrow as its numbers allow, what few events have in
 * tables of its own, and the indexes that questions need. Columns never change. Made by compact.ts.
 *
 * Event i of session s lies at `firstEvent[s] <= i < firstEvent[s + 1]`, in order of time; page views likewise. Codes point
 * into the site's Dictionaries.
 */
export const COLUMN_LAYOUT = {
  sessions: {
    id: only('f64'),
    /** milliseconds since 1970 */
    startMs: only('f64'),
    endMs: only('f64'),
    visitor: only('u32'),
    firstEvent: starts,
    firstView: starts,
    browser: codes,
    os: codes,
    country: codes,
    channel: codes,
    source: codes,
    campaign: codes,
    /** of the device, CSS px; 0 = not known */
    width: only('u16'),
    height: only('u16'),
    /** 0 or 1 */
    returning: only('u8'),
    /** index into SESSION_CLASSES + 1, 0 = not known */
    device: only('u8'),
  },
  events: {
    /** milliseconds since the start of the session */
    atMs: times,
    /** the page on which it happened */
    page: codes,
    target: codes,
    /** text of the target; the variant; the answer; the label of a field; the title of a page */
    text: codes,
    /** action, gesture, signal name; request path; error message; experiment; question */
    name: codes,
    /** a bit for each event that has a row in `points`, and how many rows lie before each 32 events; see rowOf */
    hasPoint: words,
    pointsBefore: words,
    /** the same for `views`, `measures` and `propped` */
    isView: words,
    viewsBefore: words,
    hasMeasure: words,
    measuresBefore: words,
    hasProps: words,
    propsBefore: words,
    /** KIND_CODE */
    kind: only('u8'),
    /** index into EFFECTS + 1, 0 = not known */
    effect: only('u8'),
    /** TRAIT_BIT */
    traits: only('u8'),
  },
  /** where clicks fell; NaN = not known */
  points: {
    /** CSS px on the page */
    x: only('f32'),
    y: only('f32'),
    /** share of the target's width and height */
    rx: only('f32'),
    ry: only('f32'),
    /** size of the target, CSS px */
    w: only('f32'),
    h: only('f32'),
  },
  /** numbers of events that have one; NaN = not known */
  measures: {
    /** status of a page or request, depth of a scroll, length of an input, ms of leave and freeze */
    number: numbers,
    /** ms until a page was there, ms of a request or in a field, value of an action */
    amount: numbers,
    /** CSS px from the top of the page of a scroll; times that the content of a field was deleted */
    detail: numbers,
    /** of the value of an action; 0 = the site's own */
    currency: codes,
  },
  /** events with free properties: those of row r lie at first[r] <= p < first[r + 1] in `props` */
  propped: { first: starts },
  props: {
    key: codes,
    /** its text; 0 where it is a number or a truth value */
    text: codes,
    /** its number, 0 or 1 for a truth value; NaN where it is a text */
    number: numbers,
  },
  /** page views alone, in order of event */
  views: { event: only('u32'), page: codes },
  /** all events again, page by page, with the session of each: see page-index.ts */
  postings: { event: only('u32'), session: codes },
  /**
   * pages on which anything happened: what happened on pages.page[k] lies at first[k] <= i < first[k + 1] in postings,
   * views that are not the first of their session from again[k], what is no view of it from other[k]
   */
  pages: { page: codes, first: starts, again: only('u32'), other: only('u32') },
} as const

/**
 * What was found to go wrong in the sessions of some columns, under thresholds that a site may change: in memory of its own,
 * so that it can be found anew. Signals of session s lie at `firstSignal[s] <= g < firstSignal[s + 1]`, in order of the
 * event with which they begin, then of SIGNAL_KINDS.
 */
export const SIGNAL_LAYOUT = {
  signals: {
    /** the one with which it begins */
    event: only('u32'),
    /** how many events it consists of */
    events: only('u16'),
    /** index into SIGNAL_KINDS */
    kind: only('u8'),
  },
  ofSessions: { firstSignal: starts },
  ofEvents: {
    /** FRICTION_BIT */
    friction: only('u8'),
  },
} as const

export type Columns = TablesOf<typeof COLUMN_LAYOUT>
export type ColumnShape = Shape<typeof COLUMN_LAYOUT>
export type SignalTables = TablesOf<typeof SIGNAL_LAYOUT>
export type SignalShape = Shape<typeof SIGNAL_LAYOUT>

/** Columns and the signals in them: what a question is asked of. A block never changes. */
export interface Block extends Omit<Columns, 'sessions' | 'events'> {
  sessions: Columns['sessions'] & Pick<SignalTables['ofSessions'], 'firstSignal'>
  events: Columns['events'] & Pick<SignalTables['ofEvents'], 'friction'>
  signals: SignalTables['signals']
}

/** Puts signals to the columns in which they were found. */
export function joinSignals(
  columns: Columns | Block,
  { signals, ofSessions, ofEvents }: SignalTables,
): Block {
  return {
    ...columns,
    sessions: { ...columns.sessions, firstSignal: ofSessions.firstSignal },
    events: { ...columns.events, friction: ofEvents.friction },
    signals,
  }
}

/** Memory for so many bytes, such as memory that threads share. */
export type Allocate = (bytes: number) => ArrayBufferLike
export const ownMemory: Allocate = (bytes) => new ArrayBuffer(bytes)

/** What must be known to view a block in another thread, which shares its memory. */
export interface BlockParts {
  columns: ColumnShape
  signals: SignalShape
  memory: ArrayBufferLike
  signalMemory: ArrayBufferLike
}

export function partsOf(block: Block): BlockParts {
  return {
    columns: shapeOf(COLUMN_LAYOUT, block),
    signals: signalShape(signalsOf(block)),
    memory: block.sessions.id.buffer,
    signalMemory: block.signals.event.buffer,
  }
}

/** The signals of a block, apart from its columns. */
export function signalsOf({ signals, sessions, events }: Block): SignalTables {
  return {
    signals,
    ofSessions: { count: sessions.count, firstSignal: sessions.firstSignal },
    ofEvents: { count: events.count, friction: events.friction },
  }
}

export function signalShape(found: SignalTables): SignalShape {
  return shapeOf(SIGNAL_LAYOUT, found)
}

/** Signals over memory that threads share. @throws RangeError where that is too small */
export function viewSignals(shape: SignalShape, memory: ArrayBufferLike): SignalTables {
  return viewTables(SIGNAL_LAYOUT, shape, memory)
}

/** A block over memory that threads share. @throws RangeError where that is too small */
export function viewBlock({ columns, signals, memory, signalMemory }: BlockParts): Block {
  return joinSignals(viewTables(COLUMN_LAYOUT, columns, memory), viewSignals(signals, signalMemory))
}

/** How many bytes a block takes, its indexes included. */
export function blockBytes({ columns, signals }: Pick<BlockParts, 'columns' | 'signals'>): number {
  return bytesOf(COLUMN_LAYOUT, columns) + bytesOf(SIGNAL_LAYOUT, signals)
}

/** The row that event i has in a table of some events alone; -1 where it has none. */
export function rowOf(has: Uint32Array, before: Uint32Array, i: number): number {
  const word = has[i >>> 5]!
  const bit = 1 << (i & 31)
  if ((word & bit) === 0) return -1
  return before[i >>> 5]! + countBits(word & (bit - 1))
}

/** How many page views of a block come before event i. */
export function viewsBefore({ isView, viewsBefore: before }: Columns['events'], i: number): number {
  return before[i >>> 5]! + countBits(isView[i >>> 5]! & ((1 << (i & 31)) - 1))
}

/** Whether event i of a block is a page view. */
export function isView({ isView: bits }: Columns['events'], i: number): boolean {
  return (bits[i >>> 5]! & (1 << (i & 31))) !== 0
}

type Measured = Pick<Columns, 'events' | 'measures'>

/** The number of event i, see `measures`; NaN where it has none. */
export function numberAt({ events, measures }: Measured, i: number): number {
  const row = rowOf(events.hasMeasure, events.measuresBefore, i)
  return row < 0 ? NaN : measures.number[row]!
}

/** The amount of event i, see `measures`; NaN where it has none. */
export function amountAt({ events, measures }: Measured, i: number): number {
  const row = rowOf(events.hasMeasure, events.measuresBefore, i)
  return row < 0 ? NaN : measures.amount[row]!
}

/** Where the properties of event i lie in `props`: from the first number on, below the second. */
export function propsRange(
  { events, propped }: Pick<Columns, 'events' | 'propped'>,
  i: number,
): [from: number, to: number] {
  const row = rowOf(events.hasProps, events.propsBefore, i)
  return row < 0 ? [0, 0] : [propped.first[row]!, propped.first[row + 1]!]
}
