import { attributeOf, isConnected, later, quiet, redefine } from '../../dom.ts'
import type { Recorder } from './recorder.ts'
import { changedAttribute } from './serialise.ts'

/** Parts of drawings that scripts take in hand as numbers, by the elements that have them (SVG 2, chapters 4 to 10). */
const NUMBERS: Record<string, string> = {
  SVGGraphicsElement: 'transform',
  SVGSVGElement: 'x y width height viewBox',
  SVGCircleElement: 'cx cy r',
  SVGEllipseElement: 'cx cy rx ry',
  SVGRectElement: 'x y width height rx ry',
  SVGLineElement: 'x1 y1 x2 y2',
  SVGPolylineElement: 'points',
  SVGPolygonElement: 'points',
  SVGImageElement: 'x y width height',
  SVGUseElement: 'x y width height',
  SVGForeignObjectElement: 'x y width height',
  SVGTextPositioningElement: 'x y dx dy rotate',
}
const SOON_MS = 30
const MOST_HELD = 500

/**
 * Numbers of a drawing, which a script may change without a change of the document: who reads one may be about to, and may
 * keep it in hand for as long as it likes.
 */
export class DrawnNumbers {
  /** what the attributes said last */
  readonly #held = new Map<Element, Map<string, string | null>>()
  #isWaiting = false

  constructor(private readonly recorder: Recorder) {
    const hold = quiet((element: Element, name: string) => {
      const parts = this.#held.get(element) ?? new Map<string, string | null>()
      if (this.#held.size < MOST_HELD || parts.size) this.#held.set(element, parts)
      if (!parts.has(name)) parts.set(name, attributeOf(element, name))
      if (this.#isWaiting) return
      this.#isWaiting = true
      later(() => {
        this.#isWaiting = false
        this.look()
      }, SOON_MS)
    })
    for (const [owner, names] of Object.entries(NUMBERS)) {
      const prototype = (window as unknown as Record<string, { prototype: object } | undefined>)[owner]
        ?.prototype
      for (const name of names.split(' ')) {
        const property = prototype && Object.getOwnPropertyDescriptor(prototype, name)
        if (!property?.get) continue
        redefine(prototype!, name, {
          ...property,
          get(this: Element) {
            hold(this, name)
            return property.get!.call(this) as unknown
          },
        })
      }
    }
  }

  /** What has become of them? */
  look(): void {
    const attr: [number, string, string | null][] = []
    for (const [element, parts] of this.#held) {
      const id = isConnected(element) && this.recorder.idOf(element)
      if (!id) this.#held.delete(element)
      else
        for (const [name, before] of parts) {
          const value = attributeOf(element, name)
          if (value === before) continue
          parts.set(name, value)
          const kept = value === null ? null : changedAttribute(element, name, value)
          if (value === null || kept !== null) attr.push([id, name, kept])
        }
    }
    if (attr.length) this.recorder.change({ attr })
  }
}
