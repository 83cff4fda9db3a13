import type { Block } from './columns.ts'
import { settle } from './columns.ts'
import { Dictionaries } from './dictionaries.ts'
import type { Counts, LooseBlock, Table } from './loose.ts'
import { eachLoose, looseBytes, looseCounts, viewLoose } from './loose.ts'

/** Of what a packed block's bytes mean; one that is not known is not read. */
export const PACKING_VERSION = 1

type DictionaryName = keyof Dictionaries

/** Columns of codes, and the dictionary each is coded with. */
const CODED: Partial<Record<Table, Record<string, DictionaryName>>> = {
  sessions: {
    visitor: 'visitor',
    browser: 'browser',
    os: 'os',
    country: 'country',
    channel: 'channel',
    source: 'source',
    campaign: 'campaign',
  },
  events: { page: 'page', target: 'target', text: 'text', name: 'name' },
  props: { key: 'propKey', text: 'propText' },
  signals: { page: 'page', target: 'target', text: 'text', name: 'name' },
}

/** Columns in which every value is written as its distance from the one before. */
const RISING = new Set(['sessions.id', 'sessions.firstEvent', 'sessions.firstSignal', 'events.firstProp'])

/** How the numbers of a column are written. */
type Form = 'zero' | 'u8' | 'u16' | 'u32' | 'milli' | 'f32' | 'f64'

interface ColumnHead {
  form: Form
  /** how many numbers are written: those that are not NaN */
  written: number
  /** a bit for each number says whether it is written */
  gaps?: true
  /** times: distances from the event before in the same session; all: from the number before, plus `from` */
  steps?: true
}

interface Head {
  version: number
  counts: Counts
  columns: ColumnHead[]
  words: Partial<Record<DictionaryName, string[]>>
}

const WIDTH: Record<Form, number> = { zero: 0, u8: 1, u16: 2, u32: 4, milli: 2, f32: 4, f64: 8 }

/**
 * A block as bytes that stand for themselves: with the words its codes mean, so that it can be read into any
 * dictionaries. Each column in the narrowest form that keeps every number exactly, its bytes plane by plane, which is
 * what makes them easy to compress.
 */
export function encodeBlock(block: LooseBlock, dictionaries: Dictionaries): Uint8Array {
  const counts = looseCounts(block)
  const own = new Dictionaries()
  const head: Head = { version: PACKING_VERSION, counts, columns: [], words: {} }
  const bodies: Uint8Array[] = []
  eachLoose(counts, (table, column) => {
    const values = columnOf(block, table, column)
    const dictionary = CODED[table]?.[column]
    const plain = dictionary
      ? Float64Array.from(values, (code) => own[dictionary].code(dictionaries[dictionary].values[code]))
      : Float64Array.from(values)
    const name = `${table}.${column}`
    const steps =
      name === 'events.atMs'
        ? sinceBefore(plain, block.sessions.firstEvent)
        : RISING.has(name) && rises(plain)
    const { form, bytes, written, gaps } = packed(steps || plain)
    head.columns.push({
      form,
      written,
      ...(gaps && { gaps: true as const }),
      ...(steps && { steps: true as const }),
    })
    bodies.push(bytes)
  })
  for (const name of Object.keys(own) as DictionaryName[])
    if (own[name].size > 1) head.words[name] = own[name].values.slice(1)
  const headBytes = new TextEncoder().encode(JSON.stringify(head))
  const all = new Uint8Array(4 + headBytes.length + bodies.reduce((sum, { length }) => sum + length, 0))
  new DataView(all.buffer).setUint32(0, headBytes.length, true)
  all.set(headBytes, 4)
  let at = 4 + headBytes.length
  for (const body of bodies) {
    all.set(body, at)
    at += body.length
  }
  return all
}

/**
 * The block that bytes stand for, coded with the given dictionaries, to which its words are added.
 *
 * @throws RangeError where the bytes are of another version or end too early
 */
export function decodeBlock(
  bytes: Uint8Array,
  dictionaries: Dictionaries,
  allocate?: (bytes: number) => ArrayBufferLike,
): Block {
  return settle(decodeLoose(bytes, dictionaries), allocate)
}

/** The same as dense columns. @throws as decodeBlock */
export function decodeLoose(bytes: Uint8Array, dictionaries: Dictionaries): LooseBlock {
  const headLength = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(0, true)
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + headLength))) as Head
  if (head.version !== PACKING_VERSION)
    throw new RangeError(`a block of version ${head.version} cannot be read, only ${PACKING_VERSION}`)
  const codes: Partial<Record<DictionaryName, Uint32Array>> = {}
  for (const [name, words] of Object.entries(head.words) as [DictionaryName, string[]][])
    codes[name] = Uint32Array.from(['', ...words], (word) => dictionaries[name].code(word))
  const block = viewLoose(head.counts, new ArrayBuffer(looseBytes(head.counts)))
  let at = 4 + headLength
  let k = 0
  eachLoose(head.counts, (table, column, _, length) => {
    const own = head.columns[k++]!
    const size = sizeOf(own, length)
    if (at + size > bytes.length) throw new RangeError('the block ends too early')
    const into = columnOf(block, table, column)
    read(bytes.subarray(at, at + size), own, into)
    at += size
    const dictionary = CODED[table]?.[column]
    if (dictionary) {
      const local = codes[dictionary]
      if (local) for (let i = 0; i < length; i++) into[i] = local[into[i]!]!
    }
    if (own.steps && `${table}.${column}` !== 'events.atMs')
      for (let i = 1; i < length; i++) into[i]! += into[i - 1]!
  })
  const { firstEvent, count } = block.sessions
  const { atMs } = block.events
  if (head.columns[columnIndex('events', 'atMs')]!.steps)
    for (let s = 0; s < count; s++)
      for (let i = firstEvent[s]! + 1; i < firstEvent[s + 1]!; i++) atMs[i]! += atMs[i - 1]!
  return block
}

function columnIndex(table: Table, column: string): number {
  let index = -1
  let k = 0
  eachLoose({ sessions: 0, events: 0, props: 0, signals: 0 }, (t, c) => {
    if (t === table && c === column) index = k
    k++
  })
  return index
}

type Numbers = Float64Array | Float32Array | Uint32Array | Uint16Array | Uint8Array

function columnOf(block: LooseBlock, table: Table, column: string): Numbers {
  return (block[table] as unknown as Record<string, Numbers>)[column]!
}

/** Times as distances from the event before in the same session; false where one would not be a whole number. */
function sinceBefore(atMs: Float64Array, firstEvent: Uint32Array): Float64Array | false {
  const steps = atMs.slice()
  for (let s = 0; s + 1 < firstEvent.length; s++)
    for (let i = firstEvent[s + 1]! - 1; i > firstEvent[s]!; i--) steps[i]! -= steps[i - 1]!
  return steps.every((step) => Number.isInteger(step) && step >= 0) && steps
}

/** Each number as its distance from the one before; false where they do not rise. */
function rises(values: Float64Array): Float64Array | false {
  const steps = values.slice()
  for (let i = values.length - 1; i > 0; i--) {
    steps[i]! -= values[i - 1]!
    if (!(steps[i]! >= 0)) return false
  }
  return steps
}

function packed(values: Float64Array): { form: Form; bytes: Uint8Array; written: number; gaps: boolean } {
  const gaps = values.some(Number.isNaN)
  const known = gaps ? values.filter((value) => !Number.isNaN(value)) : values
  const form = formOf(known)
  const planes = planesOf(known, form)
  if (!gaps) return { form, bytes: planes, written: known.length, gaps }
  const mask = new Uint8Array((values.length + 7) >>> 3)
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i]!)) mask[i >>> 3]! |= 1 << (i & 7)
  const bytes = new Uint8Array(mask.length + planes.length)
  bytes.set(mask)
  bytes.set(planes, mask.length)
  return { form, bytes, written: known.length, gaps }
}

/** The narrowest form that gives every number back exactly. */
function formOf(values: Float64Array): Form {
  let most = 0
  let whole = true
  let milli = true
  let single = true
  for (const value of values) {
    if (!(Number.isInteger(value) && value >= 0 && !Object.is(value, -0))) whole = false
    if (milli && !isMilli(value)) milli = false
    if (single && Math.fround(value) !== value) single = false
    if (value > most) most = value
  }
  if (whole && most === 0) return 'zero'
  if (whole && most < 2 ** 8) return 'u8'
  if (whole && most < 2 ** 16) return 'u16'
  if (whole && most < 2 ** 32) return 'u32'
  if (milli) return 'milli'
  return single ? 'f32' : 'f64'
}

/** Whether a number is a count of thousandths, as a share rounded to three places is once it is held in single precision. */
function isMilli(value: number): boolean {
  const thousandths = Math.round(value * 1000)
  return (
    thousandths >= 0 &&
    thousandths < 2 ** 16 &&
    Math.fround(thousandths / 1000) === value &&
    !Object.is(value, -0)
  )
}

function planesOf(values: Float64Array, form: Form): Uint8Array {
  const width = WIDTH[form]
  const bytes = new Uint8Array(width * values.length)
  if (form === 'f32' || form === 'f64') {
    const raw = new Uint8Array((form === 'f32' ? Float32Array.from(values) : values.slice()).buffer)
    for (let i = 0; i < values.length; i++)
      for (let p = 0; p < width; p++) bytes[p * values.length + i] = raw[i * width + p]!
    return bytes
  }
  for (let i = 0; i < values.length; i++) {
    const value = form === 'milli' ? Math.round(values[i]! * 1000) : values[i]!
    for (let p = 0; p < width; p++) bytes[p * values.length + i] = (value >>> (8 * p)) & 255
  }
  return bytes
}

function sizeOf({ form, written, gaps }: ColumnHead, length: number): number {
  return WIDTH[form] * written + (gaps ? (length + 7) >>> 3 : 0)
}

function read(bytes: Uint8Array, { form, written, gaps }: ColumnHead, into: Numbers): void {
  const width = WIDTH[form]
  const start = gaps ? (into.length + 7) >>> 3 : 0
  const number = numberReader(bytes.subarray(start), form, written, width)
  let n = 0
  for (let i = 0; i < into.length; i++)
    into[i] = gaps && !(bytes[i >>> 3]! & (1 << (i & 7))) ? NaN : number(n++)
}

function numberReader(planes: Uint8Array, form: Form, count: number, width: number): (n: number) => number {
  switch (form) {
    case 'zero':
      return () => 0
    case 'u8':
      return (n) => planes[n]!
    case 'u16':
      return (n) => planes[n]! | (planes[count + n]! << 8)
    case 'milli':
      return (n) => Math.fround((planes[n]! | (planes[count + n]! << 8)) / 1000)
    case 'u32':
      return (n) =>
        (planes[n]! |
          (planes[count + n]! << 8) |
          (planes[2 * count + n]! << 16) |
          (planes[3 * count + n]! << 24)) >>>
        0
    default: {
      const raw = new Uint8Array(width * count)
      for (let n = 0; n < count; n++)
        for (let p = 0; p < width; p++) raw[n * width + p] = planes[p * count + n]!
      const numbers = form === 'f32' ? new Float32Array(raw.buffer) : new Float64Array(raw.buffer)
      return (n) => numbers[n]!
    }
  }
}
