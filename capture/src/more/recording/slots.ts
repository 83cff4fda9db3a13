import { localNameOf, rootNodeOf, slotOf } from '../../dom.ts'
import type { NodeIds } from './nodes.ts'

/** Whether a script says which slot an element goes to: no attribute tells. */
const isManual = (slot: Element) => (rootNodeOf(slot) as ShadowRoot).slotAssignment === 'manual'

const nameOf = (slot: Element, ids: NodeIds) => `trail-${ids.of(slot)}`

/** Attributes that say where an element goes, or what comes here, where a script decides that. */
export function slotNames(element: Element, ids: NodeIds): Record<string, string> | undefined {
  if (localNameOf(element) === 'slot' && isManual(element)) return { name: nameOf(element, ids) }
  const slot = slotOf(element)
  return slot && isManual(slot) ? { slot: nameOf(slot, ids) } : undefined
}
