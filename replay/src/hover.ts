import { outerOf } from './rebuild.ts'

const HOVER = 'data-trail-hover'

/** Marks what the pointer is over, so that rules for it hold. */
export class Hover {
  #over: Element[] = []

  constructor(private readonly document: Document) {}

  /** @param at  where the pointer is, px of the window; null: nowhere */
  over(at: { x: number; y: number } | null): void {
    const next: Element[] = []
    let hit = at && this.document.elementFromPoint?.(at.x, at.y)
    while (hit?.shadowRoot) {
      const inner = hit.shadowRoot.elementFromPoint(at!.x, at!.y)
      if (!inner || inner === hit) break
      hit = inner
    }
    for (let element = hit ?? null; element; element = outerOf(element)) next.push(element)
    for (const element of this.#over) if (!next.includes(element)) element.removeAttribute(HOVER)
    for (const element of next) if (!element.hasAttribute(HOVER)) element.setAttribute(HOVER, '')
    this.#over = next
  }
}
