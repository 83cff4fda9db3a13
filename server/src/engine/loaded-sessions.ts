import type { Block, Dictionaries, SessionRow, SignalThresholds } from '@dust-trail/core'
import { buildBlock, findSignals, foundIn } from '@dust-trail/core'
import type { Part } from './parts.ts'
import { partOf, positionIn, replaceSignals, spanOf } from './parts.ts'
import type { Threads } from './threads.ts'
import type { SharedBlock } from './thread-messages.ts'

/** Sessions in the tail beyond which those that have been still for a while are made a block of their own. */
const TAIL_LIMIT = 256
/** A session that has not changed for so long may well change again: it then leaves its block. */
const STILL_MS = 20_000
/** Events of sessions that are made a block at a time: nothing else is done meanwhile. */
const EVENTS_AT_ONCE = 4096

/** Nothing of the kind was recorded earlier. */
const EARLIEST_MS = Date.UTC(1990, 0, 1)
const DAY_MS = 86_400_000

const shared = (bytes: number) => new SharedArrayBuffer(bytes)

export interface Extent {
  sessions: number
  firstMs: number
  lastMs: number
}

/** What is known of a stored block that is taken in. */
export interface TakenIn {
  /** what it can be read by again, where it is not to stay in memory */
  stored?: number
  inMemory?: boolean
  /** under which its signals were found; those of the site where it is missing */
  thresholds?: SignalThresholds
  /** whether these signals are kept with it */
  kept?: boolean
}

/** Who is told of changes to the loaded sessions. */
export interface Listener {
  /** answers given before no longer hold */
  changed(): void
  blockAdded(block: SharedBlock): void
  blockDropped(id: number): void
}

/**
 * One site's sessions: packed blocks, in memory that threads share as long as there is room, and a tail of sessions that
 * may still grow, which is built into a block of its own when it is asked about.
 */
export class LoadedSessions {
  readonly #parts = new Map<number, Part>()
  readonly #tail = new Map<number, SessionRow>()
  /** by session of the tail when it changed */
  readonly #changedMs = new Map<number, number>()
  /** while blocks are loaded: sessions of which something newer is known, or that they are gone */
  #newer: Set<number> | undefined
  #tailPart: Part | undefined
  /** whether more of the tail is about to be made a block */
  #packing = false
  #nextId = 0

  constructor(
    private readonly dictionaries: Dictionaries,
    private readonly listener: Listener,
    private readonly thresholds: () => SignalThresholds,
  ) {}

  /** Says that stored blocks are being added, while sessions may change already. */
  beginLoading(): void {
    this.#newer = new Set()
  }

  endLoading(): void {
    this.#newer = undefined
  }

  /** Packs sessions that have ended. */
  addBlock(rows: readonly SessionRow[]): void {
    const newer = this.#newer
    const toAdd = newer ? rows.filter(({ id }) => !newer.has(id) && !this.#locate(id)) : rows
    if (toAdd.length) this.#add(this.#build(toAdd))
  }

  /** Takes in a block as it was stored, coded with this site's dictionaries, in memory that threads share. */
  addPacked(
    block: Block,
    holes: readonly number[],
    { stored, inMemory = true, thresholds = this.thresholds(), kept = false }: TakenIn = {},
  ): void {
    const stays = inMemory || stored === undefined
    const part = partOf(this.#nextId++, block, stored, holes, stays, thresholds)
    if (kept) part.kept = thresholds
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
    for (const row of rows) {
      this.#tail.set(row.id, row)
      this.#changedMs.set(row.id, nowMs)
    }
    if (this.#tailPart) this.listener.blockDropped(this.#tailPart.id)
    this.#tailPart = undefined
    this.listener.changed()
    if (this.#tail.size > TAIL_LIMIT && !this.#packing) this.#packStill(nowMs)
  }

  /** All parts, the tail's last. Building the tail may add words to the dictionaries. */
  parts(): Part[] {
    return [...this.#parts.values(), this.tail()]
  }

  /** Whether a stored block lies here, or a part of it. */
  hasStored(id: number): boolean {
    for (const { stored } of this.#parts.values()) if (stored === id) return true
    return false
  }

  /** A stored block has been written anew without what had left it: its parts have other places there. */
  movedTo(old: number, made: number | undefined): { streamed: boolean } {
    let streamed = false
    for (const part of this.#parts.values()) {
      if (part.stored !== old) continue
      if (part.block) part.stored = undefined
      else {
        streamed = true
        this.#parts.delete(part.id)
        this.listener.changed()
        this.listener.blockDropped(part.id)
      }
    }
    return { streamed: streamed && made !== undefined }
  }

  /**
   * Finds the signals anew in all blocks in memory where they were found under other thresholds than those of the site, in
   * threads where there are any.
   *
   * @param key  of the site, as threads know it
   */
  async findSignalsAnew(key: string, threads: Threads | undefined): Promise<void> {
    const thresholds = this.thresholds()
    await Promise.all(
      this.#built()
        .filter((part) => part.block && part.thresholds !== thresholds)
        .map(async (part) => {
          // A thread that does not know the block has been told that it is gone.
          const found =
            (await threads?.findSignals(key, part.id, thresholds, part.thresholds)) ??
            findSignals(part.block!, thresholds, shared, foundIn(part.block!, part.thresholds))
          if (!this.#built().includes(part)) return
          replaceSignals(part, found, thresholds)
          this.listener.blockAdded(part.shared)
        }),
    )
    this.listener.changed()
  }

  /** Stored blocks in memory of which other signals are kept than those that were found, or none. */
  signalsToKeep(): Part[] {
    return [...this.#parts.values()].filter(
      ({ block, stored, kept, thresholds }) => block && stored !== undefined && kept !== thresholds,
    )
  }

  /** Whether there are blocks in memory in which signals were found under other thresholds than those of the site. */
  hasStaleSignals(): boolean {
    const thresholds = this.thresholds()
    return this.#built().some((part) => part.block && part.thresholds !== thresholds)
  }

  /** All parts, the tail's if it is built. */
  #built(): Part[] {
    return [...this.#parts.values(), ...(this.#tailPart ? [this.#tailPart] : [])]
  }

  part(id: number): Part | undefined {
    return this.#parts.get(id)
  }

  /** The tail as a part. */
  tail(): Part {
    if (!this.#tailPart) {
      this.#tailPart = this.#build([...this.#tail.values()])
      this.listener.blockAdded(this.#tailPart.shared)
    }
    return this.#tailPart
  }

  /** The blocks that were told of and not dropped. */
  toldBlocks(): SharedBlock[] {
    return this.#built().map((part) => part.shared)
  }

  /** In which part a session lies, and where in it; undefined where there is none of that id. */
  find(id: number): { part: Part; position: number } | undefined {
    if (!this.#tail.has(id)) return this.#locate(id)
    const part = this.tail()
    return { part, position: part.block!.sessions.id.indexOf(id) }
  }

  /**
   * How many sessions there are, when the first began and when the last had its last event. Times before 1990 or more than
   * a day after now are mistakes: a session with such a time counts, and does not say when the data lies.
   */
  extent(nowMs = Date.now()): Extent | undefined {
    const latestMs = nowMs + DAY_MS
    const extent = { sessions: 0, firstMs: Infinity, lastMs: -Infinity }
    const note = (firstMs: number, lastMs: number) => {
      extent.firstMs = Math.min(extent.firstMs, firstMs)
      extent.lastMs = Math.max(extent.lastMs, lastMs)
    }
    // The tail is not built for it: the screen asks all the time, and the tail changes all the time.
    for (const { lines } of this.#tail.values()) {
      const [firstMs, lastMs] = [lines[0]!.t, lines[lines.length - 1]!.t]
      extent.sessions++
      if (firstMs >= EARLIEST_MS && lastMs <= latestMs) note(firstMs, lastMs)
    }
    for (const part of this.#parts.values()) {
      const { block, standing } = part
      extent.sessions += standing.count()
      if (block) part.span ??= spanOf(block, standing)
      let { span } = part
      if (block && span && (span.firstMs < EARLIEST_MS || span.lastMs > latestMs))
        span = spanOf(block, standing.whereBetween(block.sessions.startMs, EARLIEST_MS, latestMs))
      if (span) note(span.firstMs, span.lastMs)
    }
    if (!extent.sessions) return undefined
    // Where no time is plausible at all, what there is lies now.
    if (extent.firstMs > extent.lastMs) return { ...extent, firstMs: nowMs, lastMs: nowMs }
    return { ...extent, lastMs: Math.min(extent.lastMs, latestMs) }
  }

  /** Bytes of the columns and indexes in memory; blocks that are read from the database each time; events of both. */
  size(): { bytes: number; streamed: number; events: number } {
    const size = { bytes: 0, streamed: 0, events: 0 }
    for (const { lines } of this.#tail.values()) size.events += lines.length
    for (const part of this.#built()) {
      if (part !== this.#tailPart) size.events += part.events
      if (part.block) size.bytes += part.bytes
      else size.streamed++
    }
    return size
  }

  #build(rows: readonly SessionRow[]): Part {
    const thresholds = this.thresholds()
    const block = buildBlock(rows, this.dictionaries, shared, thresholds)
    return partOf(this.#nextId++, block, undefined, [], true, thresholds)
  }

  #add(part: Part): void {
    this.listener.changed()
    this.#put(part)
  }

  #put(part: Part): void {
    this.#parts.set(part.id, part)
    this.listener.blockAdded(part.shared)
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
    this.#changedMs.delete(id)
    const found = this.#locate(id)
    if (found) this.#leave(found.part, found.position)
  }

  /** Takes a session out of a part; a part with none left goes. */
  #leave(part: Part, position: number): void {
    part.standing.delete(position)
    if (part.block) part.span = undefined
    if (part.standing.count() > 0 || !this.#parts.delete(part.id)) return
    this.listener.blockDropped(part.id)
  }

  /** Makes blocks of the sessions that have been still for a while, piece by piece. */
  #packStill(nowMs: number): void {
    const still = [...this.#tail.values()].filter(({ id }) => nowMs - this.#changedMs.get(id)! > STILL_MS)
    if (still.length >= TAIL_LIMIT / 2) this.#packSome(still)
  }

  #packSome(rows: readonly SessionRow[]): void {
    // What has changed or gone since is not in the tail as it was.
    const still = rows.filter((row) => this.#tail.get(row.id) === row)
    let events = 0
    const end = still.findIndex(({ lines }, k) => (events += lines.length) > EVENTS_AT_ONCE && k > 0)
    const piece = end < 0 ? still : still.slice(0, end)
    if (piece.length) {
      for (const { id } of piece) {
        this.#tail.delete(id)
        this.#changedMs.delete(id)
      }
      if (this.#tailPart) this.listener.blockDropped(this.#tailPart.id)
      this.#tailPart = undefined
      // Answers stay as they are: the same sessions lie elsewhere.
      this.#put(this.#build(piece))
    }
    this.#packing = piece.length < still.length
    if (this.#packing) setImmediate(() => this.#packSome(still.slice(piece.length)))
  }
}
