import { closestTo } from './dom.ts'

const INTERACTIVE =
  'a[href],button,input,select,textarea,label,summary,option,[role=button],[role=link],[role=tab],[role=checkbox],[role=menuitem],[onclick],[tabindex]:not([tabindex="-1"])'

/** What an event is about, in open shadow trees too. */
export function targetOf(event: Event): Element | undefined {
  const target = (event.composedPath()[0] ?? event.target) as Element | null
  // Of whatever window it is.
  return target?.nodeType === Node.ELEMENT_NODE ? target : undefined
}

/** What a click on this node was meant for: the control around it, or the element itself. */
export function intended(node: Element): { element: Element; interactive: boolean } {
  const control = closestTo(node, INTERACTIVE)
  if (control) return { element: control, interactive: true }
  // The parts of a drawing are nothing of their own to a person.
  return { element: (node as SVGElement).ownerSVGElement ?? node, interactive: false }
}

/** A place inside something as a share of its size. */
export function within(offset: number, size: number): number {
  return size > 0 ? Math.round(Math.min(1, Math.max(0, offset / size)) * 1000) / 1000 : 0
}
