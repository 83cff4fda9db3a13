import {
  aroundOf,
  attributeOf,
  bodyOf,
  localNameOf,
  nextOf,
  pageOf,
  parentElementOf,
  previousOf,
  rootOf,
} from './dom.ts'
import { isData } from './privacy/scrubber.ts'
import { isStructureOnly } from './privacy/shown.ts'

const STATE_CLASS =
  /^(is|has|js|no)-|active|open|select|current|disabled|hover|focus|hidden|show|loading|error|\d{3}|[A-Z]{2,}\d|^css-/
const GENERATED_ID = /\d{3,}|^[:_]|[0-9a-f]{8}/i

/**
 * A CSS selector that names the element on every load of the page: from the nearest element with a name of its own
 * (`data-trail-name`, or an id that does not look generated) down, by tag, first lasting class, and place among
 * siblings of the same tag. In the page of a frame it begins with that of the frame.
 */
export function selectorOf(element: Element): string {
  const page = pageOf(element)!
  const html = page !== document && rootOf(page)
  const frame = html && aroundOf(html)
  const own = pathOf(element, page)
  return (frame ? `${selectorOf(frame)} ${own}` : own).slice(0, 500)
}

function pathOf(element: Element, page: Document): string {
  const parts: string[] = []
  let node: Element | null = element
  while (node && node !== rootOf(page)) {
    const name = attributeOf(node, 'data-trail-name')
    if (name) {
      parts.unshift(`[data-trail-name="${CSS.escape(name)}"]`)
      break
    }
    // By attribute: a form's own properties are hidden by fields of the same name (id, children, classList).
    const id = attributeOf(node, 'id')
    const bare = isStructureOnly(node)
    if (id && !bare && !GENERATED_ID.test(id) && !isData(id)) {
      parts.unshift(`#${CSS.escape(id)}`)
      break
    }
    parts.unshift(partOf(node, bare))
    node = node === bodyOf(page) ? null : parentElementOf(node)
  }
  // The ground of a page that is shorter than its window is the page itself.
  return parts.join(' > ') || 'html'
}

/** @param bare  the element is told by its place alone */
function partOf(node: Element, bare: boolean): string {
  const classes = bare ? [] : (attributeOf(node, 'class') ?? '').split(/\s+/)
  const lasting = classes.find((name) => name && !STATE_CLASS.test(name) && !isData(name))
  let part = localNameOf(node) + (lasting ? `.${CSS.escape(lasting)}` : '')
  const before = alike(node, previousOf)
  if (before || alike(node, nextOf)) part += `:nth-of-type(${before + 1})`
  return part
}

/** How many siblings on one side have the same tag. */
function alike(node: Element, side: (of: Element) => Element | null): number {
  let count = 0
  for (let next = side(node); next; next = side(next)) if (localNameOf(next) === localNameOf(node)) count++
  return count
}
