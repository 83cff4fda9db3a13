import { createReadStream } from 'node:fs'
import { open, stat } from 'node:fs/promises'
import type { Readable } from 'node:stream'
import { StringDecoder } from 'node:string_decoder'
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

/** Reads a file, gzipped or not, line by line. Empty lines are passed over. */
export async function* readFile(
  file: string,
  kind: FileKind,
  mapping: CsvMapping | undefined,
): AsyncGenerator<FileItem> {
  const { source, bytes } = await openFile(file)
  try {
    if (kind === 'csv')
      yield* readCsv(source, bytes, mapping, csvDelimiter((await firstLines(file, 1))[0] ?? ''))
    else
      for await (const { number, text } of textLines(source)) {
        if (text.trim() === '') continue
        const read =
          text.length > LONGEST_LINE ? TOO_LONG : kind === 'log' ? readLog(text) : readJsonLine(text)
        yield { number, text, read, bytes: bytes() }
      }
  } finally {
    source.destroy()
  }
}

const TOO_LONG: LineRead = { problem: { field: '', reason: `is longer than ${LONGEST_LINE} characters` } }

function readLog(text: string): FileItem['read'] {
  const entry = parseCombinedLog(text)
  return entry ? readLogEntry(entry) : { problem: { field: '', reason: 'is not in the combined log format' } }
}

async function* readCsv(
  source: Readable,
  bytes: () => number,
  mapping: CsvMapping | undefined,
  delimiter: string,
): AsyncGenerator<FileItem> {
  const parser = source.pipe(
    parse({
      bom: true,
      delimiter,
      relax_column_count: true,
      skip_empty_lines: true,
      info: true,
      max_record_size: LONGEST_LINE,
    }),
  )
  source.on('error', (error) => parser.destroy(error))
  let header: string[] | undefined
  let columns = mapping
  for await (const { record, info } of parser as AsyncIterable<{
    record: string[]
    info: { lines: number }
  }>) {
    if (!header) {
      header = record.map((name) => name.trim())
      columns ??= proposeMapping(header)
      continue
    }
    yield {
      number: info.lines,
      text: record.join(delimiter),
      read: readRecord(header, record, columns!),
      bytes: bytes(),
    }
  }
}

async function* textLines(source: Readable): AsyncGenerator<{ number: number; text: string }> {
  const decoder = new StringDecoder('utf8')
  let rest = ''
  let number = 0
  let overlong = false
  for await (const chunk of source as AsyncIterable<Buffer>) {
    const parts = (rest + decoder.write(chunk)).split('\n')
    rest = parts.pop()!
    for (const part of parts) {
      number++
      yield { number, text: overlong ? 'x'.repeat(LONGEST_LINE + 1) : clean(part, number) }
      overlong = false
    }
    if (rest.length > LONGEST_LINE) {
      overlong = true
      rest = ''
    }
  }
  rest += decoder.end()
  if (rest !== '' || overlong)
    yield { number: ++number, text: overlong ? 'x'.repeat(LONGEST_LINE + 1) : clean(rest, number) }
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
    for await (const { text } of textLines(source)) {
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
