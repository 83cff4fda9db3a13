import { ASKED } from '@dust-trail/core/recording'
import { matches } from '../../dom.ts'
import { askedRules, heldKeys } from './asked.ts'
import type { NodeIds, Root } from './nodes.ts'
import { privacy } from './privacy.ts'
import type { Recorder } from './recorder.ts'

/** So many elements of a page are told of: where there are more, nearly all are alike. */
const MOST = 3000

/** Which rules hold for elements, where they ask for attributes that the recording has not as they are. */
export class HeldRules {
  /** what was told of each element last */
  #told = new Map<Element, string>()
  #ids: NodeIds | undefined
  /** those that the browser understands, and a selector for whatever any of them holds for */
  #rules: [key: string, selector: string][] = []
  #any = ''
  #known = 0

  constructor(private readonly recorder: Recorder) {}

  look(roots: readonly Root[]): void {
    const { ids } = this.recorder
    if (ids !== this.#ids) this.#told = new Map()
    this.#ids = ids
    if (!askedRules.size) return
    if (this.#known !== askedRules.size) this.#learn()
    const held = new Map<Element, string>()
    if (this.#any)
      for (const root of roots)
        for (const element of root.querySelectorAll(this.#any)) {
          if (held.size >= MOST) break
          if (!ids.known(element)) continue
          const keys = this.#rules.filter(([, selector]) => matches(element, selector)).map(([key]) => key)
          held.set(element, keys.join(' '))
        }
    const attr: [number, string, string | null][] = []
    for (const [element, keys] of held)
      if (this.#told.get(element) !== keys && !privacy.isStructureOnly(element)) {
        heldKeys.set(element, keys)
        attr.push([ids.of(element), ASKED, keys])
      }
    for (const element of this.#told.keys()) {
      const id = ids.known(element)
      if (!held.has(element)) heldKeys.delete(element)
      if (id && !held.has(element)) attr.push([id, ASKED, null])
    }
    this.#told = held
    if (attr.length) this.recorder.change({ attr })
  }

  #learn(): void {
    this.#known = askedRules.size
    const probe = document.createElement('p')
    this.#rules = [...askedRules].filter(([, selector]) => {
      try {
        matches(probe, selector)
        return true
      } catch {
        return false
      }
    })
    this.#any = this.#rules.map(([, selector]) => selector).join()
  }
}
