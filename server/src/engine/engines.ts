import type { SignalThresholds, StrainWeights } from '@dust-trail/core'
import { oncePer, thresholdsOf, weightsOf } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import type { DamagedBlock } from '../store/read-blocks.ts'
import { readBlocks, readBytes, unpackHere } from '../store/read-blocks.ts'
import type { Models, SiteRow } from '../store/models.ts'
import type { Rewritten } from '../store/rewrite-blocks.ts'
import { readOpenSessions, readSessionsById } from '../store/sessions.ts'
import { SignalKeeper } from './signal-keeper.ts'
import type { EngineLimits } from './site-engine.ts'
import { ENGINE_LIMITS, SiteEngine } from './site-engine.ts'
import type { Actions } from './thread-messages.ts'
import type { Threads } from './threads.ts'

export interface LoadedSite {
  row: SiteRow
  engine: SiteEngine
  /** blocks that could not be read and are not in the answers */
  damaged: DamagedBlock[]
  /** how many stored blocks have been read so far; null when all have */
  loading: { blocks: number; of: number } | null
  /** what the site has named; replaced when it changes */
  actions: Actions
  /** actions that count as friction */
  ownSignals: readonly string[]
  /** rises whenever answers may change: milliseconds since 1970 when they did, or a little more */
  version: number
}

/** Committed changes of a site's data. */
export interface Changes {
  /** sessions that have changed and sessions that are no more, by id */
  changed: readonly number[]
  gone: readonly number[]
  /** stored blocks that are new */
  blocks?: readonly number[]
}

interface Dirty {
  changed: Set<number>
  gone: Set<number>
  blocks: Set<number>
}

/** How many answers of a site are kept for those who ask the same again. */
const ANSWERS = 200

/** How many blocks are on their way to each thread: while one is read the next one comes. */
const AHEAD = 2

/**
 * How long changed sessions gather before they are read anew: the longer the longer reading takes, and well under the two
 * seconds that live data may take.
 */
const GATHER_MS = { least: 200, most: 600, timesReading: 5 }

const shared = (bytes: number) => new SharedArrayBuffer(bytes)

/** The sites of this server with their data in memory. */
export class Engines {
  readonly #sites = new Map<string, LoadedSite>()
  readonly #dirty = new Map<string, Dirty>()
  #timer: NodeJS.Timeout | undefined
  #refreshing: Promise<void> = Promise.resolve()
  #gatherMs = GATHER_MS.least
  #stopped = false
  readonly #keeper: SignalKeeper

  constructor(
    private readonly sequelize: Sequelize,
    private readonly models: Models,
    private readonly failed: (error: unknown) => void,
    private readonly threads?: Threads,
    /** beyond which blocks stay in the database */
    private readonly memoryBytes = Infinity,
    /** milliseconds that a question may take */
    readonly questionMs = 60_000,
    private readonly limits: EngineLimits = ENGINE_LIMITS,
  ) {
    this.#keeper = new SignalKeeper(sequelize, () => this.all().map(({ engine }) => engine), failed)
  }

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
      await this.#readBlocks(site, undefined)
      for await (const open of readOpenSessions(this.sequelize, row)) engine.addBlock(open)
      engine.endLoading()
      site.loading = null
    }
    this.#keeper.soon()
  }

  /** Reads stored blocks: all of a site, or some. */
  async #readBlocks(site: LoadedSite, ids: readonly number[] | undefined): Promise<void> {
    const { engine, row } = site
    let blocks = 0
    const { unpack, count } = this.threads ?? { unpack: unpackHere(shared), count: 1 }
    const ahead = AHEAD * count
    const thresholds = () => thresholdsFor(site)
    const blocksRead = readBlocks(
      ...([this.sequelize, row.id, engine.dictionaries, unpack, ahead, ids, thresholds] as const),
    )
    for await (const read of blocksRead) {
      if ('damaged' in read) site.damaged.push(read.damaged)
      else if (!engine.hasStored(read.id))
        engine.addPacked(read.block, read.holes, {
          ...{ stored: read.id, inMemory: this.#used() < this.memoryBytes },
          ...{ thresholds: read.thresholds, kept: read.kept },
        })
      if (!ids) site.loading = { blocks: ++blocks, of: read.of }
      // Yield to the event loop: requests are answered between two blocks.
      await new Promise(setImmediate)
    }
  }

  /** Takes note of what a site calls its actions. */
  async readActions(site: LoadedSite): Promise<void> {
    const rows = await this.models.actions.findAll({ where: { siteId: site.row.id }, order: ['id'] })
    const known = rows.map((row) => row.get({ plain: true }))
    site.actions = new Map(known.map(({ name, rule }) => [name, rule]))
    site.ownSignals = known.filter(({ isSignal }) => isSignal).map(({ name }) => name)
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
    if (!site.damaged.some((damaged) => damaged.id === id)) site.damaged.push(read.damaged)
    return undefined
  }

  /** Called where an answer that was kept for a site had to go, since there was no room for another. */
  answersFull: (siteId: number) => void = () => undefined

  /** Whether there is anybody to answer questions; threads that have ended are being started again. */
  get answering(): boolean {
    return this.threads === undefined || this.threads.count > 0
  }

  all(): LoadedSite[] {
    return [...this.#sites.values()]
  }

  get(key: string): LoadedSite | undefined {
    return this.#sites.get(key)
  }

  /** Takes note of committed changes; they are in the answers shortly after. */
  changed(site: SiteRow, what: Changes): void {
    if (this.#stopped || (!what.changed.length && !what.gone.length && !what.blocks?.length)) return
    let dirty = this.#dirty.get(site.key)
    if (!dirty)
      this.#dirty.set(site.key, (dirty = { changed: new Set(), gone: new Set(), blocks: new Set() }))
    for (const id of what.changed) dirty.changed.add(id)
    for (const id of what.gone) dirty.gone.add(id)
    for (const id of what.blocks ?? []) dirty.blocks.add(id)
    this.#timer ??= setTimeout(() => this.#refreshSoon(), this.#gatherMs)
  }

  /** Resolves when all changes of which note was taken are in the answers. */
  async upToDate(): Promise<void> {
    while (this.#dirty.size) await this.#refreshSoon()
    await this.#refreshing
  }

  #refreshSoon(): Promise<void> {
    clearTimeout(this.#timer)
    this.#timer = undefined
    this.#refreshing = this.#refreshing.then(() => this.#refresh()).catch(this.failed)
    return this.#refreshing
  }

  /** Takes note that a stored block has been written anew: those that are read from the database are read from there. */
  rewritten({ siteId, old, made }: Rewritten): void {
    const site = this.all().find(({ row }) => row.id === siteId)
    if (!site || made === old) return
    // Parts in memory are what they were; one that is read with each question is now read from the new block.
    if (site.engine.movedTo(old, made) && made !== undefined)
      this.changed(site.row, { changed: [], gone: [], blocks: [made] })
  }

  /** Takes note of no more changes; resolves when nothing is being read any more, so that the database may be closed. */
  async stop(): Promise<void> {
    this.#stopped = true
    clearTimeout(this.#timer)
    this.#dirty.clear()
    await this.#keeper.stop()
    await this.#refreshing
  }

  async #refresh(): Promise<void> {
    const startMs = performance.now()
    await this.#readDirty()
    const gatherMs = (performance.now() - startMs) * GATHER_MS.timesReading
    this.#gatherMs = Math.min(GATHER_MS.most, Math.max(GATHER_MS.least, gatherMs))
  }

  async #readDirty(): Promise<void> {
    for (const [key, what] of [...this.#dirty]) {
      this.#dirty.delete(key)
      try {
        const site = this.#sites.get(key)
        if (!site) continue
        // A block says which of its sessions have left it since; where these are now comes after it.
        if (what.blocks.size) {
          await this.#readBlocks(site, [...what.blocks])
          this.#keeper.soon()
        }
        const rows = await readSessionsById(this.sequelize, site.row, [...what.changed])
        site.engine.replace(rows, [...what.gone], Date.now())
      } catch (error) {
        const site = this.#sites.get(key)
        if (site)
          this.changed(site.row, {
            ...{ changed: [...what.changed], gone: [...what.gone] },
            // Blocks that have been read stay.
            blocks: [...what.blocks].filter((id) => !site.engine.hasStored(id)),
          })
        throw error
      }
    }
  }

  /** A site is no more: nothing is answered about it, and nothing taken in for it. */
  remove(key: string): void {
    this.#sites.get(key)?.engine.end()
    this.#sites.delete(key)
    this.#dirty.delete(key)
  }

  /** Takes in a site that has no data yet. */
  add(row: SiteRow): LoadedSite {
    const site: LoadedSite = {
      row,
      damaged: [],
      loading: null,
      actions: new Map(),
      ownSignals: [],
      version: Date.now(),
      engine: new SiteEngine(
        {
          key: row.key,
          rules: () => site.row.pageGroups,
          actions: () => site.actions,
          ownSignals: () => site.ownSignals,
          timeZone: () => site.row.timeZone,
          goal: () => site.row.goal,
          goals: () => site.row.goals,
          money: () => site.row,
          thresholds: () => thresholdsFor(site),
          strain: () => strainFor(site),
          changed: () => (site.version = Math.max(site.version + 1, Date.now())),
          foundAnew: () => this.#keeper.soon(),
          fetch: (id) => this.#fetch(site, id),
          answers: ANSWERS,
          answersFull: () => this.answersFull(site.row.id),
          limits: this.limits,
        },
        this.threads,
      ),
    }
    this.#sites.set(row.key, site)
    return site
  }
}

/* What a site has set, with the defaults of the rest: one object as long as that does not change. */
const thresholdsBy = oncePer(thresholdsOf)
const weightsBy = oncePer(weightsOf)
const thresholdsFor = ({ row }: LoadedSite): SignalThresholds => thresholdsBy(row.thresholds)
const strainFor = ({ row }: LoadedSite): StrainWeights => weightsBy(row.strainWeights)
