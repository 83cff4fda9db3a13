import type { Sequelize } from 'sequelize'
import type { Collected } from '../ingest/collect.ts'
import type { Models, SiteRow } from '../store/models.ts'
import type { DamagedBlock } from '../store/blocks.ts'
import { readBlocks } from '../store/blocks.ts'
import { readOpenSessions, readSessionsById } from '../store/sessions.ts'
import { SiteEngine } from './site-engine.ts'
import type { Threads } from './threads.ts'

export interface LoadedSite {
  row: SiteRow
  engine: SiteEngine
  /** blocks that could not be read and are not in the answers */
  damaged: DamagedBlock[]
}

/** How long changed sessions gather before they are read anew: well under the two seconds live data may take. */
const GATHER_MS = 200

const shared = (bytes: number) => new SharedArrayBuffer(bytes)

/** The sites of this server with their data in memory. */
export class Engines {
  readonly #sites = new Map<string, LoadedSite>()
  readonly #dirty = new Map<string, { changed: Set<number>; gone: Set<number> }>()
  #timer: NodeJS.Timeout | undefined
  #refreshing: Promise<void> = Promise.resolve()

  constructor(
    private readonly sequelize: Sequelize,
    private readonly models: Models,
    private readonly failed: (error: unknown) => void,
    private readonly threads?: Threads,
  ) {}

  /** Reads all sites and their sessions. */
  async load(): Promise<void> {
    for (const row of await this.models.sites.findAll({ order: ['id'] })) {
      const site = this.add(row.get({ plain: true }))
      for await (const read of readBlocks(this.sequelize, site.row.id, site.engine.dictionaries, shared))
        if ('damaged' in read) site.damaged.push(read.damaged)
        else site.engine.addPacked(read.block, read.holes)
      for await (const rows of readOpenSessions(this.sequelize, site.row.id)) site.engine.addBlock(rows)
    }
  }

  all(): LoadedSite[] {
    return [...this.#sites.values()]
  }

  get(key: string): LoadedSite | undefined {
    return this.#sites.get(key)
  }

  /** Takes note of committed changes; they are in the answers shortly after. */
  changed(site: SiteRow, what: Collected): void {
    if (!what.changed.length && !what.gone.length) return
    let dirty = this.#dirty.get(site.key)
    if (!dirty) this.#dirty.set(site.key, (dirty = { changed: new Set(), gone: new Set() }))
    for (const id of what.changed) dirty.changed.add(id)
    for (const id of what.gone) dirty.gone.add(id)
    this.#timer ??= setTimeout(() => {
      this.#timer = undefined
      this.#refreshing = this.#refreshing.then(() => this.#refresh()).catch(this.failed)
    }, GATHER_MS)
  }

  stop(): void {
    clearTimeout(this.#timer)
  }

  async #refresh(): Promise<void> {
    for (const [key, what] of [...this.#dirty]) {
      this.#dirty.delete(key)
      try {
        const rows = await readSessionsById(this.sequelize, [...what.changed])
        this.#sites.get(key)?.engine.replace(rows, [...what.gone], Date.now())
      } catch (error) {
        const site = this.#sites.get(key)
        if (site)
          this.changed(site.row, { changed: [...what.changed], gone: [...what.gone], repeated: false })
        throw error
      }
    }
  }

  /** Takes in a site that has no data yet. */
  add(row: SiteRow): LoadedSite {
    const site: LoadedSite = {
      row,
      damaged: [],
      engine: new SiteEngine(
        {
          key: row.key,
          rules: () => site.row.pageGroups,
          timeZone: () => site.row.timeZone,
          limitMs: () => site.row.sessionLimitMin * 60_000,
        },
        this.threads,
      ),
    }
    this.#sites.set(row.key, site)
    return site
  }
}
