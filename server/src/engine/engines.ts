import type { Sequelize } from 'sequelize'
import type { Collected } from '../ingest/collect.ts'
import type { Models, SiteRow } from '../store/models.ts'
import type { DamagedBlock } from '../store/blocks.ts'
import { readBlocks, readBytes, unpackHere } from '../store/blocks.ts'
import { readOpenSessions, readSessionsById } from '../store/sessions.ts'
import { SiteEngine } from './site-engine.ts'
import type { Actions, Threads } from './threads.ts'

export interface LoadedSite {
  row: SiteRow
  engine: SiteEngine
  /** blocks that could not be read and are not in the answers */
  damaged: DamagedBlock[]
  /** how many stored blocks have been read so far; null when all have */
  loading: { blocks: number; of: number } | null
  /** what the site has named; replaced when it changes */
  actions: Actions
}

/** How many answers of a site are kept for those who ask the same again. */
const ANSWERS = 200

/** How many blocks are on their way to each thread: while one is read the next one comes. */
const AHEAD = 2

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
    /** beyond which blocks stay in the database */
    private readonly memoryBytes = Infinity,
  ) {}

  /**
   * Reads all sites and begins to read their sessions, the newest first. Resolves when the sites are there; questions are
   * answered on what has been read. `loaded` resolves when all has been.
   */
  async load(): Promise<{ loaded: Promise<void> }> {
    const rows = await this.models.sites.findAll({ order: ['id'] })
    const sites = rows.map((row) => this.add(row.get({ plain: true })))
    for (const site of sites) {
      await this.readActions(site)
      site.engine.beginLoading()
      site.loading = { blocks: 0, of: 0 }
    }
    return { loaded: this.#loadAll(sites) }
  }

  async #loadAll(sites: readonly LoadedSite[]): Promise<void> {
    for (const site of sites) {
      const { engine, row } = site
      let blocks = 0
      const { unpack, count } = this.threads ?? { unpack: unpackHere(shared), count: 1 }
      const blocksRead = readBlocks(this.sequelize, row.id, engine.dictionaries, unpack, AHEAD * count)
      for await (const read of blocksRead) {
        if ('damaged' in read) site.damaged.push(read.damaged)
        else engine.addPacked(read.block, read.holes, read.id, this.#used() < this.memoryBytes)
        site.loading = { blocks: ++blocks, of: read.of }
        // Whoever asks meanwhile gets a turn.
        await new Promise(setImmediate)
      }
      for await (const open of readOpenSessions(this.sequelize, row.id)) engine.addBlock(open)
      engine.endLoading()
      site.loading = null
    }
  }

  /** Takes note of what a site calls its actions. */
  async readActions(site: LoadedSite): Promise<void> {
    const rows = await this.models.actions.findAll({ where: { siteId: site.row.id }, order: ['id'] })
    site.actions = new Map(
      rows.map((row) => {
        const { name, rule } = row.get({ plain: true })
        return [name, rule]
      }),
    )
  }

  /** Bytes that blocks of all sites take in memory. */
  #used(): number {
    let bytes = 0
    for (const { engine } of this.#sites.values()) bytes += engine.size().bytes
    return bytes
  }

  /** Reads a stored block that does not lie in memory. */
  async #fetch(site: LoadedSite, id: number): Promise<Uint8Array | undefined> {
    const read = await readBytes(this.sequelize, id)
    if (!read) return undefined
    if ('bytes' in read) return read.bytes
    if (!site.damaged.some((known) => known.id === id)) site.damaged.push(read.damaged)
    return undefined
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
      loading: null,
      actions: new Map(),
      engine: new SiteEngine(
        {
          key: row.key,
          rules: () => site.row.pageGroups,
          actions: () => site.actions,
          timeZone: () => site.row.timeZone,
          limitMs: () => site.row.sessionLimitMin * 60_000,
          fetch: (id) => this.#fetch(site, id),
          answers: ANSWERS,
        },
        this.threads,
      ),
    }
    this.#sites.set(row.key, site)
    return site
  }
}
