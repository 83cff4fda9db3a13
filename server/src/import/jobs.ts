import { rm } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { Worker } from 'node:worker_threads'
import type { CsvMapping, FileKind } from '@dust-trail/core'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { ImportRow, Models } from '../store/models.ts'
import type { Collector } from '../ingest/collect.ts'
import type { ImportMessage, ImportOrder, ImportWork } from './worker.ts'

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
    private readonly collector: Collector,
    private readonly databaseUrl: string,
    /** the built worker; undefined where imports cannot run */
    private readonly workerFile: URL | undefined,
    private readonly failed: (error: unknown) => void,
    /** that may come out of an uploaded file */
    private readonly mostBytes = Infinity,
  ) {}

  /** Where all bad lines of an import are, each as JSON. */
  problemsFile({ id, file }: Pick<ImportRow, 'id' | 'file'>): string {
    return join(dirname(dirname(file)), `problems-${id}.ndjson`)
  }

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
      version: null,
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
    this.#running.get(id)?.worker.postMessage({ type: 'stop' } satisfies ImportOrder)
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
      kind: row.kind,
      mapping: row.mapping,
      problemsFile: this.problemsFile(row),
      mostBytes: this.mostBytes,
    }
    const worker = new Worker(this.workerFile, {
      workerData: work,
      // Lines live for a moment: with little room for what is young they would be collected again and again.
      resourceLimits: { maxYoungGenerationSizeMb: 128 },
    })
    this.#running.set(row.id, { worker, row })
    let notedMs = 0
    /** lets go what is held for the import, by number */
    const held = new Map<number, () => void>()
    const tell = (order: ImportOrder) => worker.postMessage(order)
    worker.on('message', (message: ImportMessage) => {
      switch (message.type) {
        case 'wrote':
          row.progress = message.progress
          this.engines.changed(site.row, message.placed)
          if (Date.now() - notedMs < NOTE_MS) return
          notedMs = Date.now()
          this.models.imports.update({ progress: row.progress }, { where: { id: row.id } }).catch(this.failed)
          return
        case 'hold':
          void this.collector.hold(site.row.id, message.visitors).then((release) => {
            if (!this.#running.has(row.id)) {
              release()
              return
            }
            held.set(message.hold, release)
            tell({ type: 'held', hold: message.hold })
          })
          return
        case 'release':
          held.get(message.hold)?.()
          held.delete(message.hold)
          return
        case 'failed':
          this.#end(row, {
            state: 'failed',
            message: `It was cut off: ${message.message} Importing the file again adds the rest.`,
          })
          return
        case 'ended': {
          const { state, message: words, problems, ...progress } = message.result
          const end = () =>
            this.#end(row, { state, message: words, problems, progress, version: site.version })
          // It is done when it is in the answers.
          void this.engines.upToDate().then(end, end)
        }
      }
    })
    worker.on('error', (error) => this.#end(row, { state: 'failed', message: error.message }))
    worker.on('exit', () => {
      this.#running.delete(row.id)
      for (const release of held.values()) release()
    })
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
