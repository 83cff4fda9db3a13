import { parentPort, workerData } from 'node:worker_threads'
import type { CsvMapping, FileKind } from '@dust-trail/core'
import { connect } from '../store/database.ts'
import type { SiteRow } from '../store/models.ts'
import type { PlacedWhole } from '../store/place-visitors.ts'
import type { ImportProgress, ImportResult } from './import-file.ts'
import { importFile } from './import-file.ts'

export interface ImportWork {
  databaseUrl: string
  site: SiteRow
  file: string
  kind: FileKind
  mapping: CsvMapping | null
  problemsFile: string
  mostBytes: number
}

/** What an import says; `hold` and `release`: what else arrives for these visitors is to wait, and need not any more. */
export type ImportMessage =
  | { type: 'wrote'; progress: ImportProgress; placed: PlacedWhole }
  | { type: 'hold'; hold: number; visitors: readonly string[] }
  | { type: 'release'; hold: number }
  | { type: 'ended'; result: ImportResult }
  | { type: 'failed'; message: string }

/** What it is told. */
export type ImportOrder = { type: 'stop' } | { type: 'held'; hold: number }

/** Runs one import off the server's main thread. */
const work = workerData as ImportWork
const port = parentPort!
const stopping = new AbortController()
/** who waits until others wait, by number */
const holds = new Map<number, () => void>()
let lastHold = 0
const say = (message: ImportMessage) => port.postMessage(message)
port.on('message', (order: ImportOrder) => {
  if (order.type === 'stop') stopping.abort()
  else holds.get(order.hold)?.()
})
const sequelize = connect(work.databaseUrl)
try {
  const result = await importFile({
    ...work,
    mapping: work.mapping ?? undefined,
    sequelize,
    nowMs: Date.now(),
    signal: stopping.signal,
    hold: async (visitors) => {
      const hold = ++lastHold
      await new Promise<void>((resolve) => {
        holds.set(hold, resolve)
        say({ type: 'hold', hold, visitors })
      })
      holds.delete(hold)
      return () => say({ type: 'release', hold })
    },
    wrote: (progress, placed) => say({ type: 'wrote', progress, placed }),
  })
  say({ type: 'ended', result })
} catch (error) {
  say({ type: 'failed', message: error instanceof Error ? error.message : String(error) })
} finally {
  await sequelize.close()
  port.close()
}
