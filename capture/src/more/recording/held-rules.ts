import { ASKED } from '@dust-trail/core/recording'
import { askedRules } from './asked.ts'
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

  constructor(private readonly recorder: Recorder) {}

  look(roots: readonly Root[]): void {
    const { ids } = this.recorder
    if (ids !== this.#ids) this.#told = new Map()
    this.#ids = ids
    if (!askedRules.size) return
    const held = new Map<Element, string>()
    for (const [key, selector] of askedRules)
      for (const root of roots)
        for (const element of found(root, selector)) {
          const before = held.get(element)
          if (before === undefined && (held.size >= MOST || !ids.known(element))) continue
          held.set(element, before ? `${before} ${key}` : key)
        }
    const attr: [number, string, string | null][] = []
    for (const [element, keys] of held)
      if (this.#told.get(element) !== keys && !privacy.isStructureOnly(element))
        attr.push([ids.of(element), ASKED, keys])
    for (const element of this.#told.keys()) {
      const id = ids.known(element)
      if (id && !held.has(element)) attr.push([id, ASKED, null])
    }
    this.#told = held
    if (attr.length) this.recorder.change({ attr })
  }
}

/** What a selector finds; nothing where the browser does not know it. */
function found(root: Root, selector: string): Iterable<Element> {
  try {
    return root.querySelectorAll(selector)
  } catch {
    return []
  }
}
