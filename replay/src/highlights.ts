/** Says of a page which ranges were marked on it: see capture/src/more/recording/highlights.ts. */
export const HIGHLIGHTS = 'data-trail-highlights'
const MOST = 1000

type Marked = [
  name: string,
  priority: number,
  ranges: [from: number, fromAt: number, to: number, toAt: number][],
]

/**
 * Marks ranges on a page as scripts had marked them, in place of those that are marked.
 *
 * @param text    what the recording says; "": none
 * @param nodeOf  the node of a number
 * @throws where it says nothing of the kind
 */
export function setHighlights(page: Document, text: string, nodeOf: (id: number) => Node | undefined): void {
  const view = page.defaultView
  const registry = view?.CSS?.highlights
  if (!view || !registry) return
  registry.clear()
  if (!text) return
  for (const [name, priority, ranges] of (JSON.parse(text) as Marked[]).slice(0, MOST)) {
    const highlight = new view.Highlight()
    highlight.priority = priority
    for (const [from, fromAt, to, toAt] of ranges.slice(0, MOST)) {
      const [start, end] = [nodeOf(from), nodeOf(to)]
      if (!start || !end) continue
      const range = page.createRange()
      range.setStart(start, Math.min(fromAt, lengthOf(start)))
      range.setEnd(end, Math.min(toAt, lengthOf(end)))
      highlight.add(range)
    }
    registry.set(name, highlight)
  }
}

const lengthOf = (node: Node) => node.nodeValue?.length ?? node.childNodes.length
