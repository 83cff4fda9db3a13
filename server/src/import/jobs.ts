import { rm } from 'node:fs/promises'
import { dirname } from 'node:path'
import { Worker } from 'node:worker_threads'
import type { CsvMapping, FileKind } from '@dust-trail/core'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { ImportRow, Models } from '../store/models.ts'
import type { ImportMessage, ImportWork } from './worker.ts'

export interface NewImport {
  name: string
  file: string
  kind: FileKind
  mapping: CsvMapping | null
}

/** How often progress is written down while an import runs. */
const NOTE_MS = 1000

const NOTHING: ImportRow['progress'] = {
  bytes: 0,
  totalBytes: 0,
  lines: 0,
  good: 0,
  bad: 0,
  repeated: 0,
  skipped: {},
}

/** Imports of all sites: one worker thread each, their state in the database, so that one cut off goes on by itself. */
export class ImportJobs {
  readonly #running = new Map<number, { worker: Worker; row: ImportRow }>()

  constructor(
    private readonly models: Models,
    private readonly engines: Engines,
    private readonly databaseUrl: string,
    /** the built worker; undefined where imports cannot run */
    private readonly workerFile: URL | undefined,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Takes up imports that were running when the server ended. */
  async resume(): Promise<void> {
    for (const found of await this.models.imports.findAll({ where: { state: 'running' } })) {
      const row = found.get({ plain: true })
      const site = this.engines.all().find((one) => one.row.id === row.siteId)
      if (site) this.#run(site, row)
    }
  }

  async start(site: LoadedSite, what: NewImport, nowMs: number): Promise<ImportRow> {
    const made = await this.models.imports.create({
      siteId: site.row.id,
      ...what,
      state: 'running',
      progress: NOTHING,
      problems: [],
      message: '',
      startedMs: nowMs,
      endedMs: null,
    })
    const row = made.get({ plain: true })
    this.#run(site, row)
    return row
  }

  /** An import as it stands now. @throws ProblemError 404 */
  async get(siteId: number, id: number): Promise<ImportRow> {
    const running = this.#running.get(id)
    if (running?.row.siteId === siteId) return running.row
    const found = await this.models.imports.findOne({ where: { id, siteId } })
    if (!found) throw notFound('such import')
    return found.get({ plain: true })
  }

  async list(siteId: number): Promise<ImportRow[]> {
    const rows = await this.models.imports.findAll({ where: { siteId }, order: [['id', 'DESC']], limit: 20 })
    return rows.map(
      (found) => this.#running.get(found.get('id') as number)?.row ?? found.get({ plain: true }),
    )
  }

  /** Asks an import to stop after the piece it is writing. */
  stop(id: number): void {
    this.#running.get(id)?.worker.postMessage('stop')
  }

  async close(): Promise<void> {
    await Promise.all([...this.#running.values()].map(({ worker }) => worker.terminate()))
  }

  #run(site: LoadedSite, row: ImportRow): void {
    if (!this.workerFile) throw new Error('imports need the built worker')
    const work: ImportWork = {
      databaseUrl: this.databaseUrl,
      site: site.row,
      file: row.file,
      name: row.name,
      kind: row.kind,
      mapping: row.mapping,
    }
    const worker = new Worker(this.workerFile, { workerData: work })
    this.#running.set(row.id, { worker, row })
    let notedMs = 0
    worker.on('message', (message: ImportMessage) => {
      if (message.type === 'wrote') {
        row.progress = message.progress
        this.engines.changed(site.row, { ...message.placed, repeated: false })
        if (Date.now() - notedMs < NOTE_MS) return
        notedMs = Date.now()
        this.models.imports.update({ progress: row.progress }, { where: { id: row.id } }).catch(this.failed)
        return
      }
      if (message.type === 'failed') {
        this.#end(row, {
          state: 'failed',
          message: `It was cut off: ${message.message} Importing the file again adds the rest.`,
        })
        return
      }
      const { state, message: words, problems, ...progress } = message.result
      this.#end(row, { state, message: words, problems, progress })
    })
    worker.on('error', (error) => this.#end(row, { state: 'failed', message: error.message }))
    worker.on('exit', () => this.#running.delete(row.id))
  }

  #end(row: ImportRow, how: Partial<ImportRow> & Pick<ImportRow, 'state'>): void {
    Object.assign(row, how, { endedMs: Date.now() })
    const { id, siteId: _, ...changes } = row
    this.models.imports
      .update(changes, { where: { id } })
      .then(() => rm(dirname(row.file), { recursive: true, force: true }))
      .catch(this.failed)
  }
}
