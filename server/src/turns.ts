/** So long may work on the main thread go on before small requests that wait get their turn. */
const LONG_MS = 10

/** Work that is awaited between its pieces lets others have their turn once it has gone on for long. */
export function turns(): () => Promise<void> {
  let sinceMs = performance.now()
  return async () => {
    if (performance.now() - sinceMs < LONG_MS) return
    await new Promise(setImmediate)
    sinceMs = performance.now()
  }
}

/** Does pieces of work one after another in the order they come, and lets others have their turn between them. */
export class InTurn {
  #last: Promise<unknown> = Promise.resolve()
  readonly #letOthers = turns()

  /** Resolves to what the work gives; rejects with what it throws, which is no matter to the others. */
  do<T>(work: () => T): Promise<T> {
    const done = this.#last.then(this.#letOthers).then(work)
    this.#last = done.catch(() => undefined)
    return done
  }
}
