import type {
  Block,
  BlockWords,
  DictionaryName,
  FunnelOptions,
  Lens,
  Names,
  PackedWords,
  PageGroupRule,
  Selection,
  SessionRow,
} from '@dust-trail/core'
import { buildBlock, decodeBlock, Dictionaries, lensSpan, ManyWords } from '@dust-trail/core'
import { Answers } from './answers.ts'
import type { KernelName, KernelResult, KernelSpec } from './kernels.ts'
import { finish, scanParts } from './kernels.ts'
import type { Part } from './parts.ts'
import { partOf, positionIn, spanOf } from './parts.ts'
import { Sets } from './sets.ts'
import { namesKeeper } from './shared-sites.ts'
import type { Actions, Question, SiteSettings, Threads } from './threads.ts'

/** Sessions in the tail beyond which those that have ended are packed into a block of their own. */
const TAIL_LIMIT = 1000

export interface Extent {
  sessions: number
  firstMs: number
  lastMs: number
}

/** Where a session of the engine lies. */
export interface Place {
  block: Block
  session: number
}

export interface SiteSource {
  key: string
  rules: () => readonly PageGroupRule[]
  actions?: () => Actions
  timeZone: () => string
  limitMs: () => number
  /** reads a stored block; undefined where it is damaged, of which note is then taken */
  fetch?: (stored: number) => Promise<Uint8Array | undefined>
  /** how many answers are kept for those who ask again; 0 = none */
  answers?: number
}

const NO_ACTIONS: Actions = new Map()
/** stands in every question that is about a funnel over visitors */
const OVER_VISITORS = '"per":"visitor"'

function isOverVisitors(spec: object): boolean {
  return 'options' in spec && (spec as { options?: FunnelOptions }).options?.per === 'visitor'
}

const shared = (bytes: number) => new SharedArrayBuffer(bytes)

/**
 * One site's sessions: packed blocks, in memory that threads share as long as there is room, and a tail of those that may
 * still grow. Questions go to the threads, each to its share of the blocks; without threads they are answered here.
 */
export class SiteEngine {
  readonly dictionaries = new Dictionaries()
  readonly sets: Sets
  readonly #parts = new Map<number, Part>()
  readonly #tail = new Map<number, SessionRow>()
  readonly #answers: Answers
  /** while blocks are loaded: sessions of which something newer is known, or that they are gone */
  #newer: Set<number> | undefined
  #tailPart: Part | undefined
  #nextId = 0
  #names = namesKeeper()
  /** how many words of each dictionary the threads know */
  readonly #told = new Map<DictionaryName, number>()
  #settings: SiteSettings = { timeZone: '', rules: [], actions: NO_ACTIONS }

  constructor(
    private readonly source: SiteSource,
    private readonly threads?: Threads,
  ) {
    this.sets = new Sets(source.timeZone)
    this.#answers = new Answers(source.answers ?? 0)
  }

  /** Says that stored blocks are being added, while sessions may change already. */
  beginLoading(): void {
    this.#newer = new Set()
  }

  endLoading(): void {
    this.#newer = undefined
  }

  /** Packs sessions that have ended. */
  addBlock(rows: readonly SessionRow[]): void {
    const known = this.#newer
    const own = known ? rows.filter(({ id }) => !known.has(id) && !this.#locate(id)) : rows
    if (own.length)
      this.#add(partOf(this.#nextId++, buildBlock(own, this.dictionaries, shared), undefined, [], true))
  }

  /**
   * Takes in a block as it was stored, coded with this site's dictionaries, in memory that threads share.
   *
   * @param stored  what it can be read by again, where it is not to stay in memory
   */
  addPacked(block: Block, holes: readonly number[], stored?: number, inMemory = true): void {
    const part = partOf(this.#nextId++, block, stored, holes, inMemory || stored === undefined)
    if (this.#newer)
      for (const id of this.#newer) {
        const position = positionIn(part, id)
        if (position !== undefined) this.#leave(part, position)
      }
    this.#add(part)
  }

  /** Puts sessions in as they are now, in place of what was known of them. */
  replace(rows: readonly SessionRow[], gone: readonly number[], nowMs: number): void {
    for (const id of gone) this.#forget(id)
    for (const row of rows) this.#forget(row.id)
    for (const row of rows) this.#tail.set(row.id, row)
    this.#dropTail()
    this.#answers.forgetAll()
    if (this.#tail.size > TAIL_LIMIT) this.#packEnded(nowMs)
  }

  /** What the codes of all blocks mean, the tail's included: packing it may add some. */
  names(): Names {
    this.#packedTail()
    return this.#names(this.dictionaries, this.source.rules(), this.#actions())
  }

  /**
   * Answers a question over the sessions that a lens shows.
   *
   * @param signal  stops the work where nobody waits for the answer any more
   * @param keep    the answer is kept for whoever asks the same; one that is very large had better not be
   * @throws the signal's reason where it was stopped; ProblemError where it names a set that is no longer known
   */
  async ask<K extends KernelName>(
    kernel: K,
    lens: Lens,
    spec: KernelSpec<K>,
    signal?: AbortSignal,
    keep = true,
  ): Promise<KernelResult<K>> {
    signal?.throwIfAborted()
    const asked: Question = this.sets.resolve({ kernel, lens, spec: spec as object, site: this.source.key })
    this.#tellNews()
    const key = JSON.stringify(asked)
    const known = this.#answers.get(key)
    if (known) return known.answer as KernelResult<K>
    const question = key.includes(OVER_VISITORS) ? await this.#withVisitors(asked, signal) : asked
    const result = await this.#scan(question, signal)
    if (keep) this.#answers.keep(key, result)
    return result as KernelResult<K>
  }

  /** Answers a question in which all that it names is known. */
  async #scan(question: Question, signal?: AbortSignal): Promise<unknown> {
    const timeZone = this.source.timeZone()
    const span = lensSpan(question.lens, timeZone)
    const inMemory: Part[] = []
    const streamed: Part[] = []
    for (const part of [...this.#parts.values(), this.#packedTail()])
      if (part.block) inMemory.push(part)
      else if (!part.span || (part.span.firstMs < span.toMs && part.span.lastStartMs >= span.fromMs))
        streamed.push(part)
    let result: unknown
    if (this.threads) {
      const shares = sharesOf(inMemory, streamed, this.threads.count)
      result = await this.threads.ask(question, shares, (id) => this.#bytesOf(id), signal)
    } else {
      const names = this.names()
      const parts = inMemory.map(({ block, standing }) => ({ block: block!, standing }))
      for (const { id, standing } of streamed) {
        const bytes = await this.#bytesOf(id)
        if (bytes) parts.push({ block: decodeBlock(bytes, this.dictionaries), standing })
      }
      const gathered = scanParts(question.kernel, parts, question.lens, question.spec, { names, timeZone })
      result = finish(gathered, [gathered.partial])
    }
    signal?.throwIfAborted()
    return result
  }

  /**
   * The question with the visitors that each of its selections over visitors means, and with the ways of those it asks
   * about itself. A selection in the lens itself is looked for on its days and devices, one in a set within what the set
   * was made in.
   */
  async #withVisitors<Q extends { kernel?: KernelName; lens: Lens; spec: object }>(
    question: Q,
    signal?: AbortSignal,
  ): Promise<Q> {
    const { where, ...rest } = question.lens
    const within = where && { where: await this.#found(where, rest, signal) }
    const lens: Lens = { ...rest, ...within }
    const spec = await this.#found(question.spec, lens, signal)
    if (question.kernel !== 'between' || !isOverVisitors(spec)) return { ...question, lens, spec }
    const ways = await this.#scan({ kernel: 'visitorWays', lens, spec, site: this.source.key }, signal)
    return { ...question, lens, spec: { ...spec, ways } }
  }

  async #found<T>(value: T, lens: Lens, signal?: AbortSignal): Promise<T> {
    if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return value
    if (Array.isArray(value))
      return Promise.all(value.map((one: unknown) => this.#found(one, lens, signal))) as Promise<T>
    const selection = value as unknown as Selection
    if (selection.type === 'funnel' && 'side' in selection && selection.options?.per === 'visitor')
      return {
        ...value,
        moments: await this.#scan(
          { kernel: 'visitorMoments', lens, spec: { selection }, site: this.source.key },
          signal,
        ),
      }
    const through =
      selection.type === 'set' && 'set' in selection
        ? await this.#withVisitors({
            lens: this.sets.resolve(this.sets.definitionOf(selection.set).lens),
            spec: {},
          })
        : { lens }
    const parts = await Promise.all(
      Object.entries(value as Record<string, unknown>).map(
        async ([name, part]): Promise<[string, unknown]> => [
          name,
          await this.#found(part, through.lens, signal),
        ],
      ),
    )
    return Object.fromEntries(parts) as T
  }

  /** All blocks that lie in memory, the tail's included. */
  blocks(): Block[] {
    return [...this.#parts.values(), this.#packedTail()].flatMap(({ block }) => block ?? [])
  }

  /** Where a session lies; undefined where there is none of that id. */
  async find(id: string): Promise<Place | undefined> {
    const number = Number(id)
    if (this.#tail.has(number)) {
      const { block } = this.#packedTail()
      return { block: block!, session: block!.sessions.id.indexOf(number) }
    }
    const found = this.#locate(number)
    if (!found) return undefined
    if (found.part.block) return { block: found.part.block, session: found.position }
    const bytes = await this.#bytesOf(found.part.id)
    return bytes && { block: decodeBlock(bytes, this.dictionaries), session: found.position }
  }

  /** How many sessions there are, when the first began and when the last had its last event. */
  extent(): Extent | undefined {
    const extent = { sessions: 0, firstMs: Infinity, lastMs: -Infinity }
    for (const part of [...this.#parts.values(), this.#packedTail()]) {
      extent.sessions += part.standing.count()
      if (part.block) part.span ??= spanOf(part.block, part.standing)
      extent.firstMs = Math.min(extent.firstMs, part.span?.firstMs ?? Infinity)
      extent.lastMs = Math.max(extent.lastMs, part.span?.lastMs ?? -Infinity)
    }
    return extent.sessions ? extent : undefined
  }

  /** Bytes of the columns and indexes in memory; blocks that are read from the database each time; events of both. */
  size(): { bytes: number; streamed: number; events: number } {
    const size = { bytes: 0, streamed: 0, events: 0 }
    for (const part of [...this.#parts.values(), this.#packedTail()]) {
      size.events += part.events
      if (part.block) size.bytes += part.bytes
      else size.streamed++
    }
    return size
  }

  #add(part: Part): void {
    this.#answers.forgetAll()
    this.#parts.set(part.id, part)
    this.threads?.tell({ type: 'block', site: this.source.key, block: part.shared })
    // Block by block: all words of a large site at once would hold up whoever asks first.
    this.#tellWords()
  }

  async #bytesOf(id: number): Promise<Uint8Array | undefined> {
    const part = this.#parts.get(id)
    return part?.stored === undefined ? undefined : this.source.fetch?.(part.stored)
  }

  /** Tells the threads of new words and other settings: before every question, after all blocks they are needed for. */
  #tellNews(): void {
    const site = this.source.key
    const settings = {
      timeZone: this.source.timeZone(),
      rules: this.source.rules(),
      actions: this.#actions(),
    }
    this.#packedTail()
    if (
      settings.timeZone !== this.#settings.timeZone ||
      settings.rules !== this.#settings.rules ||
      settings.actions !== this.#settings.actions
    ) {
      this.#settings = settings
      this.#answers.forgetAll()
      this.threads?.tell({ type: 'settings', site, settings })
    }
    this.#tellWords()
  }

  #tellWords(): void {
    const { threads } = this
    if (!threads) return
    const words: BlockWords = {}
    let visitors: PackedWords | undefined
    for (const name of Object.keys(this.dictionaries) as DictionaryName[]) {
      const known = this.dictionaries[name]
      const told = this.#told.get(name) ?? 1
      if (known.size === told) continue
      if (known instanceof ManyWords) visitors = known.packedFrom(told)
      else words[name] = known.wordsFrom(told)
      this.#told.set(name, known.size)
    }
    if (visitors || Object.keys(words).length)
      threads.tell({ type: 'words', site: this.source.key, words, ...(visitors && { visitors }) })
  }

  #actions(): Actions {
    return this.source.actions?.() ?? NO_ACTIONS
  }

  #packedTail(): Part {
    if (!this.#tailPart) {
      const block = buildBlock([...this.#tail.values()], this.dictionaries, shared)
      this.#tailPart = partOf(this.#nextId++, block, undefined, [], true)
      this.threads?.tell({ type: 'block', site: this.source.key, block: this.#tailPart.shared })
    }
    return this.#tailPart
  }

  #dropTail(): void {
    if (this.#tailPart) this.threads?.tell({ type: 'drop', site: this.source.key, id: this.#tailPart.id })
    this.#tailPart = undefined
  }

  #locate(id: number): { part: Part; position: number } | undefined {
    for (const part of this.#parts.values()) {
      const position = positionIn(part, id)
      if (position !== undefined) return { part, position }
    }
    return undefined
  }

  #forget(id: number): void {
    this.#newer?.add(id)
    this.#tail.delete(id)
    const found = this.#locate(id)
    if (found) this.#leave(found.part, found.position)
  }

  /** Takes a session out of a part; a part with none left goes. */
  #leave(part: Part, position: number): void {
    part.standing.delete(position)
    if (part.block) part.span = undefined
    if (part.standing.count() > 0 || !this.#parts.delete(part.id)) return
    this.threads?.tell({ type: 'drop', site: this.source.key, id: part.id })
  }

  #packEnded(nowMs: number): void {
    const ended = [...this.#tail.values()].filter(
      (row) => nowMs - row.lines[row.lines.length - 1]!.t > this.source.limitMs(),
    )
    if (!ended.length) return
    for (const row of ended) this.#tail.delete(row.id)
    this.#add(partOf(this.#nextId++, buildBlock(ended, this.dictionaries, shared), undefined, [], true))
  }
}

/**
 * Blocks in as many shares as there are threads, of about as many events each: the largest first, to whom has least. A
 * block in the database counts for more, as it must be read first.
 */
function sharesOf(
  inMemory: readonly Part[],
  streamed: readonly Part[],
  count: number,
): { blocks: number[]; streamed: number[] }[] {
  const shares = Array.from({ length: count }, () => ({
    work: 0,
    blocks: [] as number[],
    streamed: [] as number[],
  }))
  const give = (parts: readonly Part[], into: 'blocks' | 'streamed', weight: number) => {
    for (const part of [...parts].sort((a, b) => b.events - a.events)) {
      const least = shares.reduce((a, b) => (b.work < a.work ? b : a))
      least.work += part.events * weight
      least[into].push(part.id)
    }
  }
  give(streamed, 'streamed', STREAM_WEIGHT)
  give(inMemory, 'blocks', 1)
  return shares
    .filter(({ blocks, streamed: own }) => blocks.length + own.length > 0)
    .map(({ blocks, streamed: own }) => ({ blocks, streamed: own }))
}

const STREAM_WEIGHT = 50
