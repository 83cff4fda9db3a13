import { countBits } from '../stats/bit-count.ts'
import type { Allocate, Columns, ColumnShape } from './block.ts'
import { COLUMN_LAYOUT, ownMemory, viewsBefore } from './block.ts'
import type { DenseBlock } from './dense-block.ts'
import { KIND_CODE } from './event-codes.ts'
import type { Codes, Column, Numbers } from './layout.ts'
import { bytesOf, codes, copyColumns, times, viewTables } from './layout.ts'
import { countPages, fillPageIndex } from './page-index.ts'

/**
 * Columns as questions read them, from dense ones: narrow, without what is not known, and with their indexes.
 * Complexity: events × columns.
 *
 * @param allocate  gives the memory that the columns lie in
 */
export function compactColumns(dense: DenseBlock, allocate: Allocate = ownMemory): Columns {
  const { x, y, rx, ry, w, h, number, amount, detail, firstProp, kind, count: n } = dense.events
  const words = (n + 31) >>> 5
  const hasPoint = new Uint32Array(words)
  const hasMeasure = new Uint32Array(words)
  const hasProps = new Uint32Array(words)
  const isView = new Uint32Array(words)
  const points = markKnown(hasPoint, [x, y, rx, ry, w, h])
  const measures = markKnown(hasMeasure, [number, amount, detail])
  let propped = 0
  let views = 0
  for (let i = 0; i < n; i++) {
    if (firstProp[i + 1]! > firstProp[i]!) {
      hasProps[i >>> 5]! |= 1 << (i & 31)
      propped++
    }
    if (kind[i] === KIND_CODE.page) {
      isView[i >>> 5]! |= 1 << (i & 31)
      views++
    }
  }
  const index = countPages(dense)
  const counts: ColumnShape['counts'] = {
    sessions: dense.sessions.count,
    events: n,
    points,
    measures,
    propped,
    props: dense.props.count,
    views,
    postings: n,
    pages: index.pages,
  }
  const shape = { counts, forms: formsFor(dense) }
  const block = viewTables(COLUMN_LAYOUT, shape, allocate(bytesOf(COLUMN_LAYOUT, shape)))
  copyColumns(dense.sessions, block.sessions)
  copyColumns(dense.events, block.events)
  copyColumns(dense.props, block.props)
  rank(hasPoint, block.events.hasPoint, block.events.pointsBefore)
  rank(hasMeasure, block.events.hasMeasure, block.events.measuresBefore)
  rank(isView, block.events.isView, block.events.viewsBefore)
  rank(hasProps, block.events.hasProps, block.events.propsBefore)
  fillSparse(dense, block)
  listViews(block)
  fillPageIndex(block, index)
  return block
}

/** Bits of NaN without its sign: all 32 of them, or the upper half of 64. */
const NAN_32 = 0x7fc0_0000
const NAN_64 = 0x7ff8_0000

/** Marks the events of which any of some columns holds a number other than NaN; returns how many these are. */
function markKnown(has: Uint32Array, columns: readonly (Float32Array | Float64Array)[]): number {
  for (const column of columns) {
    // NaN is found by its bits, since comparing floating-point numbers takes several times as long.
    const wide = column instanceof Float64Array
    const bits = new Int32Array(column.buffer, column.byteOffset, wide ? 2 * column.length : column.length)
    const shift = wide ? 1 : 0
    const unknown = wide ? NAN_64 : NAN_32
    for (let i = 0; i < column.length; i++)
      if ((bits[(i << shift) + shift]! & 0x7fff_ffff) < unknown) has[i >>> 5]! |= 1 << (i & 31)
  }
  let marked = 0
  for (let w = 0; w < has.length; w++) marked += countBits(has[w]!)
  return marked
}

/** By column the index of the narrowest form that holds what is there; 0 is left out. */
function formsFor(dense: DenseBlock): Record<string, number> {
  const chosen: Record<string, number> = {}
  const formOfCodes = new Map<ArrayLike<number>, number>()
  for (const [table, columns] of Object.entries(COLUMN_LAYOUT))
    for (const [name, column] of Object.entries(columns) as [string, Column][]) {
      if (column.forms.length === 1) continue
      const values = valuesFor(dense, table, name)
      let form: number
      if (column === codes) {
        form = formOfCodes.get(values) ?? codeForm(highest(values as Codes))
        formOfCodes.set(values, form)
      } else if (column === times) form = everyFits(values, (value) => value >>> 0 === value)
      else form = everyFits(values, (value) => Math.fround(value) === value || value !== value)
      if (form > 0) chosen[`${table}.${name}`] = form
    }
  return chosen
}

/** What a column will hold, or something with numbers as large. */
function valuesFor(dense: DenseBlock, table: string, name: string): ArrayLike<number> {
  if (table === 'postings') return Uint32Array.of(Math.max(0, dense.sessions.count - 1))
  if (table === 'views' || table === 'pages') return dense.events.page
  const source = table === 'measures' ? dense.events : dense[table as keyof DenseBlock]
  return (source as unknown as Record<string, ArrayLike<number>>)[name] ?? []
}

/** The index of the narrowest form that holds codes up to this one. */
export function codeForm(most: number): number {
  return most < 256 ? 0 : most < 65_536 ? 1 : 2
}

function highest(values: Codes): number {
  let most = 0
  for (let i = 0; i < values.length; i++) if (values[i]! > most) most = values[i]!
  return most
}

/** 0 where the narrow form holds every value, else 1. */
export function everyFits(values: ArrayLike<number>, fits: (value: number) => boolean): number {
  for (let i = 0; i < values.length; i++) if (!fits(values[i]!)) return 1
  return 0
}

/** Writes bits, and before each word how many bits are set in those before it. */
export function rank(has: Uint32Array, into: Uint32Array, before: Uint32Array): void {
  into.set(has)
  for (let w = 1; w < has.length; w++) before[w] = before[w - 1]! + countBits(has[w - 1]!)
}

function fillSparse({ events }: DenseBlock, { events: compact, points, measures, propped }: Columns): void {
  gather(
    compact.hasPoint,
    [events.x, events.y, events.rx, events.ry, events.w, events.h],
    [points.x, points.y, points.rx, points.ry, points.w, points.h],
  )
  gather(
    compact.hasMeasure,
    [events.number, events.amount, events.detail, events.currency],
    [measures.number, measures.amount, measures.detail, measures.currency],
  )
  gather(compact.hasProps, [events.firstProp], [propped.first])
  propped.first[propped.count] = events.firstProp[events.count]!
}

/** Takes from columns what marked events have. */
function gather(
  has: Uint32Array,
  from: readonly ArrayLike<number>[],
  to: readonly (Numbers | Codes)[],
): void {
  let row = 0
  for (let w = 0; w < has.length; w++)
    for (let word = has[w]!; word !== 0; word &= word - 1) {
      const i = (w << 5) + 31 - Math.clz32(word & -word)
      for (let k = 0; k < from.length; k++) to[k]![row] = from[k]![i]!
      row++
    }
}

/** The page views alone, in order of event; the events say already which they are. */
export function listViews({ sessions, events, views }: Columns): void {
  const { isView, page } = events
  let view = 0
  for (let w = 0; w < isView.length; w++)
    for (let word = isView[w]!; word !== 0; word &= word - 1) {
      const i = (w << 5) + 31 - Math.clz32(word & -word)
      views.event[view] = i
      views.page[view++] = page[i]!
    }
  // A last session of which nothing is left begins behind all events, where there may be no word of bits any more.
  for (let s = 0; s < sessions.count; s++) {
    const first = sessions.firstEvent[s]!
    sessions.firstView[s] = first < events.count ? viewsBefore(events, first) : view
  }
  sessions.firstView[sessions.count] = view
}
