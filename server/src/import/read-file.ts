import { isUtf8 } from 'node:buffer'
import { createHmac, randomBytes } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { open, stat } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { createGunzip } from 'node:zlib'
import type { CsvMapping, FileKind, LineRead, LogSkip } from '@dust-trail/core'
import {
  csvDelimiter,
  parseCombinedLog,
  proposeMapping,
  readJsonLine,
  readLogEntry,
  readRecord,
} from '@dust-trail/core'
import { parse } from 'csv-parse'
import { parse as parseSync } from 'csv-parse/sync'
import { LRUCache } from 'lru-cache'

/** One line of a file: what it says, and how far into the file it is. */
export interface FileItem {
  /** from 1, the header of a CSV included */
  number: number
  text: string
  read: LineRead | { skip: LogSkip }
  /** bytes of the file read so far */
  bytes: number
}

/** Lines longer than this are no lines of a clickstream: kept short so that memory stays bounded. */
const LONGEST_LINE = 262_144

/** A file that ends in the middle of something: what came before is good. */
export class CutFileError extends Error {}

/**
 * Reads a file, gzipped or not, line by line. Empty lines are passed over.
 *
 * @param mostBytes  that may come out of it
 * @param visitorOf  names the visitors of a log; without it others each time
 * @throws CutFileError after all lines that can be read, where the file is cut off, damaged or too large
 */
export async function* readFile(
  file: string,
  kind: FileKind,
  mapping: CsvMapping | undefined,
  mostBytes = Infinity,
  visitorOf = keyedHash(randomBytes(32)),
): AsyncGenerator<FileItem> {
  const { source, bytes } = await openFile(file)
  const limited = limit(source as AsyncIterable<Buffer>, mostBytes)
  try {
    if (kind === 'csv')
      yield* readCsv(limited, bytes, mapping, csvDelimiter((await firstLines(file, 1))[0] ?? ''))
    else
      for await (const { number, text, fault } of textLines(limited)) {
        if (fault === undefined && text.trim() === '') continue
        const read =
          fault !== undefined
            ? { problem: { field: '', reason: fault } }
            : kind === 'log'
              ? readLog(text, visitorOf)
              : readJsonLine(text)
        yield { number, text, read, bytes: bytes() }
      }
  } catch (error) {
    throw asCut(error)
  } finally {
    source.destroy()
  }
}

const TOO_LONG = `is longer than ${LONGEST_LINE} characters`
const NOT_UTF8 = 'is not valid UTF-8: save the file as UTF-8'
const BINARY = 'holds bytes that are no text'

/** What comes out of a file, up to so many bytes. */
async function* limit(source: AsyncIterable<Buffer>, most: number): AsyncGenerator<Buffer> {
  let bytes = 0
  for await (const chunk of source) {
    bytes += chunk.length
    if (bytes > most)
      throw new CutFileError(
        `More than ${Math.round(most / 2 ** 20)} MB come out of the file; reading ended there. Split it, or raise INFLATED_MB.`,
      )
    yield chunk
  }
}

/** What is wrong with a file that cannot be read on, in words; any other error as it is. */
function asCut(error: unknown): unknown {
  const { code } = error as { code?: string }
  if (code === 'Z_BUF_ERROR')
    return new CutFileError(
      'The gzip file is cut off: its end is missing. What came before is in; send the whole file, and only what is missing is added.',
    )
  if (code?.startsWith('Z_'))
    return new CutFileError(
      'The gzip file is damaged from some place on. What came before is in; compress and send it again, and only what is missing is added.',
    )
  return error
}

/**
 * Makes names of visitors out of addresses and browsers: a hash with a secret (HMAC-SHA-256, RFC 2104), 128 bits of it, from which
 * nobody without the secret can find out which address it was by trying all there are.
 */
export function keyedHash(secret: Uint8Array): (who: string) => string {
  const known = new LRUCache<string, string>({ max: 10_000 })
  return (who) => {
    let name = known.get(who)
    if (!name) known.set(who, (name = createHmac('sha256', secret).update(who).digest('hex').slice(0, 32)))
    return name
  }
}

function readLog(text: string, visitorOf: (who: string) => string): FileItem['read'] {
  const entry = parseCombinedLog(text)
  return entry
    ? readLogEntry(entry, visitorOf)
    : { problem: { field: '', reason: 'is not in the combined log format' } }
}

async function* readCsv(
  source: AsyncIterable<Buffer>,
  bytes: () => number,
  mapping: CsvMapping | undefined,
  delimiter: string,
): AsyncGenerator<FileItem> {
  /** what could not be read since the last record that could, as it stands in the file */
  let skipped: { lines: number; raw: string; reason: string }[] = []
  // A quote within a field is text; one that opens a field and is never closed swallows what follows.
  const parser = parse({
    ...csvOptions(delimiter),
    raw: true,
    skip_records_with_error: true,
    on_skip: (error, raw) => {
      const { code, lines } = error as unknown as { code: string; lines: number }
      skipped.push({ lines, raw: raw ?? '', reason: CSV_FAULTS[code] ?? 'is not CSV' })
    },
  })
  let failure: Error | undefined
  const input = Readable.from(source)
  input.on('error', (error) => {
    failure = error
    // What was read before comes out all the same.
    parser.end()
  })
  input.pipe(parser)
  let header: string[] | undefined
  let columns = mapping
  const item = (record: string[], number: number): FileItem => {
    const text = record.join(delimiter)
    const fault = faultIn(text)
    const read = fault ? { problem: { field: '', reason: fault } } : readRecord(header!, record, columns!)
    return { number, text, read, bytes: bytes() }
  }
  const afterQuote = function* (): Generator<FileItem> {
    for (const { lines, raw, reason } of skipped) {
      const [first = '', ...rest] = raw.split('\n').filter((line) => line.trim() !== '')
      const number = Math.max(1, lines - rest.length)
      yield { number, text: first, read: { problem: { field: '', reason } }, bytes: bytes() }
      // The lines that were swallowed, each by itself.
      for (const [k, line] of rest.entries()) {
        const [record] = parseSync(line, {
          ...csvOptions(delimiter),
          info: false,
          skip_records_with_error: true,
        })
        if (record && header) yield item(record, number + 1 + k)
        else
          yield {
            number: number + 1 + k,
            text: line,
            read: { problem: { field: '', reason } },
            bytes: bytes(),
          }
      }
    }
    skipped = []
  }
  for await (const { record, info } of parser as AsyncIterable<{
    record: string[]
    info: { lines: number }
  }>) {
    yield* afterQuote()
    if (header) yield item(record, info.lines)
    else {
      header = record.map((name) => name.trim())
      columns ??= proposeMapping(header)
    }
  }
  yield* afterQuote()
  if (failure) throw failure
}

const csvOptions = (delimiter: string) =>
  ({
    ...{ bom: true, delimiter, relax_column_count: true, relax_quotes: true },
    ...{ skip_empty_lines: true, info: true, max_record_size: LONGEST_LINE },
  }) as const

const CSV_FAULTS: Readonly<Record<string, string>> = {
  CSV_QUOTE_NOT_CLOSED: 'opens a quote that is never closed',
  CSV_INVALID_CLOSING_QUOTE: 'has a quote in the middle of a field: double it, and quote the field',
  INVALID_OPENING_QUOTE: 'has a quote in the middle of a field: double it, and quote the field',
  CSV_NON_TRIMABLE_CHAR_AFTER_CLOSING_QUOTE: 'goes on after a closing quote',
  CSV_MAX_RECORD_SIZE: `${TOO_LONG}, perhaps since a quote is never closed`,
}

/** What is wrong with a text that was decoded as UTF-8. */
function faultIn(text: string): string | undefined {
  if (text.includes('\0')) return BINARY
  return text.includes('\uFFFD') ? NOT_UTF8 : undefined
}

interface TextLine {
  number: number
  text: string
  /** why it cannot be read */
  fault?: string
}

const NEWLINE = 0x0a

async function* textLines(source: AsyncIterable<Buffer>): AsyncGenerator<TextLine> {
  let rest: Buffer = Buffer.alloc(0)
  let number = 0
  let overlong = false
  for await (const chunk of source) {
    const all = rest.length ? Buffer.concat([rest, chunk]) : chunk
    const end = all.lastIndexOf(NEWLINE)
    rest = all.subarray(end + 1)
    for (const line of linesIn(all.subarray(0, end + 1))) {
      number++
      yield overlong
        ? { number, text: '', fault: TOO_LONG }
        : { ...line, number, text: clean(line.text, number) }
      overlong = false
    }
    if (rest.length > LONGEST_LINE) {
      overlong = true
      rest = Buffer.alloc(0)
    }
  }
  if (!rest.length && !overlong) return
  number++
  const [last] = linesIn(Buffer.concat([rest, Buffer.from('\n')]))
  yield overlong
    ? { number, text: '', fault: TOO_LONG }
    : { ...last!, number, text: clean(last!.text, number) }
}

/** Whole lines as text; those that are none by themselves. */
function* linesIn(bytes: Buffer): Generator<Omit<TextLine, 'number'>> {
  if (!bytes.length) return
  if (isUtf8(bytes)) {
    const lines = bytes.toString('utf8').split('\n')
    lines.pop()
    for (const text of lines)
      yield text.length > LONGEST_LINE
        ? { text: '', fault: TOO_LONG }
        : text.includes('\0')
          ? { text, fault: BINARY }
          : { text }
    return
  }
  for (let from = 0; from < bytes.length;) {
    const to = bytes.indexOf(NEWLINE, from)
    const line = bytes.subarray(from, to)
    const text = line.toString('utf8')
    if (isUtf8(line)) yield text.includes('\0') ? { text, fault: BINARY } : { text }
    else yield { text, fault: line.includes(0) ? BINARY : NOT_UTF8 }
    from = to + 1
  }
}

function clean(text: string, number: number): string {
  const line = number === 1 && text.startsWith('\uFEFF') ? text.slice(1) : text
  return line.endsWith('\r') ? line.slice(0, -1) : line
}

/** First lines of a file, for a preview. */
export async function firstLines(file: string, count: number): Promise<string[]> {
  const { source } = await openFile(file)
  const lines: string[] = []
  try {
    for await (const { text } of textLines(source as AsyncIterable<Buffer>)) {
      lines.push(text.slice(0, 4000))
      if (lines.length >= count) break
    }
  } catch (error) {
    // A file cut short in its compression still shows what came before.
    if (!lines.length) throw error
  } finally {
    source.destroy()
  }
  return lines
}

export async function sizeOf(file: string): Promise<number> {
  return (await stat(file)).size
}

async function openFile(file: string): Promise<{ source: Readable; bytes: () => number }> {
  const handle = await open(file)
  const magic = Buffer.alloc(2)
  await handle.read(magic, 0, 2, 0)
  await handle.close()
  const raw = createReadStream(file, { highWaterMark: 256 * 1024 })
  const bytes = () => raw.bytesRead
  if (magic[0] !== 0x1f || magic[1] !== 0x8b) return { source: raw, bytes }
  const gunzip = createGunzip()
  raw.on('error', (error) => gunzip.destroy(error))
  return { source: raw.pipe(gunzip), bytes }
}
