import type { Target } from '@dust-trail/core'
import { now } from './dom.ts'

/** What follows so soon after a click, a change or the sending of a form may come of it. */
const WAKE_MS = 1000

/** What the visitor did last, as the cause of errors and requests that follow at once. */
export class Causes {
  #last: { target: Target; atMs: number } | undefined
  /** what happens while the visitor does nothing happens by itself */
  readonly #ownSigns = new Set<string>()

  /** @param clock  milliseconds, never going back */
  constructor(private readonly clock: () => number = now) {}

  note(target: Target): void {
    this.#last = { target, atMs: this.clock() }
  }

  /**
   * The element in whose wake something happens; undefined where it is not known.
   *
   * @param sign  by which the same thing is known when it happens by itself
   */
  of(sign: string): { target: Target } | undefined {
    const last = this.#last
    if (last && this.clock() - last.atMs <= WAKE_MS)
      return this.#ownSigns.has(sign) ? undefined : { target: last.target }
    if (this.#ownSigns.size < 200) this.#ownSigns.add(sign)
    return undefined
  }
}
