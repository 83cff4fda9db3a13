import type { Block } from './columns.ts'
import { settle } from './columns.ts'
import { Dictionaries } from './dictionaries.ts'
import type { Counts, LooseBlock, Table } from './loose.ts'
import { eachLoose, KIND, looseBytes, looseCounts, viewLoose } from './loose.ts'

/**
 * Of what a packed block's bytes mean; one that is not known is not read. Version 2 writes the page of an event as 0 where
 * it is that of the event before in the same session, else 1 more than its code; version 3 writes those of page views
 * before all others, which hardly ever change.
 */
export const PACKING_VERSION = 3
const READABLE = [1, 2, 3]

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
    const name = `${table}.${column}`
    let plain: Float64Array = new Float64Array(values)
    if (dictionary) recode(plain, dictionaries[dictionary].values, own[dictionary])
    if (name === 'events.page') {
      const changed = changes(plain, block.sessions.firstEvent)
      plain = Float64Array.from(viewsFirst(block.events.kind), (i) => changed[i]!)
    }
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
  if (!READABLE.includes(head.version))
    throw new RangeError(`a block of version ${head.version} cannot be read, only up to ${PACKING_VERSION}`)
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
    // How pages are written depends on kinds, which come later.
    if (dictionary && into !== block.events.page) recoded(into, codes[dictionary])
    if (own.steps && `${table}.${column}` !== 'events.atMs')
      for (let i = 1; i < length; i++) into[i]! += into[i - 1]!
  })
  const { firstEvent, count } = block.sessions
  const { atMs, page, kind } = block.events
  if (head.version > 2) {
    const written = page.slice()
    viewsFirst(kind).forEach((i, at) => (page[i] = written[at]!))
  }
  if (head.version > 1) unchanged(page, firstEvent)
  recoded(page, codes.page)
  if (head.columns[columnIndex('events', 'atMs')]!.steps)
    for (let s = 0; s < count; s++)
      for (let i = firstEvent[s]! + 1; i < firstEvent[s + 1]!; i++) atMs[i]! += atMs[i - 1]!
  return block
}

/** Codes of a block's own words as those of other dictionaries; as they are where the block has no words. */
function recoded(into: Numbers, codes: Uint32Array | undefined): void {
  if (codes) for (let i = 0; i < into.length; i++) into[i] = codes[into[i]!]!
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
  for (let i = 0; i < steps.length; i++) if (!(steps[i]! >= 0 && Number.isInteger(steps[i]!))) return false
  return steps
}

/** Codes as those of another dictionary, which takes in what it does not have. */
function recode(codes: Float64Array, words: readonly string[], into: Dictionaries[DictionaryName]): void {
  const known = new Map<number, number>()
  let last = 0
  let lastCode = 0
  for (let i = 0; i < codes.length; i++) {
    const code = codes[i]!
    if (code !== last) {
      let other = known.get(code)
      if (other === undefined) known.set(code, (other = into.code(words[code])))
      last = code
      lastCode = other
    }
    codes[i] = lastCode
  }
}

/** 0 where a code is that of the event before in the same session, else 1 more than the code. */
function changes(codes: Float64Array, firstEvent: Uint32Array): Float64Array {
  const changed = new Float64Array(codes.length)
  for (let s = 0; s + 1 < firstEvent.length; s++) {
    let before = 0
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      if (codes[i] !== before) changed[i] = codes[i]! + 1
      before = codes[i]!
    }
  }
  return changed
}

/** All events, page views before others. */
function viewsFirst(kind: Uint8Array): Uint32Array {
  const order = new Uint32Array(kind.length)
  let n = 0
  for (let i = 0; i < kind.length; i++) if (kind[i] === KIND.page) order[n++] = i
  for (let i = 0; i < kind.length; i++) if (kind[i] !== KIND.page) order[n++] = i
  return order
}

/** Undoes changes. */
function unchanged(codes: Numbers, firstEvent: Uint32Array): void {
  for (let s = 0; s + 1 < firstEvent.length; s++) {
    let before = 0
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      if (codes[i] !== 0) before = codes[i]! - 1
      codes[i] = before
    }
  }
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
  let written = 0
  for (let i = 0; i < values.length; i++) if (values[i]! === values[i]!) written++
  const gaps = written < values.length
  if (!gaps) {
    const form = formOf(values)
    return { form, bytes: planesOf(values, form), written, gaps }
  }
  const known = new Float64Array(written)
  const mask = new Uint8Array((values.length + 7) >>> 3)
  let n = 0
  for (let i = 0; i < values.length; i++)
    if (values[i]! === values[i]!) {
      known[n++] = values[i]!
      mask[i >>> 3]! |= 1 << (i & 7)
    }
  const form = formOf(known)
  const planes = planesOf(known, form)
  const bytes = new Uint8Array(mask.length + planes.length)
  bytes.set(mask)
  bytes.set(planes, mask.length)
  return { form, bytes, written, gaps }
}

/** The narrowest form that gives every number back exactly. */
function formOf(values: Float64Array): Form {
  let most = 0
  let whole = true
  for (let i = 0; whole && i < values.length; i++) {
    const value = values[i]!
    whole = value >= 0 && Math.floor(value) === value && !Object.is(value, -0)
    if (value > most) most = value
  }
  if (whole && most === 0) return 'zero'
  if (whole && most < 2 ** 8) return 'u8'
  if (whole && most < 2 ** 16) return 'u16'
  if (whole && most < 2 ** 32) return 'u32'
  if (values.every(isMilli)) return 'milli'
  return values.every((value) => Math.fround(value) === value) ? 'f32' : 'f64'
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
  for (let p = 0; p < width; p++) {
    const at = p * values.length
    const shift = 8 * p
    if (form === 'milli')
      for (let i = 0; i < values.length; i++) bytes[at + i] = Math.round(values[i]! * 1000) >>> shift
    else for (let i = 0; i < values.length; i++) bytes[at + i] = values[i]! >>> shift
  }
  return bytes
}

function sizeOf({ form, written, gaps }: ColumnHead, length: number): number {
  return WIDTH[form] * written + (gaps ? (length + 7) >>> 3 : 0)
}

function read(bytes: Uint8Array, { form, written, gaps }: ColumnHead, into: Numbers): void {
  if (gaps && written === 0) {
    into.fill(NaN)
    return
  }
  if (form === 'zero' && !gaps) return
  const mask = gaps ? bytes.subarray(0, (into.length + 7) >>> 3) : undefined
  const numbers = readNumbers(mask ? bytes.subarray(mask.length) : bytes, form, written)
  if (!mask) {
    into.set(numbers)
    return
  }
  let n = 0
  for (let i = 0; i < into.length; i++) into[i] = mask[i >>> 3]! & (1 << (i & 7)) ? numbers[n++]! : NaN
}

function readNumbers(planes: Uint8Array, form: Form, count: number): Numbers {
  switch (form) {
    case 'zero':
      return new Uint8Array(count)
    case 'u8':
      return planes.subarray(0, count)
    case 'u16': {
      const numbers = new Uint16Array(count)
      for (let n = 0; n < count; n++) numbers[n] = planes[n]! | (planes[count + n]! << 8)
      return numbers
    }
    case 'milli': {
      const numbers = new Float32Array(count)
      for (let n = 0; n < count; n++) numbers[n] = (planes[n]! | (planes[count + n]! << 8)) / 1000
      return numbers
    }
    case 'u32': {
      const numbers = new Uint32Array(count)
      for (let n = 0; n < count; n++)
        numbers[n] =
          planes[n]! |
          (planes[count + n]! << 8) |
          (planes[2 * count + n]! << 16) |
          (planes[3 * count + n]! << 24)
      return numbers
    }
    default: {
      const width = WIDTH[form]
      const raw = new Uint8Array(width * count)
      for (let p = 0; p < width; p++)
        for (let n = 0; n < count; n++) raw[n * width + p] = planes[p * count + n]!
      return form === 'f32' ? new Float32Array(raw.buffer) : new Float64Array(raw.buffer)
    }
  }
}
