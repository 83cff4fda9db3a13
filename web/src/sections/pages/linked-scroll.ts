/** Panes that scroll together: the one that is pointed at or worked by keyboard leads, the others follow. */
export class LinkedScroll {
  readonly #panes = new Set<HTMLElement>()
  #leader: HTMLElement | undefined

  /** Takes a pane in. @returns lets it go again */
  add(pane: HTMLElement): () => void {
    const lead = () => (this.#leader = pane)
    const scrolled = () => {
      if (this.#leader && this.#leader !== pane) return
      const share = pane.scrollTop / Math.max(1, pane.scrollHeight - pane.clientHeight)
      for (const other of this.#panes)
        if (other !== pane) other.scrollTop = share * (other.scrollHeight - other.clientHeight)
    }
    this.#panes.add(pane)
    for (const event of LEADING) pane.addEventListener(event, lead, { passive: true })
    pane.addEventListener('scroll', scrolled, { passive: true })
    return () => {
      this.#panes.delete(pane)
      for (const event of LEADING) pane.removeEventListener(event, lead)
      pane.removeEventListener('scroll', scrolled)
    }
  }
}

const LEADING = ['pointerenter', 'pointerdown', 'wheel', 'keydown', 'focusin'] as const
