import type { Allocate, Columns } from './block.ts'
import { compactColumns } from './compact.ts'
import type { DenseBlock, DenseCounts, DenseTable } from './dense-block.ts'
import { denseBlock, denseBytes, denseColumn, denseCounts, eachDenseColumn } from './dense-block.ts'
import { eachOldColumn, fillNewColumns } from './packing-before.ts'
import { Dictionaries } from './dictionaries.ts'
import type { Words } from './dictionary.ts'
import { Dictionary } from './dictionary.ts'
import { KIND_CODE } from './event-codes.ts'
import type { Codes } from './layout.ts'
import type { ColumnForm } from './packed-numbers.ts'
import { bytesIn, GrowingBytes, numberScratch, readNumbers, writeNumbers } from './packed-numbers.ts'
import { Scratch } from './scratch.ts'
import type { StoredColumn } from './unpack-compact.ts'
import { unpackCompact } from './unpack-compact.ts'

/**
 * Of what a packed block's bytes mean; one that is not known is not read. Version 2 writes the page of an event as 0 where
 * it is that of the event before in the same session, else 1 more than its code; version 3 writes those of page views
 * before all others, which hardly ever change; version 4 has currencies, details, traits and sizes of targets, amounts in
 * double precision, and no signals: they are found when it is read.
 */
export const PACKING_VERSION = 4
const READABLE = [1, 2, 3, 4]

export type DictionaryName = keyof Dictionaries

/** Words of a block in the order of its own codes, from code 1 on; of the dictionaries in which it has any. */
export type BlockWords = Partial<Record<DictionaryName, string[]>>

/** By a block's own code that of a word in other dictionaries. */
export type BlockCodes = Partial<Record<DictionaryName, Uint32Array>>

/** Columns of codes, and the dictionary each is coded with. */
const CODED: Partial<Record<DenseTable, Record<string, DictionaryName>>> = {
  sessions: {
    visitor: 'visitor',
    browser: 'browser',
    os: 'os',
    country: 'country',
    channel: 'channel',
    source: 'source',
    campaign: 'campaign',
  },
  events: { page: 'page', target: 'target', text: 'text', name: 'name', currency: 'currency' },
  props: { key: 'propKey', text: 'propText' },
}

/** Columns in which every value is written as its distance from the one before. */
const RISING = new Set(['sessions.id', 'sessions.firstEvent', 'events.firstProp'])

interface ColumnHead extends ColumnForm {
  /** times: distances from the event before in the same session; all: from the number before, plus `from` */
  steps?: true
}

export interface Head {
  version: number
  counts: DenseCounts
  columns: ColumnHead[]
  words: BlockWords
}

/** Memory for what is made of one column after the other while a block is written or read. */
const plainScratch = numberScratch()
const stepsScratch = numberScratch()
const changesScratch = numberScratch()
const orderScratch = numberScratch()

/** The columns of the block that is being written. */
const bodies = new GrowingBytes()

/**
 * A block as bytes that stand for themselves: with the words its codes mean, so that it can be read into any
 * dictionaries.
 */
export function encodeBlock(block: DenseBlock, dictionaries: Dictionaries): Uint8Array {
  const counts = denseCounts(block)
  const blockDictionaries = new Dictionaries(new Dictionary())
  const head: Head = { version: PACKING_VERSION, counts, columns: [], words: {} }
  bodies.length = 0
  eachDenseColumn(counts, (table, column, length) => {
    const dictionary = CODED[table]?.[column]
    const name = `${table}.${column}`
    let plain = plainScratch(length)
    plain.set(denseColumn(block, table, column)!)
    if (dictionary) recode(plain, dictionaries[dictionary], blockDictionaries[dictionary])
    if (name === 'events.page')
      plain = viewsFirst(changes(plain, block.sessions.firstEvent), block.events.kind)
    const steps =
      name === 'events.atMs'
        ? sinceBefore(plain, block.sessions.firstEvent)
        : RISING.has(name) && rises(plain)
    const form = writeNumbers(steps || plain, bodies)
    head.columns.push({ ...form, ...(steps && { steps: true as const }) })
  })
  for (const name of Object.keys(blockDictionaries) as DictionaryName[])
    if (blockDictionaries[name].size > 1) head.words[name] = blockDictionaries[name].wordsFrom(1)
  const headBytes = new TextEncoder().encode(JSON.stringify(head))
  const all = new Uint8Array(4 + headBytes.length + bodies.length)
  new DataView(all.buffer).setUint32(0, headBytes.length, true)
  all.set(headBytes, 4)
  all.set(bodies.written(), 4 + headBytes.length)
  return all
}

/** Memory for the dense columns of the block that is being read; a compact block is made of them at once. */
const denseScratch = new Scratch((bytes) => ({ memory: new Uint8Array(bytes) }))

/** A block's bytes of which is known what they are. */
export interface PackedBlock {
  bytes: Uint8Array
  head: Head
}

/** @throws RangeError where the bytes are of another version */
export function readPackedHead(bytes: Uint8Array): PackedBlock {
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + headLength(bytes)))) as Head
  if (!READABLE.includes(head.version))
    throw new RangeError(`a block of version ${head.version} cannot be read, only up to ${PACKING_VERSION}`)
  return { bytes, head }
}

/**
 * The columns that bytes stand for, coded with the given dictionaries, to which its words are added.
 *
 * @throws RangeError where the bytes are of another version or end too early
 */
export function decodeColumns(bytes: Uint8Array, dictionaries: Dictionaries, allocate?: Allocate): Columns {
  const packed = readPackedHead(bytes)
  return decodeCoded(packed, codesFor(packed.head.words, dictionaries), allocate)
}

/** The same with codes that somebody else knows. @throws RangeError where the bytes end too early */
export function decodeCoded(packed: PackedBlock, codes: BlockCodes, allocate?: Allocate): Columns {
  if (packed.head.version === PACKING_VERSION)
    return unpackCompact(storedColumns(packed, codes), packed.head.counts, allocate)
  const size = denseBytes(packed.head.counts)
  const { buffer } = denseScratch.lend(size).memory
  return compactColumns(decodeInto(packed, codes, buffer), allocate)
}

/** The same as dense columns. @throws as decodeColumns */
export function decodeDense(bytes: Uint8Array, dictionaries: Dictionaries): DenseBlock {
  const packed = readPackedHead(bytes)
  const { counts, words } = packed.head
  return decodeInto(packed, codesFor(words, dictionaries), new ArrayBuffer(denseBytes(counts)))
}

/** The codes of a block's words in some dictionaries, to which they are added. */
export function codesFor(words: BlockWords, dictionaries: Dictionaries): BlockCodes {
  const codes: BlockCodes = {}
  for (const [name, own] of Object.entries(words) as [DictionaryName, string[]][])
    codes[name] = Uint32Array.from(['', ...own], (word) => dictionaries[name].code(word))
  return codes
}

function headLength(bytes: Uint8Array): number {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(0, true)
}

/** The columns of a block by their names, as they are stored. @throws RangeError where the bytes end too early */
function storedColumns({ bytes, head }: PackedBlock, codes: BlockCodes): (name: string) => StoredColumn {
  const columns = new Map<string, StoredColumn>()
  let at = 4 + headLength(bytes)
  let k = 0
  eachDenseColumn(head.counts, (table, column, length) => {
    const form = head.columns[k++]!
    const size = bytesIn(form, length)
    if (at + size > bytes.length) throw new RangeError(ENDS_EARLY)
    const dictionary = CODED[table]?.[column]
    columns.set(`${table}.${column}`, {
      ...{ form, length, bytes: bytes.subarray(at, at + size) },
      codes: dictionary && codes[dictionary],
    })
    at += size
  })
  return (name) => columns.get(name)!
}

const ENDS_EARLY = 'the block ends too early'

function decodeInto({ bytes, head }: PackedBlock, codes: BlockCodes, buffer: ArrayBuffer): DenseBlock {
  const block = denseBlock(head.counts, buffer)
  let at = 4 + headLength(bytes)
  let k = 0
  /** of blocks before version 4, which also stored signals: these are found anew */
  const friction = new Uint8Array(head.version < 4 ? head.counts.events : 0)
  let timesInSteps = false
  const read = (table: string, column: string, length: number) => {
    const form = head.columns[k++]!
    const size = bytesIn(form, length)
    if (at + size > bytes.length) throw new RangeError(ENDS_EARLY)
    const from = at
    at += size
    const into = column === 'friction' ? friction : denseColumn(block, table as DenseTable, column)
    if (!into) return
    readNumbers(bytes.subarray(from, at), form, into)
    const dictionary = CODED[table as DenseTable]?.[column]
    // How pages are written depends on kinds, which come later.
    if (dictionary && into !== block.events.page) recoded(into as Codes, codes[dictionary])
    if (into === block.events.atMs) timesInSteps = form.steps === true
    else if (form.steps) for (let i = 1; i < length; i++) into[i]! += into[i - 1]!
  }
  if (head.version < 4) eachOldColumn(head.counts, read)
  else eachDenseColumn(head.counts, read)
  const { firstEvent, count } = block.sessions
  const { atMs, page, kind } = block.events
  if (head.version < 4) fillNewColumns(block, friction)
  if (head.version > 2) viewsInTurn(page, kind)
  if (head.version > 1) unchanged(page, firstEvent)
  recoded(page, codes.page)
  if (timesInSteps)
    for (let s = 0; s < count; s++)
      for (let i = firstEvent[s]! + 1; i < firstEvent[s + 1]!; i++) atMs[i]! += atMs[i - 1]!
  return block
}

/** Codes of a block's own words as those of other dictionaries; as they are where the block has no words. */
function recoded(into: Codes, codes: Uint32Array | undefined): void {
  if (codes) for (let i = 0; i < into.length; i++) into[i] = codes[into[i]!]!
}

/** Times as distances from the event before in the same session; false where one would not be a whole number. */
function sinceBefore(atMs: Float64Array, firstEvent: Uint32Array): Float64Array | false {
  const steps = stepsScratch(atMs.length)
  for (let s = 0; s + 1 < firstEvent.length; s++) {
    let before = 0
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      const at = atMs[i]!
      const step = at - before
      if (!(step >= 0 && Math.floor(step) === step)) return false
      steps[i] = step
      before = at
    }
  }
  return steps
}

/** Codes as those of another dictionary, which takes in what it does not have. */
function recode(codes: Float64Array, words: Words, into: Words): void {
  // Where there are more words than codes, most words are not met.
  const cached = words.size <= codes.length ? new Uint32Array(words.size) : undefined
  let last = 0
  let lastCode = 0
  for (let i = 0; i < codes.length; i++) {
    const code = codes[i]!
    if (code !== last) {
      last = code
      lastCode = cached?.[code] || into.code(words.word(code))
      if (cached) cached[code] = lastCode
    }
    codes[i] = lastCode
  }
}

/** 0 where a code is that of the event before in the same session, else 1 more than the code. */
function changes(codes: Float64Array, firstEvent: Uint32Array): Float64Array {
  const changed = changesScratch(codes.length)
  for (let s = 0; s + 1 < firstEvent.length; s++) {
    let before = 0
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      const code = codes[i]!
      changed[i] = code === before ? 0 : code + 1
      before = code
    }
  }
  return changed
}

/** What all events have, page views before others. */
function viewsFirst(values: Float64Array, kind: Uint8Array): Float64Array {
  const ordered = orderScratch(values.length)
  let n = 0
  for (let i = 0; i < kind.length; i++) if (kind[i] === KIND_CODE.page) ordered[n++] = values[i]!
  for (let i = 0; i < kind.length; i++) if (kind[i] !== KIND_CODE.page) ordered[n++] = values[i]!
  return ordered
}

/** Undoes viewsFirst. */
function viewsInTurn(values: Uint32Array, kind: Uint8Array): void {
  const ordered = orderScratch(values.length)
  ordered.set(values)
  let n = 0
  for (let i = 0; i < kind.length; i++) if (kind[i] === KIND_CODE.page) values[i] = ordered[n++]!
  for (let i = 0; i < kind.length; i++) if (kind[i] !== KIND_CODE.page) values[i] = ordered[n++]!
}

/** Undoes changes. */
function unchanged(codes: Uint32Array, firstEvent: Uint32Array): void {
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
  const steps = stepsScratch(values.length)
  for (let i = 0; i < values.length; i++) {
    steps[i] = i === 0 ? values[i]! : values[i]! - values[i - 1]!
    if (i > 0 && !(steps[i]! >= 0)) return false
  }
  return steps
}
