import type { HeatElement, WeightedPoint } from '@dust-trail/core'
import { GRID } from '@dust-trail/core'
import { fewerColour, heatColour } from './ramp.ts'

export function placeClicks(
  document: Document,
  elements: readonly HeatElement[],
): { points: WeightedPoint[]; lost: number } {
  const points: WeightedPoint[] = []
  let lost = 0
  for (const { spots } of elements)
    for (const { selector, cells, loose } of spots) {
      const box = find(document, selector)?.getBoundingClientRect()
      for (const [cell, weight] of cells) {
        if (!box || box.width === 0) {
          lost += weight
          continue
        }
        const column = cell % GRID
        const row = Math.floor(cell / GRID)
        points.push({
          x: box.left + ((column + 0.5) / GRID) * box.width,
          y: box.top + ((row + 0.5) / GRID) * box.height,
          weight,
        })
      }
      for (const [x, y, weight] of loose) points.push({ x, y, weight })
    }
  return { points, lost }
}

export function boxesOf(document: Document, elements: readonly HeatElement[], selector: string) {
  const element = elements.find((candidate) => candidate.selector === selector)
  return (element?.spots ?? []).flatMap((spot) => {
    const box = find(document, spot.selector)?.getBoundingClientRect()
    return box && box.width > 0
      ? [{ left: box.left, top: box.top, width: box.width, height: box.height }]
      : []
  })
}

/** The listed element at a point of the page: the innermost around it. */
export function familyAt(
  document: Document,
  elements: readonly HeatElement[],
  x: number,
  y: number,
): string | null {
  const bySpot = new Map(
    elements.flatMap(({ selector, spots }) => spots.map((spot) => [spot.selector, selector] as const)),
  )
  let best: { selector: string; area: number } | null = null
  for (const [spot, selector] of bySpot) {
    const box = find(document, spot)?.getBoundingClientRect()
    if (!box || x < box.left || x > box.right || y < box.top || y > box.bottom) continue
    const area = box.width * box.height
    if (!best || area < best.area) best = { selector, area }
  }
  return best?.selector ?? null
}

/** Selectors come from recorded pages: one that cannot be read finds nothing. */
function find(document: Document, selector: string): Element | null {
  try {
    return document.querySelector(selector)
  } catch {
    return null
  }
}

/** The greatest size of a value, whatever its sign. */
export function greatest(raster: Float32Array): number {
  let most = 0
  for (const value of raster) if (Math.abs(value) > most) most = Math.abs(value)
  return most
}

/**
 * Draws a density, or a difference of two: what is fewer in the colour of the other side.
 *
 * @param most  what the darkest colour stands for
 */
export function paint(
  canvas: HTMLCanvasElement,
  raster: Float32Array,
  width: number,
  height: number,
  most = greatest(raster),
): void {
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d')
  if (!context) return
  const image = context.createImageData(width, height)
  colour(raster, most, image.data)
  context.putImageData(image, 0, 0)
}

/** So many steps of a ramp are told apart. */
const SHADES = 256

/** Writes the colour of each value, four bytes with straight alpha. */
export function colour(raster: Float32Array, most: number, into: Uint8ClampedArray): void {
  if (!(most > 0)) return
  const shades = [heatColour, fewerColour].map((of) =>
    Array.from({ length: SHADES }, (_, k) => of(k / (SHADES - 1))),
  )
  for (let i = 0; i < raster.length; i++) {
    const share = Math.min(1, Math.abs(raster[i]!) / most)
    if (share < 0.0005) continue
    // The square root keeps rare places visible beside frequent ones.
    const [r, g, b, a] = shades[raster[i]! > 0 ? 0 : 1]![Math.round(Math.sqrt(share) * (SHADES - 1))]!
    into[i * 4] = r
    into[i * 4 + 1] = g
    into[i * 4 + 2] = b
    into[i * 4 + 3] = a
  }
}

/** Standard deviation of a click's spot, page px: about a fingertip. */
export const SIGMA_PX = 14
