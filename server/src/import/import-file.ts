import { closeSync, openSync, writeSync } from 'node:fs'
import { dirname } from 'node:path'
import type { CsvMapping, FileKind, Line } from '@dust-trail/core'
import { describeGuess, timeProblem } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import type { SiteRow } from '../store/models.ts'
import type { PlacedWhole } from '../store/place-visitors.ts'
import { placeVisitors, visitorGroups } from '../store/place-visitors.ts'
import { siteSecret } from '../store/site-secret.ts'
import { LineStore } from './line-store.ts'
import type { FileItem } from './read-file.ts'
import { CutFileError, keyedHash, readFile, sizeOf } from './read-file.ts'

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
  kind: FileKind
  mapping?: CsvMapping | undefined
  signal: AbortSignal
  /** keeps what else arrives for some visitors waiting until it is released */
  hold?: ((visitors: readonly string[]) => Promise<() => void>) | undefined
  /** called after each committed piece */
  wrote: (progress: ImportProgress, placed: PlacedWhole) => void
  nowMs: number
  /** that may come out of the file */
  mostBytes?: number | undefined
  /** where all bad lines are written, each as JSON */
  problemsFile?: string | undefined
}

/** Visitors of a log are named with the secret of their site: the same whenever it is read. */
async function visitorsOf({
  sequelize,
  site,
  kind,
}: ImportTask): Promise<((who: string) => string) | undefined> {
  return kind === 'log' ? keyedHash(await siteSecret(sequelize, site.id)) : undefined
}

const MOST_PROBLEMS = 1000
/** Where more of the first lines are bad, this is another kind of file. */
const CHECKED_FIRST = 10_000
const MOST_BAD = 0.2
/** Share of the work that is done when a file has been read. */
const READ_SHARE = 0.5
/** Groups of visitors that are written at a time. */
const AT_ONCE = 2

/**
 * Imports a file: reads and checks its lines, sorts them by visitor on disk, then writes one visitor's after the other's.
 * So the order of the lines in the file costs nothing. Bad lines are counted and kept aside; where over a fifth of the
 * first 10,000 are bad, nothing is written. Importing again what was cut off, or all of it, adds only what is missing.
 * Memory does not grow with the file.
 */
export async function importFile(task: ImportTask): Promise<ImportResult> {
  const { site, file, signal } = task
  const totalBytes = await sizeOf(file)
  const progress: ImportProgress = {
    ...{ bytes: 0, totalBytes, lines: 0, good: 0, bad: 0, repeated: 0, skipped: {} },
  }
  const problems: BadLine[] = []
  const result = (state: ImportResult['state'], message: string): ImportResult => ({
    ...progress,
    state,
    message,
    problems,
  })
  const reported = task.problemsFile === undefined ? undefined : openSync(task.problemsFile, 'w')
  const report =
    reported === undefined
      ? undefined
      : (bad: BadLine) => void writeSync(reported, `${JSON.stringify(bad)}\n`)
  const firstTexts: string[] = []
  const tooBad = () => progress.lines > 0 && progress.bad / progress.lines > MOST_BAD
  const refuse = () =>
    result(
      'refused',
      `${progress.bad} of the first ${progress.lines} lines cannot be read, so nothing was written. The file looks like ${describeGuess(firstTexts)}.`,
    )
  const stopped = () =>
    result('stopped', 'Stopped. What was written stays; importing the file again adds the rest.')
  /** why the file could not be read to its end */
  let cut = ''
  const store = new LineStore(dirname(file), totalBytes)
  try {
    for await (const item of readable(
      readFile(file, task.kind, task.mapping, task.mostBytes, await visitorsOf(task)),
      (error) => (cut = error.message),
    )) {
      progress.lines++
      progress.bytes = Math.round(item.bytes * READ_SHARE)
      if (firstTexts.length < 20) firstTexts.push(item.text.slice(0, 4000))
      const line = take(item, progress, problems, task.nowMs, report)
      if (line) store.add(line, 'asWritten' in item.read && item.read.asWritten ? item.text : undefined)
      if (progress.lines === CHECKED_FIRST && tooBad()) return refuse()
      if (progress.lines % CHECKED_FIRST === 0) {
        task.wrote({ ...progress }, NOTHING)
        // Messages are read between two pieces: one may say stop.
        await new Promise(setImmediate)
        if (signal.aborted) return stopped()
      }
    }
    if (progress.lines < CHECKED_FIRST && tooBad()) return refuse()
    // While the database writes one group of visitors the next is made ready.
    const writing: Promise<void>[] = []
    for (const { lines, texts, share } of store.pieces())
      for (const visitors of visitorGroups(lines)) {
        await new Promise(setImmediate)
        if (signal.aborted) {
          await Promise.all(writing)
          return stopped()
        }
        const write = async () => {
          const placed = await placeVisitors(task.sequelize, site, visitors, {
            ...{ nowMs: task.nowMs, hold: task.hold },
            textOf: (line) => texts.get(line) ?? JSON.stringify(line),
          })
          const count = [...visitors.values()].reduce((sum, own) => sum + own.length, 0)
          progress.good += count - placed.repeated - placed.tooMany
          progress.repeated += placed.repeated
          if (placed.tooMany) skip(progress, 'more than one session may have', placed.tooMany)
          progress.bytes = Math.round(totalBytes * (READ_SHARE + (1 - READ_SHARE) * share))
          task.wrote({ ...progress }, placed)
        }
        const one = write()
        // A failure is reported when its turn comes.
        one.catch(() => undefined)
        writing.push(one)
        if (writing.length >= AT_ONCE) await writing.shift()
      }
    await Promise.all(writing)
  } finally {
    if (reported !== undefined) closeSync(reported)
    store.close()
  }
  progress.bytes = totalBytes
  return result('done', cut || (progress.lines ? '' : 'The file is empty.'))
}

/** What can be read of a file; that it ends too early is told, and no failure. */
async function* readable(
  items: AsyncGenerator<FileItem>,
  cut: (error: CutFileError) => void,
): AsyncGenerator<FileItem> {
  try {
    yield* items
  } catch (error) {
    if (!(error instanceof CutFileError)) throw error
    cut(error)
  }
}

const NOTHING: PlacedWhole = { changed: [], gone: [], blocks: [], repeated: 0, tooMany: 0 }

function skip(progress: ImportProgress, reason: string, count: number): void {
  progress.skipped[reason] = (progress.skipped[reason] ?? 0) + count
}

/** The line of an item, where it has one; else counts why not. */
function take(
  item: FileItem,
  progress: ImportProgress,
  problems: BadLine[],
  nowMs: number,
  report: ((bad: BadLine) => void) | undefined,
): Line | undefined {
  const { read } = item
  if ('skip' in read) {
    skip(progress, read.skip, 1)
    return undefined
  }
  const time = read.line && timeProblem(read.line.t, nowMs)
  const problem = time ? { field: 't', reason: time } : read.problem
  if (!problem) return read.line
  progress.bad++
  const bad = { line: item.number, ...problem }
  if (problems.length < MOST_PROBLEMS) problems.push(bad)
  report?.(bad)
  return undefined
}
