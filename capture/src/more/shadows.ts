import type { Realm } from '../dom.ts'
import { isConnected, quiet, replace } from '../dom.ts'

/*
 * Shadow trees, those that are closed to the page's own script as well: their hosts are known from the moment they are
 * made, where this script was there first.
 */

const roots = new WeakMap<Element, ShadowRoot>()
const readRoot = Object.getOwnPropertyDescriptor(Element.prototype, 'shadowRoot')?.get

export function shadowOf(element: Element): ShadowRoot | null {
  return roots.get(element) ?? (readRoot?.call(element) as ShadowRoot | null | undefined) ?? null
}

const learners: ((root: ShadowRoot) => void)[] = []

/** A shadow tree was come across that may have been made before this script was there. */
export function metShadow(root: ShadowRoot): void {
  for (const learn of learners) learn(root)
}

/** Whether an element may have a tree inside that nobody can look into. */
export function isSealed(element: Element, name: string): boolean {
  return name.includes('-') && !shadowOf(element) && isConnected(element) && !!customElements.get(name)
}

/** Learns of each shadow tree that is made from now on, or come across. */
export function watchShadows(made: (root: ShadowRoot) => void): void {
  learners.push(quiet(made))
  if (learners.length === 1) watchShadowsIn(window)
}

/** Those that the page of a frame makes, too: it has functions of its own. */
export function watchShadowsIn(realm: Realm): void {
  const attach = realm.Element.prototype.attachShadow
  const watched: typeof attach = function (this: Element, init) {
    const root = attach.call(this, init)
    roots.set(this, root)
    metShadow(root)
    return root
  }
  replace(realm.Element.prototype, 'attachShadow', watched)
}
