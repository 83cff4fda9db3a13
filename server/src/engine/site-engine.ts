import type { Block, Lens, Names, PageGroupRule, SessionRow } from '@dust-trail/core'
import { buildBlock, Dictionaries, SessionSet, shapeOf } from '@dust-trail/core'
import type { KernelName, KernelResult, KernelSpec, Part } from './kernels.ts'
import { finish, scanParts } from './kernels.ts'
import { namesKeeper } from './shared-sites.ts'
import type { DictionaryName, Question, SharedBlock, Threads } from './threads.ts'

/** Sessions in the tail beyond which those that have ended are packed into a block of their own. */
const TAIL_LIMIT = 1000

interface SharedPart extends Part {
  shared: SharedBlock
}

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
  timeZone: () => string
  limitMs: () => number
}

/**
 * One site's sessions in memory that threads share: packed blocks, and a tail of those that may still grow. Questions go
 * to the threads, each to its share of the blocks; without threads they are answered at once, here.
 */
export class SiteEngine {
  readonly dictionaries = new Dictionaries()
  readonly #parts = new Map<number, SharedPart>()
  readonly #places = new Map<number, { part: SharedPart; session: number }>()
  readonly #tail = new Map<number, SessionRow>()
  #tailPart: SharedPart | undefined
  #nextId = 0
  /** kept until the data changes: it is asked for every second or so */
  #extent: { of: Extent | undefined } | undefined
  #names = namesKeeper()
  /** how many words of each dictionary the threads know */
  readonly #told = new Map<DictionaryName, number>()
  #settings = { timeZone: '', rules: [] as readonly PageGroupRule[] }

  constructor(
    private readonly source: SiteSource,
    private readonly threads?: Threads,
  ) {}

  /** Packs sessions that have ended. */
  addBlock(rows: readonly SessionRow[]): void {
    if (!rows.length) return
    this.#extent = undefined
    const part = this.#share(rows)
    rows.forEach((row, session) => this.#places.set(row.id, { part, session }))
  }

  /** Takes in a block as it was stored, coded with this site's dictionaries, in memory that threads share. */
  addPacked(block: Block, holes: readonly number[]): void {
    this.#extent = undefined
    const part = this.#shareBlock(block)
    for (const position of holes) part.standing.delete(position)
    for (const session of part.standing) this.#places.set(block.sessions.id[session]!, { part, session })
  }

  /** Puts sessions in as they are now, in place of what was known of them. */
  replace(rows: readonly SessionRow[], gone: readonly number[], nowMs: number): void {
    for (const id of gone) this.#forget(id)
    for (const row of rows) this.#forget(row.id)
    for (const row of rows) this.#tail.set(row.id, row)
    this.#dropTail()
    this.#extent = undefined
    if (this.#tail.size > TAIL_LIMIT) this.#packEnded(nowMs)
  }

  /** What the codes of all blocks mean, the tail's included: packing it may add some. */
  names(): Names {
    this.#packedTail()
    return this.#names(this.dictionaries, this.source.rules())
  }

  /**
   * Answers a question over the sessions that a lens shows.
   *
   * @param signal  stops the work where nobody waits for the answer any more
   * @throws the signal's reason where it was stopped
   */
  async ask<K extends KernelName>(
    kernel: K,
    lens: Lens,
    spec: KernelSpec<K>,
    signal?: AbortSignal,
  ): Promise<KernelResult<K>> {
    signal?.throwIfAborted()
    const parts = [...this.#parts.values(), this.#packedTail()]
    const names = this.names()
    const result = this.threads
      ? await this.#askThreads(this.threads, { kernel, lens, spec, site: this.source.key }, parts, signal)
      : finish(scanParts(kernel, parts, lens, spec, { names, timeZone: this.source.timeZone() }), [])
    signal?.throwIfAborted()
    return result as KernelResult<K>
  }

  /** All blocks as they lie in memory, the tail's included. */
  blocks(): Block[] {
    return [...this.#parts.values(), this.#packedTail()].map(({ block }) => block)
  }

  /** Where a session lies; undefined where there is none of that id. */
  find(id: string): Place | undefined {
    const number = Number(id)
    if (this.#tail.has(number)) {
      const { block } = this.#packedTail()
      return { block, session: block.sessions.id.indexOf(number) }
    }
    const place = this.#places.get(number)
    return place && { block: place.part.block, session: place.session }
  }

  /** How many sessions there are, when the first began and when the last had its last event. */
  extent(): Extent | undefined {
    this.#extent ??= { of: this.#measure() }
    return this.#extent.of
  }

  #askThreads(
    threads: Threads,
    question: Question,
    parts: readonly SharedPart[],
    signal: AbortSignal | undefined,
  ): Promise<unknown> {
    this.#tellNews(threads)
    const shares = sharesOf(parts, threads.count)
    return threads.ask(
      question,
      shares.map((share) => share.map(({ shared }) => shared.id)),
      signal,
    )
  }

  /** Tells the threads of new words and other settings: before every question, after all blocks they are needed for. */
  #tellNews(threads: Threads): void {
    const site = this.source.key
    const settings = { timeZone: this.source.timeZone(), rules: this.source.rules() }
    if (settings.timeZone !== this.#settings.timeZone || settings.rules !== this.#settings.rules) {
      this.#settings = settings
      threads.tell({ type: 'settings', site, settings })
    }
    const words: Partial<Record<DictionaryName, string[]>> = {}
    for (const name of Object.keys(this.dictionaries) as DictionaryName[]) {
      const { values } = this.dictionaries[name]
      const told = this.#told.get(name) ?? 1
      if (values.length > told) words[name] = values.slice(told)
      this.#told.set(name, values.length)
    }
    if (Object.keys(words).length) threads.tell({ type: 'words', site, words })
  }

  #share(rows: readonly SessionRow[]): SharedPart {
    return this.#shareBlock(buildBlock(rows, this.dictionaries, (bytes) => new SharedArrayBuffer(bytes)))
  }

  #shareBlock(block: Block): SharedPart {
    const { count } = block.sessions
    const standing = new SharedArrayBuffer(4 * ((count + 31) >>> 5))
    const shared: SharedBlock = {
      id: this.#nextId++,
      shape: shapeOf(block),
      columns: block.sessions.id.buffer as unknown as SharedArrayBuffer,
      standing,
    }
    const part = { block, shared, standing: new SessionSet(count, new Uint32Array(standing)) }
    for (let s = 0; s < count; s++) part.standing.add(s)
    this.#parts.set(shared.id, part)
    this.threads?.tell({ type: 'block', site: this.source.key, block: shared })
    return part
  }

  #packedTail(): SharedPart {
    if (!this.#tailPart) {
      this.#tailPart = this.#share([...this.#tail.values()])
      this.#parts.delete(this.#tailPart.shared.id)
    }
    return this.#tailPart
  }

  #dropTail(): void {
    if (this.#tailPart)
      this.threads?.tell({ type: 'drop', site: this.source.key, id: this.#tailPart.shared.id })
    this.#tailPart = undefined
  }

  #measure(): Extent | undefined {
    let sessions = 0
    let firstMs = Infinity
    let lastMs = -Infinity
    for (const { block, standing } of [...this.#parts.values(), this.#packedTail()])
      for (const s of standing) {
        sessions++
        firstMs = Math.min(firstMs, block.sessions.startMs[s]!)
        lastMs = Math.max(lastMs, block.sessions.endMs[s]!)
      }
    return sessions ? { sessions, firstMs, lastMs } : undefined
  }

  #forget(id: number): void {
    this.#tail.delete(id)
    const place = this.#places.get(id)
    if (!place) return
    place.part.standing.delete(place.session)
    this.#places.delete(id)
  }

  #packEnded(nowMs: number): void {
    const ended = [...this.#tail.values()].filter(
      (row) => nowMs - row.lines[row.lines.length - 1]!.t > this.source.limitMs(),
    )
    for (const row of ended) this.#tail.delete(row.id)
    this.addBlock(ended)
  }
}

/** Blocks in as many shares as there are threads, of about as many events each: the largest first, to whom has least. */
function sharesOf(parts: readonly SharedPart[], count: number): SharedPart[][] {
  const shares = Array.from({ length: count }, () => ({ events: 0, parts: [] as SharedPart[] }))
  for (const part of [...parts].sort((a, b) => b.block.events.count - a.block.events.count)) {
    const least = shares.reduce((a, b) => (b.events < a.events ? b : a))
    least.events += part.block.events.count
    least.parts.push(part)
  }
  return shares.map((share) => share.parts).filter((share) => share.length > 0)
}
