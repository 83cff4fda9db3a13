import type { Effect } from '@dust-trail/core'

/** How long after a click something must happen for the click to have done something. */
const WAIT_MS = 1000

type Verdict = (effect: Effect) => void

/** Tells for each click whether anything happened within a second: a change of the page, a request, a navigation. */
export class Effects {
  #open = new Set<Verdict>()

  /** Calls back once, with what came of a click that happens now. */
  after(verdict: Verdict): void {
    const once: Verdict = (effect) => {
      if (!this.#open.delete(once)) return
      clearTimeout(timer)
      verdict(effect)
    }
    const timer = setTimeout(() => once('none'), WAIT_MS)
    this.#open.add(once)
  }

  /** Something happened: it answers all clicks that still wait. */
  happened(effect: 'change' | 'navigate'): void {
    for (const verdict of [...this.#open]) verdict(effect)
  }
}
