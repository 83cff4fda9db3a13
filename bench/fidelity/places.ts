import type { Box } from './compare.ts'

/** An element or a text with where it lies, named by its way from the root. */
export interface Place extends Box {
  key: string
}

/**
 * Runs in a page: all visible elements and texts, in trees inside of elements and in frames too, with their boxes; and the
 * fields in which visitors write, which a recording does not show.
 */
export function placesOf(whole: Document): { places: Place[]; fields: Box[] } {
  const SKIPPED = /^(script|style|link|template|meta|title|base|noscript|head|source|track|defs|symbol)$/
  const places: Place[] = []
  const fields: Box[] = []
  const walk = (parent: Node, way: string, dx: number, dy: number) => {
    let k = 0
    let text = 0
    for (const node of parent.childNodes) {
      if (node.nodeType === 3) {
        if (!node.nodeValue?.trim()) continue
        const range = node.ownerDocument!.createRange()
        range.selectNodeContents(node)
        const { left, top, width, height } = range.getBoundingClientRect()
        if (width && height)
          places.push({ key: `${way}/#${text++}`, x: left + dx, y: top + dy, width, height })
        continue
      }
      if (node.nodeType !== 1) continue
      const element = node as HTMLElement
      // A drawing is shown by a picture.
      const tag = element.hasAttribute('data-trail-canvas') ? 'canvas' : element.localName
      if (SKIPPED.test(tag)) continue
      const own = `${way}/${tag}${k++}`
      const { left, top, width, height } = element.getBoundingClientRect()
      const box = { x: left + dx, y: top + dy, width, height }
      if (/^(input|textarea|select)$/.test(tag) || element.isContentEditable) {
        if (
          !/^(checkbox|radio|range|color|button|submit|reset|image)$/.test((element as HTMLInputElement).type)
        )
          fields.push(box)
      }
      if (!element.checkVisibility()) continue
      if (width && height) places.push({ key: own, ...box })
      if (/^(select|textarea|svg|video|audio|canvas)$/.test(tag)) continue
      if (element.shadowRoot) walk(element.shadowRoot, `${own}!`, dx, dy)
      const page = tag === 'iframe' ? (element as HTMLIFrameElement).contentDocument : null
      if (page?.documentElement)
        walk(page.documentElement, `${own}@`, dx + left + element.clientLeft, dy + top + element.clientTop)
      walk(element, own, dx, dy)
    }
  }
  walk(whole.documentElement, '', 0, 0)
  return { places, fields }
}
