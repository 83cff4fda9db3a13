import { countBits } from '../stats/bit-count.ts'
import type { Allocate, Columns, ColumnShape } from './block.ts'
import { COLUMN_LAYOUT, ownMemory } from './block.ts'
import { codeForm, everyFits, listViews, rank } from './compact.ts'
import { KIND_CODE } from './event-codes.ts'
import type { AnyColumn, Codes, Numbers } from './layout.ts'
import { bytesOf, viewTables } from './layout.ts'
import { countPages, fillPageIndex } from './page-index.ts'
import type { AnyNumbers, ColumnForm, Written } from './packed-numbers.ts'
import { readNumbers, readWritten } from './packed-numbers.ts'
import { Scratch } from './scratch.ts'

/*
 * From a packed block straight to the columns of questions: what is not known of an event is never written out. What this
 * makes is what compact.ts makes of the same block's dense columns, in a third of the time.
 */

/** A column as it lies in a packed block. */
export interface StoredColumn {
  bytes: Uint8Array
  form: ColumnForm & { steps?: true }
  /** how many numbers it has, those that are not known among them */
  length: number
  /** by the block's own code that of the dictionary to be used; undefined where the column has no codes, or no words */
  codes: Uint32Array | undefined
}

/** Looked up once: for every event it would be read anew. */
const PAGE = KIND_CODE.page

const POINTS = ['x', 'y', 'rx', 'ry', 'w', 'h'] as const
const MEASURES = ['number', 'amount', 'detail'] as const

/** Columns of all events that are made before it is known how wide they must be. */
const eventScratch = new Scratch((rows) => ({ atMs: new Uint32Array(rows), page: new Uint32Array(rows) }))

/**
 * Columns and their indexes from the stored columns of version 4. Complexity: events × columns that hold anything.
 *
 * @param stored  a column by "table.column", as named in dense-block.ts
 * @param counts  rows by table
 */
export function unpackCompact(
  stored: (name: string) => StoredColumn,
  counts: { sessions: number; events: number; props: number },
  allocate: Allocate = ownMemory,
): Columns {
  const n = counts.events
  const firstEvent = summed(stored('sessions.firstEvent'), new Uint32Array(counts.sessions + 1))
  const firstProp = summed(stored('events.firstProp'), new Uint32Array(n + 1))
  const kind = new Uint8Array(written(stored('events.kind')).numbers)
  const scratch = eventScratch.lend(n)
  const page = scratch.page.subarray(0, n)
  pagesOf(stored('events.page'), firstEvent, kind, page)
  const atMs = timesOf(stored('events.atMs'), firstEvent, scratch.atMs.subarray(0, n))
  const words = (n + 31) >>> 5
  const points = POINTS.map((name) => written(stored(`events.${name}`)))
  const measures = MEASURES.map((name) => written(stored(`events.${name}`)))
  const hasPoint = anyOf(points, n)
  const hasMeasure = anyOf(measures, n)
  const isView = new Uint32Array(words)
  for (let i = 0; i < n; i++) if (kind[i] === PAGE) isView[i >>> 5]! |= 1 << (i & 31)
  const hasProps = new Uint32Array(words)
  if (counts.props)
    for (let i = 0; i < n; i++) if (firstProp[i + 1]! > firstProp[i]!) hasProps[i >>> 5]! |= 1 << (i & 31)
  const index = countPages({
    sessions: { count: counts.sessions, firstEvent },
    events: { count: n, kind, page },
  })
  const shape: ColumnShape = {
    counts: {
      sessions: counts.sessions,
      events: n,
      points: bitsIn(hasPoint),
      measures: bitsIn(hasMeasure),
      propped: bitsIn(hasProps),
      props: counts.props,
      views: bitsIn(isView),
      postings: n,
      pages: index.pages,
    },
    forms: {},
  }
  const forms: Record<string, number> = {}
  const form = (name: string, chosen: number) => {
    if (chosen > 0) forms[name] = chosen
  }
  for (const name of ['browser', 'os', 'country', 'channel', 'source', 'campaign'])
    form(`sessions.${name}`, codeFormOf(stored(`sessions.${name}`)))
  for (const name of ['target', 'text', 'name']) form(`events.${name}`, codeFormOf(stored(`events.${name}`)))
  const pageForm = codeFormOf(stored('events.page'))
  for (const name of ['events.page', 'views.page', 'pages.page']) form(name, pageForm)
  form('events.atMs', atMs instanceof Float64Array ? 1 : 0)
  MEASURES.forEach((name, k) => form(`measures.${name}`, singleFits(measures[k]!.numbers)))
  form('measures.currency', codeFormOf(stored('events.currency')))
  form('props.key', codeFormOf(stored('props.key')))
  form('props.text', codeFormOf(stored('props.text')))
  const propNumbers = written(stored('props.number'))
  form('props.number', singleFits(propNumbers.numbers))
  form('postings.session', codeForm(Math.max(0, counts.sessions - 1)))
  shape.forms = forms

  const block = viewTables(COLUMN_LAYOUT, shape, allocate(bytesOf(COLUMN_LAYOUT, shape)))
  const { sessions, events, props } = block
  for (const [name, column] of Object.entries(sessions) as [string, AnyColumn | number][])
    if (typeof column !== 'number' && name !== 'firstEvent' && name !== 'firstView')
      plain(stored(`sessions.${name}`), column)
  sessions.firstEvent.set(firstEvent)
  events.kind.set(kind)
  events.atMs.set(atMs)
  events.page.set(page)
  for (const name of ['target', 'text', 'name', 'effect', 'traits'] as const)
    plain(stored(`events.${name}`), events[name])
  for (const name of ['key', 'text', 'number'] as const) plain(stored(`props.${name}`), props[name])
  rank(hasPoint, events.hasPoint, events.pointsBefore)
  rank(hasMeasure, events.hasMeasure, events.measuresBefore)
  rank(isView, events.isView, events.viewsBefore)
  rank(hasProps, events.hasProps, events.propsBefore)
  POINTS.forEach((name, k) => gatherKnown(hasPoint, points[k]!, block.points[name]))
  MEASURES.forEach((name, k) => gatherKnown(hasMeasure, measures[k]!, block.measures[name]))
  gatherCodes(hasMeasure, stored('events.currency'), block.measures.currency)
  gatherAll(hasProps, firstProp, block.propped.first)
  block.propped.first[block.propped.count] = firstProp[n]!
  listViews(block)
  fillPageIndex(block, index)
  return block
}

const written = ({ bytes, form, length }: StoredColumn) => readWritten(bytes, form, length)

/** Numbers that were written as distances, or as they are. */
function summed({ bytes, form }: StoredColumn, into: Uint32Array): Uint32Array {
  readNumbers(bytes, form, into)
  if (form.steps && form.form !== 'zero') for (let i = 1; i < into.length; i++) into[i]! += into[i - 1]!
  return into
}

/** The pages of events: written 0 where it is that of the event before in the session, those of views before all others. */
function pagesOf(column: StoredColumn, firstEvent: Uint32Array, kind: Uint8Array, into: Uint32Array): void {
  const { numbers } = written(column)
  const { codes } = column
  let view = 0
  for (let i = 0; i < kind.length; i++) if (kind[i] === PAGE) view++
  let other = view
  view = 0
  for (let s = 0; s + 1 < firstEvent.length; s++) {
    let before = 0
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      const changed = numbers[kind[i] === PAGE ? view++ : other++]!
      if (changed !== 0) before = codes ? codes[changed - 1]! : changed - 1
      else if (i === firstEvent[s]) before = codes ? codes[0]! : 0
      into[i] = before
    }
  }
}

/** Times since the start of each session, in 32 bits where these hold them. */
function timesOf(
  column: StoredColumn,
  firstEvent: Uint32Array,
  into: Uint32Array,
): Uint32Array | Float64Array {
  const { numbers } = written(column)
  if (column.form.steps && !column.form.gaps) {
    let most = 0
    for (let s = 0; s + 1 < firstEvent.length; s++) {
      let at = 0
      for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
        at += numbers[i]!
        into[i] = at
      }
      if (at > most) most = at
    }
    if (most < 2 ** 32) return into
  }
  const wide = new Float64Array(into.length)
  readNumbers(column.bytes, column.form, wide)
  if (column.form.steps)
    for (let s = 0; s + 1 < firstEvent.length; s++)
      for (let i = firstEvent[s]! + 1; i < firstEvent[s + 1]!; i++) wide[i]! += wide[i - 1]!
  if (everyFits(wide, (value) => value >>> 0 === value) > 0) return wide
  into.set(wide)
  return into
}

/** A bit for each event that has a number in any of some columns. */
function anyOf(columns: readonly Written[], n: number): Uint32Array {
  const has = new Uint32Array((n + 31) >>> 5)
  const bytes = new Uint8Array(has.buffer)
  for (const { mask } of columns) {
    if (mask) for (let b = 0; b < mask.length; b++) bytes[b]! |= mask[b]!
    else {
      has.fill(0xffff_ffff)
      if (n & 31) has[has.length - 1] = 2 ** (n & 31) - 1
      return has
    }
  }
  return has
}

function bitsIn(has: Uint32Array): number {
  let bits = 0
  for (let w = 0; w < has.length; w++) bits += countBits(has[w]!)
  return bits
}

/** Of a column of codes the index of the narrowest form that holds them: a block has no words that it does not use. */
function codeFormOf({ codes, bytes, form, length }: StoredColumn): number {
  if (!codes && form.form === 'zero') return codeForm(0)
  const values = codes ?? readWritten(bytes, form, length).numbers
  let most = 0
  for (let i = 0; i < values.length; i++) if (values[i]! > most) most = values[i]!
  return codeForm(most)
}

/** 0 where single precision gives every number back, else 1. */
function singleFits(numbers: AnyNumbers): number {
  if (numbers instanceof Float64Array || numbers instanceof Uint32Array)
    return everyFits(numbers, (value) => Math.fround(value) === value)
  return 0
}

/** A column in which every row has a number. */
function plain({ bytes, form, codes, length }: StoredColumn, into: AnyColumn): void {
  if (!codes) {
    readNumbers(bytes, form, into)
    if (form.steps && form.form !== 'zero') for (let i = 1; i < length; i++) into[i]! += into[i - 1]!
    return
  }
  const { numbers } = readWritten(bytes, form, length)
  recode(numbers, codes, into)
}

function recode(numbers: AnyNumbers, codes: Uint32Array, into: AnyColumn): void {
  for (let i = 0; i < numbers.length; i++) into[i] = codes[numbers[i]!]!
}

/** Of a column what marked events have; NaN for those of which it is not known. */
function gatherKnown(has: Uint32Array, { numbers, mask }: Written, into: Numbers): void {
  // Mostly all columns are known of the same events.
  if (numbers.length === into.length) {
    into.set(numbers)
    return
  }
  let row = 0
  let k = 0
  for (let w = 0; w < has.length; w++)
    for (let word = has[w]!; word !== 0; word &= word - 1) {
      const bit = 31 - Math.clz32(word & -word)
      const known = mask![(w << 2) + (bit >>> 3)]! & (1 << (bit & 7))
      into[row++] = known ? numbers[k++]! : NaN
    }
}

function gatherCodes(has: Uint32Array, column: StoredColumn, into: Codes): void {
  if (column.form.form === 'zero') {
    into.fill(column.codes?.[0] ?? 0)
    return
  }
  const all = new Uint32Array(column.length)
  plain(column, all)
  gatherAll(has, all, into)
}

/** Takes from a column what marked events have. */
function gatherAll(has: Uint32Array, from: ArrayLike<number>, into: Codes): void {
  let row = 0
  for (let w = 0; w < has.length; w++)
    for (let word = has[w]!; word !== 0; word &= word - 1)
      into[row++] = from[(w << 5) + 31 - Math.clz32(word & -word)]!
}
