import { attributeOf, firstChildOf, localNameOf, nextSiblingOf, parentElementOf, typeOf } from '../../dom.ts'

const ANIMATES = /^(animate|set|animatetransform|animatemotion)$/i
const MOVES = /^animatemotion$/i
/** Take their value from the style; of others only the drawing itself knows it. */
const NAME = /^[a-z][a-z-]*$/i

/** What animations inside of a drawing have made of an element's attributes by now (SVG 2, chapter 19). */
export function drawingValues(element: Element): Record<string, string> {
  const out: Record<string, string> = {}
  for (let child = firstChildOf(element); child; child = nextSiblingOf(child)) {
    if (typeOf(child) !== Node.ELEMENT_NODE || !ANIMATES.test(localNameOf(child as Element))) continue
    const name = attributeOf(child as Element, 'attributeName') ?? 'transform'
    if (!NAME.test(name) || /^(xlink:)?href$|^on/i.test(name)) continue
    if (name === 'transform') {
      const moves = MOVES.test(localNameOf(child as Element))
      const matrix = moves
        ? placeIn(element as SVGGraphicsElement)
        : matrixOf((element as SVGGraphicsElement).transform?.animVal)
      if (matrix) {
        const { a, b, c, d, e, f } = matrix
        out[name] = `matrix(${[a, b, c, d, e, f].join(' ')})`
      }
      // Where it lies holds all that moves it.
      if (moves) break
    } else {
      const value = getComputedStyle(element).getPropertyValue(name)
      if (value) out[name] = value
    }
  }
  return out
}

/** Where an element lies in the one around it: a way along which it moves is part of no attribute. */
function placeIn(element: SVGGraphicsElement): DOMMatrix | undefined {
  const around = (parentElementOf(element) as SVGGraphicsElement | null)?.getScreenCTM?.()
  const own = element.getScreenCTM?.()
  return around && own ? around.inverse().multiply(own) : undefined
}

function matrixOf(list: SVGTransformList | undefined): SVGMatrix | undefined {
  let matrix: SVGMatrix | undefined
  for (let k = 0; k < (list?.numberOfItems ?? 0); k++) {
    const next = list!.getItem(k).matrix
    matrix = matrix ? matrix.multiply(next) : next
  }
  return matrix
}
