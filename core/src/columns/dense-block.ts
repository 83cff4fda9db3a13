import type { Shape, TablesOf } from './layout.ts'
import { bytesOf, columnOf, eachColumn, only, starts, viewTables } from './layout.ts'

/**
 * Sessions and their events as dense columns: every event has an entry in every column, in arrays wide enough for
 * anything. It is what is written and packed; questions are asked of a compact Block (block.ts), which is made of it.
 * Codes point into the site's Dictionaries. The order of the columns is part of the stored format (packing.ts).
 */
export const DENSE_LAYOUT = {
  sessions: {
    id: only('f64'),
    /** milliseconds since 1970 */
    startMs: only('f64'),
    endMs: only('f64'),
    visitor: only('u32'),
    /** events of session s lie at firstEvent[s] <= i < firstEvent[s + 1], in order of time */
    firstEvent: starts,
    browser: only('u32'),
    os: only('u32'),
    country: only('u32'),
    channel: only('u32'),
    source: only('u32'),
    campaign: only('u32'),
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
    atMs: only('f64'),
    /** status of a page or request, depth of a scroll, length of an input, ms of leave and freeze; NaN = not known */
    number: only('f64'),
    /** the page on which it happened */
    page: only('u32'),
    target: only('u32'),
    /** text of the target; the variant; the answer */
    text: only('u32'),
    /** action, gesture, signal name; request path; error message; experiment; question */
    name: only('u32'),
    /** properties of event i lie at firstProp[i] <= p < firstProp[i + 1] */
    firstProp: starts,
    /** where a click fell, CSS px on the page; NaN = not known */
    x: only('f32'),
    y: only('f32'),
    /** and as a share of the target's width and height */
    rx: only('f32'),
    ry: only('f32'),
    /** ms until a page was there, ms of a request, value of an action; NaN = not known */
    amount: only('f64'),
    /** see `measures` in block.ts; NaN = not known */
    detail: only('f64'),
    /** size of a click's target, CSS px; NaN = not known */
    w: only('f32'),
    h: only('f32'),
    /** of the value of an action; 0 = the site's own */
    currency: only('u16'),
    /** KIND_CODE */
    kind: only('u8'),
    /** index into EFFECTS + 1, 0 = not known */
    effect: only('u8'),
    /** TRAIT_BIT */
    traits: only('u8'),
  },
  /** free properties of events: a search page's results, a site's own values */
  props: {
    /** its number, 0 or 1 for a truth value; NaN where it is a text */
    number: only('f64'),
    key: only('u32'),
    /** its text; 0 where it is a number or a truth value */
    text: only('u32'),
  },
} as const

export type DenseBlock = TablesOf<typeof DENSE_LAYOUT>
export type DenseTable = keyof DenseBlock
export type DenseCounts = Shape<typeof DENSE_LAYOUT>['counts']

const shapeFor = (counts: DenseCounts) => ({ counts, forms: {} })

/** A block with room for so many rows, all zero unless memory is given. @throws RangeError where that is too small */
export function denseBlock(counts: DenseCounts, buffer?: ArrayBuffer): DenseBlock {
  return viewTables(DENSE_LAYOUT, shapeFor(counts), buffer ?? new ArrayBuffer(denseBytes(counts)))
}

/** How many bytes a block of so many rows takes. */
export function denseBytes(counts: DenseCounts): number {
  return bytesOf(DENSE_LAYOUT, shapeFor(counts))
}

/** How many rows each table of a dense block has: what its memory can be laid out by again. */
export function denseCounts(block: DenseBlock): DenseCounts {
  const { sessions, events, props } = block
  return {
    sessions: sessions.count,
    events: events.count,
    props: props.count,
  }
}

/** Visits the columns of a block of so many rows in the order in which they are stored. */
export function eachDenseColumn(
  counts: DenseCounts,
  visit: (table: DenseTable, name: string, length: number) => void,
): void {
  eachColumn(DENSE_LAYOUT, shapeFor(counts), (table, name, _form, length) => visit(table, name, length))
}

/** A column by its name. */
export function denseColumn(block: DenseBlock, table: DenseTable, name: string) {
  return columnOf<typeof DENSE_LAYOUT>(block, table, name)
}
