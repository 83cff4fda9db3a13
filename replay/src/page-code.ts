/** Most trees inside of elements that are written out. */
const MOST_TREES = 2000

/**
 * The HTML of a page that stands in a frame, with the trees inside of its elements where the browser can write these. What
 * could act was never built; the policy that the frame was given stays in it.
 */
export function pageCode(page: Document): string {
  const root = page.documentElement as HTMLElement & {
    getHTML?: (options: { shadowRoots: ShadowRoot[] }) => string
  }
  const trees: ShadowRoot[] = []
  const look = (within: Document | ShadowRoot) => {
    for (const { shadowRoot } of within.querySelectorAll('*'))
      if (shadowRoot && trees.length < MOST_TREES) {
        trees.push(shadowRoot)
        look(shadowRoot)
      }
  }
  look(page)
  const type = page.doctype ? '<!doctype html>\n' : ''
  if (!root.getHTML) return type + root.outerHTML
  const open = (root.cloneNode(false) as Element).outerHTML.replace(/<\/html>$/, '')
  return `${type}${open}${root.getHTML({ shadowRoots: trees })}</html>`
}
