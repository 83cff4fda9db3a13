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
  while (node && node !== document.documentElement) {
    const name = node.getAttribute('data-trail-name')
    if (name) {
      parts.unshift(`[data-trail-name="${CSS.escape(name)}"]`)
      break
    }
    // By attribute: a form's own properties are hidden by fields of the same name (id, children, classList).
    const id = node.getAttribute('id')
    if (id && !GENERATED_ID.test(id)) {
      parts.unshift(`#${CSS.escape(id)}`)
      break
    }
    parts.unshift(partOf(node))
    node = node === document.body ? null : node.parentElement
  }
  return parts.join(' > ').slice(0, 500)
}

function partOf(node: Element): string {
  const classes = (node.getAttribute('class') ?? '').split(/\s+/)
  const lasting = classes.find((name) => name && !STATE_CLASS.test(name))
  let part = node.localName + (lasting ? `.${CSS.escape(lasting)}` : '')
  const before = alike(node, 'previousElementSibling')
  if (before || alike(node, 'nextElementSibling')) part += `:nth-of-type(${before + 1})`
  return part
}

/** How many siblings on one side have the same tag. */
function alike(node: Element, side: 'previousElementSibling' | 'nextElementSibling'): number {
  let count = 0
  for (let next = node[side]; next; next = next[side]) if (next.localName === node.localName) count++
  return count
}

/** What a click on this node was meant for: the control around it, or the element itself. */
export function intended(node: Element): { element: Element; interactive: boolean } {
  const control = node.closest(INTERACTIVE)
  if (control) return { element: control, interactive: true }
  // The parts of a drawing are nothing of their own to a person.
  return { element: (node as SVGElement).ownerSVGElement ?? node, interactive: false }
}
