import { boxOf, later } from '../dom.ts'
import type { MorePage } from './more-page.ts'

/** Calls to action, fields and headings. A link counts where the page shows it as a button. */
const WORTH_SEEING =
  'button,[role=button],input:not([type=hidden]),select,textarea,h1,h2,h3,[data-trail-name],a[class*=btn],a[class*=button],a[class*=cta]'
/** So many on one view of a page: a table with a button in each row tells nothing by its thousandth. */
const MOST = 150
/** An element is seen when half of it, or as much as the window can hold, is in view. */
const PART = 0.5
/** What is added to the page is looked for after so long. */
const SEARCH_MS = 1000
const IDLE_MS = 300

/** Tells of each element worth seeing that comes into view, once a view of a page. */
export class Seen {
  #observer: IntersectionObserver | undefined
  #known = new Set<Element>()
  #searching = false

  constructor(private readonly page: MorePage) {}

  /** A view of a page begins: what is in view now is seen anew. */
  begin(): void {
    this.#observer?.disconnect()
    this.#known = new Set()
    this.#observer = new IntersectionObserver(
      (entries, observer) => {
        for (const { isIntersecting, intersectionRatio, intersectionRect, target } of entries) {
          if (!isIntersecting || (intersectionRatio < PART && intersectionRect.height < innerHeight * PART))
            continue
          observer.unobserve(target)
          if (target.checkVisibility?.({ opacityProperty: true, visibilityProperty: true }) === false)
            continue
          const { send, describe } = this.page
          send({ kind: 'seen', target: describe(target), y: Math.round(boxOf(target).top + scrollY) })
        }
      },
      { threshold: [PART, 0.1] },
    )
    // When the page has had time to be built.
    this.search(IDLE_MS)
  }

  /** Looks for elements that have been added, shortly. */
  search(afterMs = SEARCH_MS): void {
    if (this.#searching) return
    this.#searching = true
    later(() => {
      this.#searching = false
      for (const element of document.querySelectorAll(WORTH_SEEING)) {
        if (this.#known.size >= MOST) return
        if (this.#known.has(element)) continue
        this.#known.add(element)
        this.#observer!.observe(element)
      }
    }, afterMs)
  }
}
