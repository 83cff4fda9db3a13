/*
 * A canvas is nothing where no script may run: a picture as large as it takes its place, which shows how it looked. Rules for
 * it are made to ask for that picture (rules.ts).
 */

const MARK = 'data-trail-canvas'
const STILL = /^data:image\/(webp|png|jpeg);base64,[\w+/=]+$/
/** Of a canvas that says nothing else (HTML Standard, section 4.12.5). */
const SIZE = { width: 300, height: 150 }
const MOST_PX = 20_000

interface Drawing {
  width: number
  height: number
  still: string
}
const drawings = new WeakMap<Element, Drawing>()

export const isDrawing = (element: Element) => drawings.has(element)

export function beDrawing(picture: Element): void {
  const drawing = { ...SIZE, still: '' }
  drawings.set(picture, drawing)
  picture.setAttribute(MARK, '')
  draw(picture, drawing)
}

/** Whether an attribute was one of a drawing, which then looks so. */
export function drawn(picture: Element, name: string, value: string | null): boolean {
  const drawing = drawings.get(picture)
  if (!drawing || !/^(width|height|data-trail-still|src|data-trail-box|alt)$/.test(name)) return false
  if (name === 'data-trail-still') drawing.still = value && STILL.test(value) ? value : ''
  else if (name === 'width' || name === 'height') {
    const px = Number.parseInt(value ?? '', 10)
    drawing[name] = px >= 0 && px <= MOST_PX ? px : SIZE[name]
  }
  draw(picture, drawing)
  return true
}

function draw(picture: Element, { width, height, still }: Drawing): void {
  const inside = still && `<image href="${still}" width="100%" height="100%" preserveAspectRatio="none"/>`
  const text = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${inside}</svg>`
  picture.setAttribute('src', `data:image/svg+xml,${encodeURIComponent(text)}`)
}
