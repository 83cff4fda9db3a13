import type { watchMore } from './more/index.ts'
import type { MorePage } from './more/more-page.ts'
import type { ClickEffects, Recording, Verdict } from './page.ts'

/**
 * The part of the script that is loaded once the page stands. Until it is there, and where the page's policy keeps it out,
 *
 * it cannot be told what came of a click, what comes into view is not told, and the page is not recorded.
 */
export class MoreSoon implements ClickEffects {
  #real: ReturnType<typeof watchMore> | undefined
  #startMs: number | undefined

  constructor(load: Promise<{ watchMore: typeof watchMore }>, page: MorePage) {
    load
      .then(async ({ watchMore }) => {
        const real = watchMore(page)
        await real.ready
        this.#real = real
        if (this.#startMs !== undefined) this.begin(this.#startMs)
        this.view()
      })
      .catch(() => undefined)
  }

  /** The page as it looks and what is done on it; undefined as long as nothing is recorded. */
  get recording(): Recording | undefined {
    return this.#real?.recorder
  }

  /** Records the page as it is now; times count from the given instant. */
  begin(startMs: number): void {
    this.#startMs = startMs
    this.#real?.recorder.begin(startMs)
  }

  stop(): void {
    this.#startMs = undefined
    this.#real?.recorder.stop()
  }

  /** Calls back once, with what came of a click or of sending a form that happens now; undefined: it cannot be told. */
  after(event: Event, verdict: Verdict): void {
    if (this.#real) this.#real.effects.after(event, verdict)
    else verdict(undefined)
  }

  /** Something happened that is known to be seen or heard. */
  happened(effect: 'change' | 'navigate'): void {
    this.#real?.effects.happened(effect)
  }

  /** A request begins. @returns what tells that it has ended */
  request(path: string): () => void {
    return this.#real?.effects.request(path) ?? (() => undefined)
  }

  /** The document has begun anew. */
  again(): void {
    this.#real?.effects.again()
  }

  /** A view of a page begins: what is in view now is seen anew. */
  view(): void {
    this.#real?.seen.begin()
    this.#real?.rests.begin()
  }

  /** A view of a page ends. */
  viewEnds(): void {
    this.#real?.rests.end()
  }

  /** The page has changed: there may be more to be seen. */
  search(): void {
    this.#real?.seen.search()
  }
}
