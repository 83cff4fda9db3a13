/*
 * Tables of columns in one piece of memory. A layout says which columns a table has and which typed arrays may hold each;
 * types, memory and views all follow from it. Used for both kinds of blocks: see dense-block.ts and block.ts.
 */

/** Codes of a dictionary, in the narrowest array that holds them. */
export type Codes = Uint8Array | Uint16Array | Uint32Array
/** Milliseconds: whole and below 2³² where that is so, else as they came. */
export type Times = Uint32Array | Float64Array
/** Numbers, in single precision where that loses nothing. */
export type Numbers = Float32Array | Float64Array

interface Arrays {
  u8: Uint8Array
  u16: Uint16Array
  u32: Uint32Array
  f32: Float32Array
  f64: Float64Array
}
type Form = keyof Arrays

const CONSTRUCTORS = {
  u8: Uint8Array,
  u16: Uint16Array,
  u32: Uint32Array,
  f32: Float32Array,
  f64: Float64Array,
} as const

/** How one column is held. */
export interface Column<F extends Form = Form> {
  /** the arrays it can be held in, from the narrowest to one that holds whatever there may be */
  forms: readonly F[]
  /** how many entries it has: one a row unless said otherwise; `words`: one for each 32 rows begun, a bit a row */
  length: 'rows' | 'rows + 1' | 'words'
}

/** A column that is always held in the same kind of array. */
export const only = <F extends Form>(form: F): Column<F> => ({ forms: [form], length: 'rows' })
/** Where the entries of each row begin in another table, and after the last row where those of the last one end. */
export const starts: Column<'u32'> = { forms: ['u32'], length: 'rows + 1' }
/** A bit a row, or a count for each 32 rows. */
export const words: Column<'u32'> = { forms: ['u32'], length: 'words' }
export const codes: Column<'u8' | 'u16' | 'u32'> = { forms: ['u8', 'u16', 'u32'], length: 'rows' }
export const times: Column<'u32' | 'f64'> = { forms: ['u32', 'f64'], length: 'rows' }
export const numbers: Column<'f32' | 'f64'> = { forms: ['f32', 'f64'], length: 'rows' }

export type Layout = Readonly<Record<string, Readonly<Record<string, Column>>>>

/** Tables with a row count and their columns, as a layout describes them. */
export type TablesOf<L extends Layout> = {
  [Table in keyof L]: { count: number } & {
    [Name in keyof L[Table]]: Arrays[L[Table][Name]['forms'][number]]
  }
}

/** What must be known of tables to find their columns in a piece of memory. Can be sent to another thread. */
export interface Shape<L extends Layout = Layout> {
  /** rows by table */
  counts: Record<keyof L & string, number>
  /** index into the forms of a column, by "table.column"; absent = 0, the narrowest */
  forms: Readonly<Record<string, number>>
}

export type AnyColumn = Arrays[Form]

/** Columns begin at multiples of this, since typed arrays must. */
const ALIGN = 8

/** Visits the columns of a layout in the order in which they lie in memory. */
export function eachColumn<L extends Layout>(
  layout: L,
  shape: Shape<L>,
  visit: (table: keyof L & string, name: string, form: Form, length: number) => void,
): void {
  for (const table of Object.keys(layout))
    for (const [name, { forms, length }] of Object.entries(layout[table]!)) {
      const rows = shape.counts[table]!
      const form = forms[shape.forms[`${table}.${name}`] ?? 0]!
      visit(table, name, form, length === 'words' ? (rows + 31) >>> 5 : length === 'rows' ? rows : rows + 1)
    }
}

/** How many bytes tables of this shape take. */
export function bytesOf<L extends Layout>(layout: L, shape: Shape<L>): number {
  let bytes = 0
  eachColumn(layout, shape, (_table, _name, form, length) => (bytes += sizeOf(form, length)))
  return bytes
}

/**
 * Tables whose columns lie in a given piece of memory, which threads can share.
 *
 * @throws RangeError where the memory is too small
 */
export function viewTables<L extends Layout>(
  layout: L,
  shape: Shape<L>,
  buffer: ArrayBufferLike,
): TablesOf<L> {
  const tables: Record<string, Record<string, unknown>> = {}
  for (const table of Object.keys(layout)) tables[table] = { count: shape.counts[table] }
  let at = 0
  eachColumn(layout, shape, (table, name, form, length) => {
    tables[table]![name] = new CONSTRUCTORS[form](buffer as ArrayBuffer, at, length)
    at += sizeOf(form, length)
  })
  return tables as TablesOf<L>
}

/** The shape of tables that are there already. */
export function shapeOf<L extends Layout>(layout: L, tables: TablesOf<L>): Shape<L> {
  const counts: Record<string, number> = {}
  const chosen: Record<string, number> = {}
  for (const table of Object.keys(layout)) {
    counts[table] = tables[table]!.count
    for (const [name, { forms }] of Object.entries(layout[table]!)) {
      const { constructor } = columnOf<L>(tables, table, name)!
      const form = forms.findIndex((one) => CONSTRUCTORS[one] === constructor)
      if (form > 0) chosen[`${table}.${name}`] = form
    }
  }
  return { counts: counts, forms: chosen }
}

/** A column by its name, for what is done with all columns alike; undefined where there is none of that name. */
export function columnOf<L extends Layout>(
  tables: TablesOf<L>,
  table: string,
  name: string,
): AnyColumn | undefined {
  return (tables as Record<string, unknown> as Record<string, Record<string, AnyColumn> | undefined>)[
    table
  ]?.[name]
}

/** Copies the columns that two tables have in common. */
export function copyColumns(from: object, to: object): void {
  for (const [name, column] of Object.entries(to) as [string, AnyColumn | number][]) {
    const source = (from as Record<string, AnyColumn | number | undefined>)[name]
    if (typeof column !== 'number' && typeof source === 'object') column.set(source)
  }
}

function sizeOf(form: Form, length: number): number {
  return Math.ceil((length * CONSTRUCTORS[form].BYTES_PER_ELEMENT) / ALIGN) * ALIGN
}
