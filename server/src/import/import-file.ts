import { createHash } from 'node:crypto'
import type { CsvMapping, FileKind, Line } from '@dust-trail/core'
import { describeGuess } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { inTransaction, retried } from '../store/database.ts'
import type { SiteRow } from '../store/models.ts'
import type { Placed } from '../store/place-lines.ts'
import { isRepeat, placeLines } from '../store/place-lines.ts'
import type { FileItem } from './read-file.ts'
import { readFile, sizeOf } from './read-file.ts'

/** A line that was not taken. */
export interface BadLine {
  line: number
  field: string
  reason: string
}

export interface ImportProgress {
  bytes: number
  totalBytes: number
  /** lines read */
  lines: number
  /** lines written */
  good: number
  bad: number
  /** lines that were there already */
  repeated: number
  /** log entries that are no page views, by reason */
  skipped: Record<string, number>
}

export interface ImportResult extends ImportProgress {
  state: 'done' | 'stopped' | 'refused'
  message: string
  /** the first thousand */
  problems: BadLine[]
}

export interface ImportTask {
  sequelize: Sequelize
  site: SiteRow
  file: string
  /** the file's own name: with the line's number and text it stands for a line that has no id */
  name: string
  kind: FileKind
  mapping?: CsvMapping | undefined
  signal: AbortSignal
  /** called after each committed piece */
  wrote: (progress: ImportProgress, placed: Placed) => void
}

/** Lines in one transaction: many enough that committing costs little, few enough for memory. */
const CHUNK = 10_000
const MOST_PROBLEMS = 1000
/** Where more of the first lines are bad, this is another kind of file. */
const CHECKED_FIRST = 10_000
const MOST_BAD = 0.2

/**
 * Imports a file. Bad lines are counted and kept aside, good ones written in pieces, each in one transaction; where over
 * a fifth of the first 10,000 lines are bad, nothing is written. A line is known by its id, or by file, number and text:
 * importing again what was cut off, or all of it, adds only what is missing. Memory does not grow with the file.
 */
export async function importFile(task: ImportTask): Promise<ImportResult> {
  const { sequelize, site, file, signal } = task
  const progress: ImportProgress = {
    bytes: 0,
    totalBytes: await sizeOf(file),
    lines: 0,
    good: 0,
    bad: 0,
    repeated: 0,
    skipped: {},
  }
  const problems: BadLine[] = []
  const result = (state: ImportResult['state'], message: string): ImportResult => ({
    ...progress,
    state,
    message,
    problems,
  })

  let waiting: Line[] = []
  /** what stands for the id of a line that has none; beside it, so that the line itself stays as it came */
  const standIns = new WeakMap<Line, string>()
  let checked = false
  /** stopped before the end of the file */
  let cut = false
  const firstTexts: string[] = []
  const tooBad = () => progress.lines > 0 && progress.bad / progress.lines > MOST_BAD
  const refuse = () =>
    result(
      'refused',
      `${progress.bad} of the first ${progress.lines} lines cannot be read, so nothing was written. The file looks like ${describeGuess(firstTexts)}.`,
    )
  // The database writes one piece while the next is read and checked.
  let writing: Promise<{ error?: Error }> = Promise.resolve({})
  const settled = async () => {
    const { error } = await writing
    if (error) throw error
  }
  const place = (lines: Line[], how: 'fresh' | 'unknown') =>
    retried(() =>
      inTransaction(sequelize, (connection) =>
        placeLines(connection, site, lines, (line) => line.id ?? standIns.get(line), how),
      ),
    )
  // Most files are new: only where a line turns out to be there already are lines looked up before they are written.
  let fresh = true
  const writePiece = async (lines: Line[]) => {
    const placed = await place(lines, fresh ? 'fresh' : 'unknown').catch((error: unknown) => {
      if (!isRepeat(error)) throw error
      return place(lines, 'unknown')
    })
    fresh = placed.repeated === 0
    progress.good += lines.length - placed.repeated
    progress.repeated += placed.repeated
    task.wrote({ ...progress }, placed)
  }
  const write = async () => {
    for (let from = 0; from < waiting.length; from += CHUNK) {
      const lines = waiting.slice(from, from + CHUNK)
      await settled()
      if (signal.aborted) return
      writing = writePiece(lines).then(
        () => ({}),
        (error: unknown) => ({ error: error instanceof Error ? error : new Error(String(error)) }),
      )
    }
    waiting = []
  }

  for await (const item of readFile(file, task.kind, task.mapping)) {
    progress.lines++
    progress.bytes = item.bytes
    if (firstTexts.length < 20) firstTexts.push(item.text.slice(0, 4000))
    const line = take(item, progress, problems)
    if (line) {
      waiting.push(line)
      if (line.id === undefined) standIns.set(line, `${task.name} ${item.number} ${sha(item.text)}`)
    }
    if (!checked && progress.lines < CHECKED_FIRST) continue
    if (!checked) {
      if (tooBad()) return refuse()
      checked = true
    }
    if (waiting.length < CHUNK) continue
    await write()
    if (signal.aborted) {
      cut = true
      break
    }
  }
  if (!checked && tooBad()) return refuse()
  await write()
  await settled()
  if (cut || (signal.aborted && waiting.length))
    return result('stopped', 'Stopped. What was written stays; importing the file again adds the rest.')
  progress.bytes = progress.totalBytes
  return result('done', progress.lines ? '' : 'The file is empty.')
}

/** The line of an item, where it has one; else counts why not. */
function take(item: FileItem, progress: ImportProgress, problems: BadLine[]): Line | undefined {
  const { read } = item
  if ('skip' in read) {
    progress.skipped[read.skip] = (progress.skipped[read.skip] ?? 0) + 1
    return undefined
  }
  if (read.problem) {
    progress.bad++
    if (problems.length < MOST_PROBLEMS) problems.push({ line: item.number, ...read.problem })
    return undefined
  }
  return read.line
}

function sha(text: string): string {
  return createHash('md5').update(text).digest('hex')
}
