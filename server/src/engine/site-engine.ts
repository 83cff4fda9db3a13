import type {
  Analysis,
  Block,
  Lens,
  Names,
  PageGroupRule,
  Selected,
  SelectedSessions,
  Selection,
  SessionRow,
} from '@dust-trail/core'
import {
  answer,
  buildBlock,
  Dictionaries,
  groupPages,
  groupTargets,
  lensSessions,
  selectSessions,
  SessionSet,
} from '@dust-trail/core'

/** Sessions in the tail beyond which those that have ended are packed into a block of their own. */
const TAIL_LIMIT = 2000

interface Part {
  block: Block
  /** sessions that still stand: one that has changed since lives in the tail */
  standing: SessionSet
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

/** One site's sessions in memory: packed blocks, and a tail of those that may still grow. */
export class SiteEngine {
  readonly dictionaries = new Dictionaries()
  readonly #parts: Part[] = []
  readonly #places = new Map<number, { part: Part; session: number }>()
  readonly #tail = new Map<number, SessionRow>()
  #tailBlock: Block | undefined
  /** kept until the data changes: it is asked for every second or so */
  #extent: { of: Extent | undefined } | undefined
  #names: { pages: number; targets: number; rules: readonly PageGroupRule[]; names: Names } | undefined

  constructor(
    private readonly rules: () => readonly PageGroupRule[],
    private readonly timeZone: () => string,
    private readonly limitMs: () => number,
  ) {}

  /** Packs sessions that have ended. */
  addBlock(rows: readonly SessionRow[]): void {
    if (!rows.length) return
    this.#extent = undefined
    const block = buildBlock(rows, this.dictionaries)
    const part = { block, standing: SessionSet.all(rows.length) }
    this.#parts.push(part)
    rows.forEach((row, session) => this.#places.set(row.id, { part, session }))
  }

  /** Puts sessions in as they are now, in place of what was known of them. */
  replace(rows: readonly SessionRow[], gone: readonly number[], nowMs: number): void {
    for (const id of [...gone, ...rows.map((row) => row.id)]) this.#forget(id)
    for (const row of rows) this.#tail.set(row.id, row)
    this.#tailBlock = undefined
    this.#extent = undefined
    if (this.#tail.size > TAIL_LIMIT) this.#packEnded(nowMs)
  }

  /** What the codes of all blocks mean, the tail's included: packing it may add some. */
  names(): Names {
    this.#packedTail()
    const { page, target } = this.dictionaries
    const rules = this.rules()
    const known = this.#names
    if (known && known.pages === page.size && known.targets === target.size && known.rules === rules)
      return known.names
    const names = {
      dictionaries: this.dictionaries,
      groups: groupPages(page, rules),
      families: groupTargets(target),
    }
    this.#names = { pages: page.size, targets: target.size, rules, names }
    return names
  }

  /** The sessions a lens shows, block by block. At least one block, even where there is nothing. */
  look(lens: Lens): Selected[] {
    return this.#blocks().map(({ block, standing }) => ({
      block,
      sessions: lensSessions(block, lens, this.timeZone()).and(standing),
    }))
  }

  ask<Spec, Partial, Result>(analysis: Analysis<Spec, Partial, Result>, lens: Lens, spec: Spec): Result {
    return answer(analysis, this.look(lens), spec)
  }

  select(lens: Lens, selection: Selection): { block: Block; selected: SelectedSessions }[] {
    const names = this.names()
    return this.look(lens).map(({ block, sessions }) => ({
      block,
      selected: selectSessions(block, sessions, selection, names),
    }))
  }

  /** Where a session lies; undefined where there is none of that id. */
  find(id: string): Place | undefined {
    const number = Number(id)
    if (this.#tail.has(number)) {
      const block = this.#packedTail()
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

  #measure(): Extent | undefined {
    let sessions = 0
    let firstMs = Infinity
    let lastMs = -Infinity
    for (const { block, standing } of this.#blocks())
      for (const s of standing) {
        sessions++
        firstMs = Math.min(firstMs, block.sessions.startMs[s]!)
        lastMs = Math.max(lastMs, block.sessions.endMs[s]!)
      }
    return sessions ? { sessions, firstMs, lastMs } : undefined
  }

  #blocks(): Part[] {
    const tail = this.#packedTail()
    return [...this.#parts, { block: tail, standing: SessionSet.all(tail.sessions.count) }]
  }

  #packedTail(): Block {
    return (this.#tailBlock ??= buildBlock([...this.#tail.values()], this.dictionaries))
  }

  #forget(id: number): void {
    this.#tail.delete(id)
    const place = this.#places.get(id)
    if (!place) return
    const only = new SessionSet(place.part.block.sessions.count)
    only.add(place.session)
    place.part.standing = place.part.standing.without(only)
    this.#places.delete(id)
  }

  #packEnded(nowMs: number): void {
    const ended = [...this.#tail.values()].filter(
      (row) => nowMs - row.lines[row.lines.length - 1]!.t > this.limitMs(),
    )
    for (const row of ended) this.#tail.delete(row.id)
    this.addBlock(ended)
  }
}
