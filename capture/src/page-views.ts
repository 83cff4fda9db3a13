import type { SentLine } from '@dust-trail/core'
import { deviceOf } from './device.ts'
import { later, rootOf, titleOf } from './dom.ts'
import { watch } from './listen.ts'
import type { Page } from './page.ts'

const SCROLL_STEP = 0.05
/** Where the window rests, for the time that each part of a page is in view: told when it has moved so far or so long ago. */
const REST_PART = 0.125
const REST_MS = 300

export type Navigation = 'navigate' | 'reload' | 'back_forward' | 'history'

/** Views of pages: when one begins and ends, how long it was in sight, and how far down it was scrolled. */
export class PageViews {
  #address = ''
  /** since when it is in sight, by the page's own clock; 0 = it is not */
  #shownSinceMs = 0
  #shownMs = 0
  #deepest = 0
  /** the largest content of the page has been painted */
  #isLoaded = false
  #lastTop = 0
  #resting = 0
  #line: SentLine | undefined

  constructor(private readonly send: Page['send']) {
    watch('largest-contentful-paint', (entry) => {
      this.#isLoaded = true
      if (this.#line && this.#line.navigation !== 'history') this.#line.load = Math.round(entry.startTime)
    })
  }

  begin(navigation: Navigation, referrer?: string): void {
    this.#address = addressNow()
    this.#shownMs = 0
    this.#shownSinceMs = document.hidden ? 0 : performance.now()
    this.#deepest = this.#lastTop = 0
    const entry = navigationEntry()
    this.#line = this.send({
      kind: 'page',
      url: location.href,
      title: titleOf(document),
      navigation,
      height: Math.max(1, rootOf(document)?.scrollHeight ?? 1),
      device: deviceOf(navigator.userAgent),
      ...(navigation !== 'history' && entry?.responseStatus && { status: entry.responseStatus }),
      ...(referrer && { referrer: referrer }),
    })
    this.scrolled()
  }

  end(): void {
    clearTimeout(this.#resting)
    const ms = Math.round(this.#shownMs + (this.#shownSinceMs ? performance.now() - this.#shownSinceMs : 0))
    this.#shownSinceMs = 0
    const isLoad = this.#line?.navigation !== 'history'
    this.send({
      kind: 'leave',
      ms,
      ...(isLoad && { loaded: this.#isLoaded || document.readyState === 'complete' }),
    })
  }

  /** Whether the address is another one than that of the view. */
  isElsewhere(): boolean {
    return addressNow() !== this.#address
  }

  scrolled(): void {
    const height = rootOf(document)?.scrollHeight ?? 0
    const depth = Math.min(1, (scrollY + innerHeight) / Math.max(1, height))
    if (depth - this.#deepest >= SCROLL_STEP || (depth === 1 && this.#deepest < 1)) this.#tellPlace(depth)
    else {
      clearTimeout(this.#resting)
      this.#resting = later(() => {
        if (Math.abs(scrollY - this.#lastTop) >= innerHeight * REST_PART) this.#tellPlace(depth)
      }, REST_MS)
    }
  }

  #tellPlace(depth: number): void {
    this.#deepest = Math.max(this.#deepest, depth)
    this.#lastTop = scrollY
    this.send({ kind: 'scroll', depth: Math.round(this.#deepest * 1000) / 1000, top: Math.round(scrollY) })
  }

  hidden(): void {
    if (this.#shownSinceMs) this.#shownMs += performance.now() - this.#shownSinceMs
    this.#shownSinceMs = 0
  }

  shown(): void {
    this.#shownSinceMs = performance.now()
  }

  /** Adds to the line of the view what the page says of it. */
  add(more: Partial<SentLine>): void {
    if (this.#line) Object.assign(this.#line, more)
  }
}

export function navigationEntry(): PerformanceNavigationTiming | undefined {
  return performance.getEntriesByType('navigation')[0] as PerformanceNavigationTiming | undefined
}

function addressNow(): string {
  return location.pathname + location.search
}
