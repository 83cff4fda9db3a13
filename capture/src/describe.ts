import { boxOf, localNameOf } from './dom.ts'
import { labelOf } from './mask.ts'
import { selectorOf } from './selector.ts'

/** An element as lines name it; sizes in CSS px. */
export function describe(element: Element, interactive?: boolean) {
  const box = boxOf(element)
  return {
    selector: selectorOf(element),
    tag: localNameOf(element).slice(0, 40),
    text: labelOf(element),
    ...(interactive !== undefined && { interactive }),
    w: Math.round(box.width),
    h: Math.round(box.height),
  }
}
