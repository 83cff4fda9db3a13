import type { SentLine } from '@dust-trail/core'
import { now } from '../dom.ts'
import { on } from '../listen.ts'
import { targetOf } from '../target.ts'
import type { MorePage } from './more-page.ts'
import type { Spot } from './place-in.ts'
import { placeIn } from './place-in.ts'

/** The pointer rests where it stays for so long; who does nothing for longer than the most may have looked away. */
const LEAST_MS = 1000
const MOST_MS = 30_000
/** A hand is never quite still. */
const STILL_PX = 3
/** So many on one view of a page: the longest. */
const KEPT = 3

interface Place extends Spot {
  element: Element
  t: number
}

/** Tells where the pointer rested longest on a view of a page, when that ends. */
export class Rests {
  #at: Place | undefined
  /** the longest first */
  #longest: (Partial<SentLine> & { t: number; ms: number })[] = []

  constructor(private readonly page: Pick<MorePage, 'send' | 'describe'>) {
    on(document, 'pointermove', (event) => {
      const { clientX: x, clientY: y } = event
      const at = this.#at
      if (at && Math.abs(x - at.x) <= STILL_PX && Math.abs(y - at.y) <= STILL_PX) return
      this.#close()
      const element = targetOf(event)
      // A finger does not rest: it is there or it is not.
      if (element && event.pointerType === 'mouse')
        this.#at = { element, x, y, top: scrollY, left: scrollX, t: now() }
    })
    // What lies beneath it is another thing from then on.
    on(document, 'scroll', () => this.#close())
  }

  begin(): void {
    this.#at = undefined
    this.#longest = []
  }

  end(): void {
    this.#close()
    for (const rest of this.#longest.sort((a, b) => a.t - b.t)) this.page.send({ kind: 'rest', ...rest })
    this.begin()
  }

  #close(): void {
    const at = this.#at
    this.#at = undefined
    if (!at) return
    const ms = Math.min(MOST_MS, now() - at.t)
    const least = this.#longest[KEPT - 1]?.ms ?? LEAST_MS
    if (ms < least || !at.element.isConnected) return
    this.#longest.push({ t: at.t, ms, ...placeIn(at.element, at, this.page.describe) })
    this.#longest = this.#longest.sort((a, b) => b.ms - a.ms).slice(0, KEPT)
  }
}
