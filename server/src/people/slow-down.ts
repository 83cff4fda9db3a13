import { LRUCache } from 'lru-cache'

/** So many failures are free; from then on each doubles the pause. */
const FREE = 5
const [FIRST_MS, LONGEST_MS] = [1000, 15 * 60_000]

/**
 * Slows down whoever guesses: by what is guessed and by where it comes from, each for itself. What is kept has a limit, and is
 * forgotten with the longest pause.
 */
export class SlowDown {
  readonly #failures = new LRUCache<string, { count: number; untilMs: number }>({
    max: 10_000,
    ttl: 2 * LONGEST_MS,
  })

  /** How long to wait still, ms; 0 = may try. */
  waitMs(keys: readonly string[], nowMs: number): number {
    return Math.max(0, ...keys.map((key) => (this.#failures.get(key)?.untilMs ?? 0) - nowMs))
  }

  failed(keys: readonly string[], nowMs: number): void {
    for (const key of keys) {
      const count = (this.#failures.get(key)?.count ?? 0) + 1
      const pause = count < FREE ? 0 : Math.min(LONGEST_MS, FIRST_MS * 2 ** (count - FREE))
      this.#failures.set(key, { count, untilMs: nowMs + pause })
    }
  }

  succeeded(keys: readonly string[]): void {
    for (const key of keys) this.#failures.delete(key)
  }
}
