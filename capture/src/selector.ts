import {
  attributeOf,
  bodyOf,
  closestTo,
  localNameOf,
  nextOf,
  parentElementOf,
  previousOf,
  rootOf,
} from './dom.ts'

const STATE_CLASS =
  /^(is|has|js|no)-|active|open|select|current|disabled|hover|focus|hidden|show|loading|error|\d{3}|[A-Z]{2,}\d|^css-/
const GENERATED_ID = /\d{3,}|^[:_]|[0-9a-f]{8}/i
const INTERACTIVE =
  'a[href],button,input,select,textarea,label,summary,option,[role=button],[role=link],[role=tab],[role=checkbox],[role=menuitem],[onclick],[tabindex]:not([tabindex="-1"])'

/**
 * A CSS selector that names the element on every load of the page: from the nearest element with a name of its own
 * (`data-trail-name`, or an id that does not look generated) down, by tag, first lasting class, and place among
 * siblings of the same tag.
 */
export function selectorOf(element: Element): string {
  const parts: string[] = []
  let node: Element | null = element
  while (node && node !== rootOf(document)) {
    const name = attributeOf(node, 'data-trail-name')
    if (name) {
      parts.unshift(`[data-trail-name="${CSS.escape(name)}"]`)
      break
    }
    // By attribute: a form's own properties are hidden by fields of the same name (id, children, classList).
    const id = attributeOf(node, 'id')
    if (id && !GENERATED_ID.test(id)) {
      parts.unshift(`#${CSS.escape(id)}`)
      break
    }
    parts.unshift(partOf(node))
    node = node === bodyOf(document) ? null : parentElementOf(node)
  }
  // The ground of a page that is shorter than its window is the page itself.
  return parts.join(' > ').slice(0, 500) || 'html'
}

function partOf(node: Element): string {
  const classes = (attributeOf(node, 'class') ?? '').split(/\s+/)
  const lasting = classes.find((name) => name && !STATE_CLASS.test(name))
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

/** What a click on this node was meant for: the control around it, or the element itself. */
export function intended(node: Element): { element: Element; interactive: boolean } {
  const control = closestTo(node, INTERACTIVE)
  if (control) return { element: control, interactive: true }
  // The parts of a drawing are nothing of their own to a person.
  return { element: (node as SVGElement).ownerSVGElement ?? node, interactive: false }
}
