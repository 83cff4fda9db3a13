import { boxOf, localNameOf } from './dom.ts'
import { blockOf, choiceOf, labelOf } from './privacy/shown.ts'
import { selectorOf } from './selector.ts'

/** What an element is told as: the box around it, or the group in which something is chosen, where it may not be told. */
export function told(element: Element): Element {
  return blockOf(element) ?? choiceOf(element) ?? element
}

/** An element as lines name it; sizes in CSS px. */
export function describe(hit: Element, interactive?: boolean) {
  const element = told(hit)
  const box = boxOf(element)
  return {
    selector: selectorOf(element),
    tag: localNameOf(element).slice(0, 40),
    text: element === hit ? labelOf(element) : '',
    ...(interactive !== undefined && { interactive }),
    w: Math.round(box.width),
    h: Math.round(box.height),
  }
}
