import { firstChildOf, nextSiblingOf, quiet, replace, rootNodeOf, typeOf } from '../../dom.ts'
import type { Recorder } from './recorder.ts'
import { slotNames } from './slots.ts'

/** Elements that a script puts into other slots (DOM Standard, section 4.2.2.5). */
export function watchSlots(recorder: Recorder): void {
  const { assign } = HTMLSlotElement.prototype
  if (!assign) return
  const assigned = quiet((slot: HTMLSlotElement) => {
    const { host } = rootNodeOf(slot) as ShadowRoot
    for (let child = host ? firstChildOf(host) : null; child; child = nextSiblingOf(child)) {
      const id = typeOf(child) === Node.ELEMENT_NODE && recorder.idOf(child)
      if (id)
        recorder.change({
          attr: [[id, 'slot', slotNames(child as Element, recorder.ids)?.['slot'] ?? null]],
        })
    }
  })
  const watched: typeof assign = function (this: HTMLSlotElement, ...nodes) {
    assign.apply(this, nodes)
    assigned(this)
  }
  replace(HTMLSlotElement.prototype, 'assign', watched)
}
