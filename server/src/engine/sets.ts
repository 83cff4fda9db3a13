import { randomUUID } from 'node:crypto'
import type { Lens, Selection } from '@dust-trail/core'
import { lensSpan } from '@dust-trail/core'
import { ProblemError } from '../problem.ts'

/** Sets of which nobody has asked for so long are forgotten. */
export const SET_MS = 30 * 60_000
const MOST_SETS = 2000

/** What a set's handle stands for. */
export interface SetDefinition {
  lens: Lens
  selection: Selection
}

/**
 * Handles of session sets: short-lived names of definitions. What a definition picks is found once a block, by the
 * threads, when the handle is first used.
 */
export class Sets {
  readonly #known = new Map<string, SetDefinition & { usedMs: number }>()

  constructor(
    private readonly timeZone: () => string,
    private readonly now: () => number = Date.now,
  ) {}

  make(definition: SetDefinition): string {
    const nowMs = this.now()
    for (const [handle, { usedMs }] of this.#known)
      if (nowMs - usedMs > SET_MS || this.#known.size >= MOST_SETS) this.#known.delete(handle)
      else break
    const handle = randomUUID()
    this.#known.set(handle, { ...definition, usedMs: nowMs })
    return handle
  }

  /** @throws ProblemError 410 where the set is no longer known */
  definitionOf(handle: string): SetDefinition {
    const known = this.#known.get(handle)
    if (!known || this.now() - known.usedMs > SET_MS)
      throw new ProblemError(
        410,
        'set-forgotten',
        `The set ${handle} is no longer known: sets live half an hour from their last use.`,
        'Make it again from its definition.',
      )
    // The least recently used come first.
    known.usedMs = this.now()
    this.#known.delete(handle)
    this.#known.set(handle, known)
    return { lens: known.lens, selection: known.selection }
  }

  /** A question with what each handle in it stands for. @throws as definitionOf */
  resolve<T>(question: T): T {
    if (typeof question !== 'object' || question === null) return question
    if (Array.isArray(question)) return question.map((one: unknown) => this.resolve(one)) as T
    const { type, set } = question as { type?: unknown; set?: unknown }
    if (type === 'set' && typeof set === 'string') {
      const { lens, selection } = this.resolve(this.definitionOf(set))
      const { devices, where, clean } = lens
      return { type, set, of: { ...lensSpan(lens, this.timeZone()), devices, where, clean, selection } } as T
    }
    return Object.fromEntries(
      Object.entries(question).map(([key, value]): [string, unknown] => [key, this.resolve(value)]),
    ) as T
  }
}
