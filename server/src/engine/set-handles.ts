import { randomUUID } from 'node:crypto'
import type { Lens, ResolvedSet, Selection } from '@dust-trail/core'
import { lensSpan } from '@dust-trail/core'
import { LRUCache } from 'lru-cache'
import { ProblemError } from '../problem.ts'

/** Sets of which nobody has asked for so long are forgotten. */
export const SET_MS = 30 * 60_000
const MOST_SETS = 2000
/** Sets that one question may refer to, directly and through others. */
export const MOST_NESTED = 50

/** What a set's handle stands for. */
export interface SetDefinition {
  lens: Lens
  selection: Selection
}

/**
 * Handles of session sets: short-lived names of definitions. What a definition picks is found once a block, by the
 * threads, when the handle is first used.
 */
export class SetHandles {
  readonly #definitions: LRUCache<string, SetDefinition>

  constructor(
    private readonly timeZone: () => string,
    private readonly mostNested = MOST_NESTED,
    now: () => number = Date.now,
  ) {
    this.#definitions = new LRUCache({
      ...{ max: MOST_SETS, ttl: SET_MS, ttlResolution: 0, updateAgeOnGet: true },
      perf: { now },
    })
  }

  make(definition: SetDefinition): string {
    const handle = randomUUID()
    this.#definitions.set(handle, definition)
    return handle
  }

  /** @throws ProblemError 410 where the set is no longer known */
  definitionOf(handle: string): SetDefinition {
    const definition = this.#definitions.get(handle)
    if (!definition)
      throw new ProblemError(
        410,
        'set-forgotten',
        `The set ${handle} is no longer known: sets live half an hour from their last use.`,
        'Make it again from its definition.',
      )
    return definition
  }

  /**
   * Something asked, in which each handle comes with what it stands for.
   *
   * @throws as definitionOf; ProblemError 400 where sets refer to so many others that no person meant it
   */
  resolve<T>(asked: T): T {
    const left = { sets: this.mostNested }
    return this.#resolve(asked, left)
  }

  #resolve<T>(asked: T, left: { sets: number }): T {
    if (typeof asked !== 'object' || asked === null) return asked
    if (Array.isArray(asked)) return asked.map((one: unknown) => this.#resolve(one, left)) as T
    const { type, set } = asked as { type?: unknown; set?: unknown }
    if (type === 'set' && typeof set === 'string') {
      // Sets of sets multiply: all that they refer to counts, each as often as it is referred to.
      if (--left.sets < 0)
        throw new ProblemError(
          400,
          'too-nested',
          `The sets that are asked about refer to more than ${this.mostNested} others.`,
          'Ask about the conditions themselves.',
          { budget: true },
        )
      const { lens, selection } = this.#resolve(this.definitionOf(set), left)
      const of: ResolvedSet = { lens, selection, ...lensSpan(lens, this.timeZone()) }
      return { type, set, of } as T
    }
    return Object.fromEntries(
      Object.entries(asked).map(([key, value]): [string, unknown] => [key, this.#resolve(value, left)]),
    ) as T
  }
}
