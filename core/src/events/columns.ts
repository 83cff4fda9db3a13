import { ones } from '../sets/bits.ts'
import type { Dictionaries } from './dictionaries.ts'
import type { LooseBlock, SessionRow } from './loose.ts'
import { buildLoose, KIND } from './loose.ts'

/**
 * Sessions and their events as columns, each as narrow as its numbers allow, with the indexes that questions need.
 * Event i of session s lies at `firstEvent[s] <= i < firstEvent[s + 1]`, in order of time; signals and page views
 * likewise. Codes point into the site's Dictionaries.
 */
export interface Block {
  sessions: {
    count: number
    id: Float64Array
    startMs: Float64Array
    endMs: Float64Array
    visitor: Uint32Array
    firstEvent: Uint32Array
    firstSignal: Uint32Array
    firstView: Uint32Array
    browser: Codes
    os: Codes
    country: Codes
    channel: Codes
    source: Codes
    campaign: Codes
    width: Uint16Array
    height: Uint16Array
    returning: Uint8Array
    /** index into DEVICE_CLASSES + 1, 0 = not known */
    device: Uint8Array
  }
  events: {
    count: number
    /** milliseconds since the start of the session */
    atMs: Times
    /** the page on which it happened */
    page: Codes
    target: Codes
    /** text of the target; the variant; the answer */
    text: Codes
    /** action, gesture, signal name; request path; error message; experiment; question */
    name: Codes
    /** bits of those that have a row in `points`, and how many rows lie before each 32 of them; see rowOf */
    hasPoint: Uint32Array
    pointsBefore: Uint32Array
    isView: Uint32Array
    viewsBefore: Uint32Array
    hasMeasure: Uint32Array
    measuresBefore: Uint32Array
    hasProps: Uint32Array
    propsBefore: Uint32Array
    /** index into KINDS */
    kind: Uint8Array
    /** index into EFFECTS + 1, 0 = not known */
    effect: Uint8Array
    /** bit set of FRICTION: what the click was part of */
    friction: Uint8Array
  }
  /** where clicks fell; NaN = not known */
  points: {
    count: number
    x: Float32Array
    y: Float32Array
    /** share of the target's width and height */
    rx: Float32Array
    ry: Float32Array
  }
  /** numbers of events that have one; NaN = not known */
  measures: {
    count: number
    /** status of a page or request, depth of a scroll, length of an input, ms of leave and freeze */
    number: Numbers
    /** ms until a page was there, ms of a request, value of an action */
    amount: Float32Array
  }
  /** events with free properties: those of row r lie at first[r] <= p < first[r + 1] in `props` */
  propped: { count: number; first: Uint32Array }
  props: {
    count: number
    key: Codes
    /** its text; 0 where it is a number or a truth value */
    text: Codes
    /** its number, 0 or 1 for a truth value; NaN where it is a text */
    number: Numbers
  }
  signals: {
    count: number
    /** index into SIGNAL_KINDS */
    kind: Uint8Array
    atMs: Times
    page: Codes
    target: Codes
    text: Codes
    name: Codes
    /** how many clicks it took */
    clicks: Uint16Array
  }
  /** page views alone, in order of event */
  views: {
    count: number
    event: Uint32Array
    page: Codes
  }
  /**
   * all events again, page by page, with the session of each: first the views of a page, of these first those that are
   * the first of their session, then what else happened on it by kind and target
   */
  postings: { count: number; event: Uint32Array; session: Codes }
  /**
   * pages on which anything happened: what happened on pages.page[k] lies at first[k] <= i < first[k + 1] in postings,
   * views that are not the first of their session from again[k], what is no view of it from other[k]
   */
  pages: { count: number; page: Codes; first: Uint32Array; again: Uint32Array; other: Uint32Array }
}

export type Codes = Uint8Array | Uint16Array | Uint32Array
export type Times = Uint32Array | Float64Array
export type Numbers = Float32Array | Float64Array

type Constructor =
  | Uint8ArrayConstructor
  | Uint16ArrayConstructor
  | Uint32ArrayConstructor
  | Float32ArrayConstructor
  | Float64ArrayConstructor

interface Column {
  /** from the narrowest to one that holds whatever there may be */
  forms: readonly [Constructor, ...Constructor[]]
  /** one entry more than there are rows, or one for each 32 rows begun */
  length?: 'one more' | 'words'
}

const only = (form: Constructor): Column => ({ forms: [form] })
const ends: Column = { forms: [Uint32Array], length: 'one more' }
const bits: Column = { forms: [Uint32Array], length: 'words' }
const codes: Column = { forms: [Uint8Array, Uint16Array, Uint32Array] }
const times: Column = { forms: [Uint32Array, Float64Array] }
const numbers: Column = { forms: [Float32Array, Float64Array] }

/** How each column is held, in the order in which they lie in memory. */
export const LAYOUT = {
  sessions: {
    id: only(Float64Array),
    startMs: only(Float64Array),
    endMs: only(Float64Array),
    visitor: only(Uint32Array),
    firstEvent: ends,
    firstSignal: ends,
    firstView: ends,
    browser: codes,
    os: codes,
    country: codes,
    channel: codes,
    source: codes,
    campaign: codes,
    width: only(Uint16Array),
    height: only(Uint16Array),
    returning: only(Uint8Array),
    device: only(Uint8Array),
  },
  events: {
    atMs: times,
    page: codes,
    target: codes,
    text: codes,
    name: codes,
    hasPoint: bits,
    pointsBefore: bits,
    isView: bits,
    viewsBefore: bits,
    hasMeasure: bits,
    measuresBefore: bits,
    hasProps: bits,
    propsBefore: bits,
    kind: only(Uint8Array),
    effect: only(Uint8Array),
    friction: only(Uint8Array),
  },
  points: {
    x: only(Float32Array),
    y: only(Float32Array),
    rx: only(Float32Array),
    ry: only(Float32Array),
  },
  measures: { number: numbers, amount: only(Float32Array) },
  propped: { first: ends },
  props: { key: codes, text: codes, number: numbers },
  signals: {
    atMs: times,
    page: codes,
    target: codes,
    text: codes,
    name: codes,
    clicks: only(Uint16Array),
    kind: only(Uint8Array),
  },
  views: { event: only(Uint32Array), page: codes },
  postings: { event: only(Uint32Array), session: codes },
  pages: { page: codes, first: ends, again: only(Uint32Array), other: only(Uint32Array) },
} as const satisfies Record<keyof Block, Record<string, Column>>

type Table = keyof Block

/** What one must know of a block to find its columns in a piece of memory. */
export interface Shape {
  counts: Record<Table, number>
  /** which of its forms a column has, by "table.column"; absent = the narrowest */
  forms: Readonly<Record<string, number>>
}

const TABLES = Object.keys(LAYOUT) as Table[]
const ALIGN = 8

function eachColumn(
  { counts, forms: chosen }: Shape,
  visit: (table: Table, column: string, form: Constructor, length: number) => void,
): void {
  for (const table of TABLES)
    for (const [column, { forms, length }] of Object.entries(LAYOUT[table] as Record<string, Column>)) {
      const form = forms[chosen[`${table}.${column}`] ?? 0]!
      const rows = counts[table]
      visit(
        table,
        column,
        form,
        length === 'words' ? (rows + 31) >>> 5 : length === 'one more' ? rows + 1 : rows,
      )
    }
}

/** Bytes that a block of such a shape takes, its indexes included. */
export function bytesOf(shape: Shape): number {
  let bytes = 0
  eachColumn(shape, (_, __, form, length) => (bytes += aligned(length * form.BYTES_PER_ELEMENT)))
  return bytes
}

/** Columns over one piece of memory, which threads can share. @throws RangeError where it is too small */
export function viewBlock(shape: Shape, buffer: ArrayBufferLike): Block {
  const block: Record<string, Record<string, unknown>> = {}
  for (const table of TABLES) block[table] = { count: shape.counts[table] }
  let at = 0
  eachColumn(shape, (table, column, form, length) => {
    block[table]![column] = new form(buffer as ArrayBuffer, at, length)
    at += aligned(length * form.BYTES_PER_ELEMENT)
  })
  return block as unknown as Block
}

/** The shape of a block that is there already. */
export function shapeOf(block: Block): Shape {
  const chosen: Record<string, number> = {}
  for (const table of TABLES)
    for (const [column, { forms }] of Object.entries(LAYOUT[table] as Record<string, Column>)) {
      const held = (block[table] as unknown as Record<string, { constructor: unknown }>)[column]!
      const form = forms.findIndex((one) => one === held.constructor)
      if (form > 0) chosen[`${table}.${column}`] = form
    }
  const counts = Object.fromEntries(TABLES.map((table) => [table, block[table].count])) as Shape['counts']
  return { counts, forms: chosen }
}

function aligned(bytes: number): number {
  return Math.ceil(bytes / ALIGN) * ALIGN
}

/** The row that event i has in a table of some events alone; -1 where it has none. */
export function rowOf(has: Uint32Array, before: Uint32Array, i: number): number {
  const word = has[i >>> 5]!
  const bit = 1 << (i & 31)
  if ((word & bit) === 0) return -1
  return before[i >>> 5]! + ones(word & (bit - 1))
}

/** How many page views of a block come before event i. */
export function viewsBefore({ isView, viewsBefore: before }: Block['events'], i: number): number {
  return before[i >>> 5]! + ones(isView[i >>> 5]! & ((1 << (i & 31)) - 1))
}

/** Whether event i of a block is a page view. */
export function isView({ isView: bits }: Block['events'], i: number): boolean {
  return (bits[i >>> 5]! & (1 << (i & 31))) !== 0
}

/** The number of an event: see Block.measures; NaN where it has none. */
export function numberAt({ events, measures }: Block, i: number): number {
  const row = rowOf(events.hasMeasure, events.measuresBefore, i)
  return row < 0 ? NaN : measures.number[row]!
}

/** The amount of an event: see Block.measures; NaN where it has none. */
export function amountAt({ events, measures }: Block, i: number): number {
  const row = rowOf(events.hasMeasure, events.measuresBefore, i)
  return row < 0 ? NaN : measures.amount[row]!
}

/**
 * Sessions as a block, in the order given. Detects their signals on the way.
 *
 * @param rows      each with at least one line, lines ascending in time
 * @param allocate  where the columns lie; memory that threads share, for one
 * @throws RangeError where a session has no lines or they are out of order
 */
export function buildBlock(
  rows: readonly SessionRow[],
  dictionaries: Dictionaries,
  allocate?: (bytes: number) => ArrayBufferLike,
): Block {
  return settle(buildLoose(rows, dictionaries), allocate)
}

/** Dense columns as they are held: narrow, without what is not known, and with their indexes. */
export function settle(
  loose: LooseBlock,
  allocate: (bytes: number) => ArrayBufferLike = (bytes) => new ArrayBuffer(bytes),
): Block {
  const { events } = loose
  const n = events.count
  const words = (n + 31) >>> 5
  const hasPoint = new Uint32Array(words)
  const hasMeasure = new Uint32Array(words)
  const hasProps = new Uint32Array(words)
  const isView = new Uint32Array(words)
  const counts: Shape['counts'] = {
    sessions: loose.sessions.count,
    events: n,
    points: 0,
    measures: 0,
    propped: 0,
    props: loose.props.count,
    signals: loose.signals.count,
    views: 0,
    postings: n,
    pages: 0,
  }
  const { x, y, rx, ry, number, amount, firstProp, kind, page } = events
  counts.points = mark(hasPoint, [x, y, rx, ry])
  counts.measures = mark(hasMeasure, [number, amount])
  for (let i = 0; i < n; i++)
    if (firstProp[i + 1]! > firstProp[i]!) {
      hasProps[i >>> 5]! |= 1 << (i & 31)
      counts.propped++
    }
  const sessionOf = sessionsOf(loose)
  const pageCodes = highest(page) + 1
  const happened = new Uint32Array(PLACES * pageCodes)
  const placeOf = placer(kind, page, pageCodes, sessionOf)
  for (let i = 0; i < n; i++) {
    if (kind[i] === KIND.page) {
      counts.views++
      isView[i >>> 5]! |= 1 << (i & 31)
    }
    happened[placeOf(i)]!++
  }
  for (let at = 0; at < happened.length; at += PLACES) if (anyAt(happened, at)) counts.pages++
  const shape = { counts, forms: formsFor(loose) }
  const block = viewBlock(shape, allocate(bytesOf(shape)))
  copy(loose.sessions, block.sessions)
  copy(loose.events, block.events)
  copy(loose.props, block.props)
  copy(loose.signals, block.signals)
  rank(hasPoint, block.events.hasPoint, block.events.pointsBefore)
  rank(hasMeasure, block.events.hasMeasure, block.events.measuresBefore)
  rank(isView, block.events.isView, block.events.viewsBefore)
  rank(hasProps, block.events.hasProps, block.events.propsBefore)
  fillSparse(loose, block)
  indexViews(block)
  indexPages(block, happened, pageCodes, sessionOf)
  return block
}

/** The bits of NaN without its sign; of 64 the upper half. */
const NAN_32 = 0x7fc0_0000
const NAN_64 = 0x7ff8_0000

/** Marks the events for which any of some columns knows a number; returns how many these are. */
function mark(has: Uint32Array, columns: readonly (Float32Array | Float64Array)[]): number {
  for (const column of columns) {
    // Of a number that is not known the bits are those of NaN: to compare numbers takes several times as long.
    const wide = column instanceof Float64Array
    const bits = new Int32Array(column.buffer, column.byteOffset, wide ? 2 * column.length : column.length)
    const shift = wide ? 1 : 0
    const unknown = wide ? NAN_64 : NAN_32
    for (let i = 0; i < column.length; i++)
      if ((bits[(i << shift) + shift]! & 0x7fff_ffff) < unknown) has[i >>> 5]! |= 1 << (i & 31)
  }
  let marked = 0
  for (let w = 0; w < has.length; w++) marked += ones(has[w]!)
  return marked
}

/** The narrowest forms that hold what is there. */
function formsFor(loose: LooseBlock): Record<string, number> {
  const chosen: Record<string, number> = {}
  const codeForms = new Map<ArrayLike<number>, number>()
  for (const table of TABLES)
    for (const [column, own] of Object.entries(LAYOUT[table] as Record<string, Column>)) {
      if (own.forms.length === 1) continue
      const values = valuesFor(loose, table, column)
      const form =
        own === codes
          ? (codeForms.get(values) ?? codeForm(values as Uint32Array))
          : own === times
            ? every(values, (value) => value >>> 0 === value)
            : every(values, (value) => Math.fround(value) === value || value !== value)
      if (own === codes) codeForms.set(values, form)
      if (form > 0) chosen[`${table}.${column}`] = form
    }
  return chosen
}

/** What a column will hold, or something as large. */
function valuesFor(loose: LooseBlock, table: Table, column: string): ArrayLike<number> {
  if (table === 'postings') return Uint32Array.of(Math.max(0, loose.sessions.count - 1))
  if (table === 'views' || table === 'pages') return loose.events.page
  const held = table === 'measures' ? loose.events : loose[table as keyof LooseBlock]
  return (held as unknown as Record<string, ArrayLike<number>>)[column] ?? []
}

function codeForm(values: Uint32Array): number {
  const most = highest(values)
  return most < 256 ? 0 : most < 65_536 ? 1 : 2
}

function highest(values: Uint32Array): number {
  let most = 0
  for (let i = 0; i < values.length; i++) if (values[i]! > most) most = values[i]!
  return most
}

/** 0 where the narrow form holds every value, else 1. */
function every(values: ArrayLike<number>, fits: (value: number) => boolean): number {
  for (let i = 0; i < values.length; i++) if (!fits(values[i]!)) return 1
  return 0
}

function copy(from: object, to: object): void {
  for (const [column, values] of Object.entries(to) as [string, Uint32Array | number][]) {
    const own = (from as Record<string, ArrayLike<number> | number | undefined>)[column]
    if (typeof values !== 'number' && own !== undefined) values.set(own as ArrayLike<number>)
  }
}

function rank(has: Uint32Array, into: Uint32Array, before: Uint32Array): void {
  into.set(has)
  for (let w = 1; w < has.length; w++) before[w] = before[w - 1]! + ones(has[w - 1]!)
}

function fillSparse({ events }: LooseBlock, { events: held, points, measures, propped }: Block): void {
  gather(
    held.hasPoint,
    [events.x, events.y, events.rx, events.ry],
    [points.x, points.y, points.rx, points.ry],
  )
  gather(held.hasMeasure, [events.number, events.amount], [measures.number, measures.amount])
  gather(held.hasProps, [events.firstProp], [propped.first])
  propped.first[propped.count] = events.firstProp[events.count]!
}

/** Takes from columns what marked events have. */
function gather(
  has: Uint32Array,
  from: readonly ArrayLike<number>[],
  to: readonly (Numbers | Uint32Array)[],
): void {
  let row = 0
  for (let w = 0; w < has.length; w++)
    for (let word = has[w]!; word !== 0; word &= word - 1) {
      const i = (w << 5) + 31 - Math.clz32(word & -word)
      for (let k = 0; k < from.length; k++) to[k]![row] = from[k]![i]!
      row++
    }
}

function indexViews({ sessions, events, views }: Block): void {
  let view = 0
  for (let s = 0; s < sessions.count; s++) {
    sessions.firstView[s] = view
    for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++) {
      if (events.kind[i] !== KIND.page) continue
      views.event[view] = i
      views.page[view++] = events.page[i]!
    }
  }
  sessions.firstView[sessions.count] = view
}

/** Of one page in the postings: the first view in each session, further views, all else. */
const PLACES = 3

/** Tells where an event belongs, as its page × PLACES + 0, 1 or 2; asked about page views in order of time. */
function placer(
  kind: ArrayLike<number>,
  page: ArrayLike<number>,
  pageCodes: number,
  sessionOf: Uint32Array,
): (event: number) => number {
  /** by page the session that viewed it last, plus 1 */
  const seenIn = new Uint32Array(pageCodes)
  return (event) => {
    const code = page[event]!
    if (kind[event] !== KIND.page) return code * PLACES + 2
    const before = seenIn[code]!
    seenIn[code] = sessionOf[event]! + 1
    return code * PLACES + (before === seenIn[code] ? 1 : 0)
  }
}

function sessionsOf({ sessions, events }: Pick<Block, 'sessions' | 'events'> | LooseBlock): Uint32Array {
  const sessionOf = new Uint32Array(events.count)
  for (let s = 0; s < sessions.count; s++)
    sessionOf.fill(s, sessions.firstEvent[s], sessions.firstEvent[s + 1])
  return sessionOf
}

function anyAt(happened: Uint32Array, at: number): boolean {
  return happened[at]! + happened[at + 1]! + happened[at + 2]! > 0
}

/** @param happened  by place how many events belong there: see placer */
function indexPages(
  { events, pages, postings }: Block,
  happened: Uint32Array,
  pageCodes: number,
  sessionOf: Uint32Array,
): void {
  /** where the next of them goes in postings */
  const next = new Uint32Array(happened.length)
  let first = 0
  let k = 0
  for (let at = 0; at < happened.length; at += PLACES) {
    if (!anyAt(happened, at)) continue
    pages.page[k] = at / PLACES
    pages.first[k] = next[at] = first
    pages.again[k] = next[at + 1] = first += happened[at]!
    pages.other[k++] = next[at + 2] = first += happened[at + 1]!
    first += happened[at + 2]!
  }
  pages.first[k] = first
  const { kind, page, target } = events
  const placeOf = placer(kind, page, pageCodes, sessionOf)
  const put = (i: number) => {
    const at = next[placeOf(i)]!++
    postings.event[at] = i
    postings.session[at] = sessionOf[i]!
  }
  // Views have no targets and lie in order of time; all else in place by target, by kind, then by page: what is alike
  // keeps its order.
  const others = new Uint32Array(events.count)
  let n = 0
  for (let i = 0; i < events.count; i++)
    if (kind[i] === KIND.page) put(i)
    else others[n++] = i
  const byKind = ordered(ordered(others.subarray(0, n), target), kind)
  for (let j = 0; j < n; j++) put(byKind[j]!)
}

/** Some events by a code that each has, those with the same in the order given. */
function ordered(list: Uint32Array, codes: Codes): Uint32Array {
  let most = 0
  for (let j = 0; j < list.length; j++) if (codes[list[j]!]! > most) most = codes[list[j]!]!
  const place = new Uint32Array(most + 2)
  for (let j = 0; j < list.length; j++) place[codes[list[j]!]! + 1]!++
  for (let code = 0; code <= most; code++) place[code + 1]! += place[code]!
  const sorted = new Uint32Array(list.length)
  for (let j = 0; j < list.length; j++) sorted[place[codes[list[j]!]!]!++] = list[j]!
  return sorted
}
