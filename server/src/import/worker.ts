import { parentPort, workerData } from 'node:worker_threads'
import type { CsvMapping, FileKind } from '@dust-trail/core'
import { connect } from '../store/database.ts'
import type { SiteRow } from '../store/models.ts'
import type { Placed } from '../store/place-lines.ts'
import type { ImportProgress, ImportResult } from './import-file.ts'
import { importFile } from './import-file.ts'

export interface ImportWork {
  databaseUrl: string
  site: SiteRow
  file: string
  name: string
  kind: FileKind
  mapping: CsvMapping | null
}

export type ImportMessage =
  | { type: 'wrote'; progress: ImportProgress; placed: Placed }
  | { type: 'ended'; result: ImportResult }
  | { type: 'failed'; message: string }

/** Runs one import off the server's main thread; told to stop by any message. */
const work = workerData as ImportWork
const port = parentPort!
const stopping = new AbortController()
port.once('message', () => stopping.abort())
const sequelize = connect(work.databaseUrl)
try {
  const result = await importFile({
    ...work,
    mapping: work.mapping ?? undefined,
    sequelize,
    signal: stopping.signal,
    wrote: (progress, placed) =>
      port.postMessage({ type: 'wrote', progress, placed } satisfies ImportMessage),
  })
  port.postMessage({ type: 'ended', result } satisfies ImportMessage)
} catch (error) {
  const message = error instanceof Error ? error.message : String(error)
  port.postMessage({ type: 'failed', message } satisfies ImportMessage)
} finally {
  port.close()
  await sequelize.close()
}
