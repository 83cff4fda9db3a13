import { parentOf, slotOf } from '../../dom.ts'

/** Where an element stood that has been taken away. */
const removedFrom = new WeakMap<Node, Node>()

export function noteRemoved({ target, removedNodes }: MutationRecord): void {
  for (const node of removedNodes) removedFrom.set(node, target)
}

/** The element around a node as it is drawn, or around which it stood last; around a shadow tree stands its host. */
export function above(node: Node): Element | null {
  if (node instanceof ShadowRoot) return node.host
  const slot = node instanceof Element ? slotOf(node) : null
  if (slot) return slot
  const parent = parentOf(node) ?? removedFrom.get(node)
  if (parent instanceof ShadowRoot) return parent.host
  return parent instanceof Element ? parent : null
}
