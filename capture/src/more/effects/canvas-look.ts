/** Cells to a side in which a whole drawing is compared, and pixels to a side around the click, one to one. */
const CELLS = 48
const NEAR_PX = 96

let scratch: CanvasRenderingContext2D | null | undefined

/**
 * What a canvas shows, as text to compare; undefined where that cannot be told: it holds pictures of other sites, or is
 * drawn by the graphics card and not kept.
 */
export function canvasLook(canvas: HTMLCanvasElement, at?: { x: number; y: number }): string | undefined {
  if (!canvas.width || !canvas.height) return ''
  if (scratch === undefined) {
    const own = document.createElement('canvas')
    own.width = CELLS + NEAR_PX
    own.height = NEAR_PX
    scratch = own.getContext('2d', { willReadFrequently: true })
  }
  if (!scratch) return undefined
  try {
    scratch.clearRect(0, 0, CELLS + NEAR_PX, NEAR_PX)
    scratch.drawImage(canvas, 0, 0, CELLS, CELLS)
    if (at) {
      const box = canvas.getBoundingClientRect()
      const x = ((at.x - box.left) * canvas.width) / box.width
      const y = ((at.y - box.top) * canvas.height) / box.height
      const from = [x - NEAR_PX / 2, y - NEAR_PX / 2] as const
      scratch.drawImage(canvas, ...from, NEAR_PX, NEAR_PX, CELLS, 0, NEAR_PX, NEAR_PX)
    }
    const { data } = scratch.getImageData(0, 0, CELLS + NEAR_PX, NEAR_PX)
    let hash = 0
    let any = 0
    for (const byte of data) {
      hash = (Math.imul(hash, 31) + byte) | 0
      any |= byte
    }
    return any ? String(hash) : undefined
  } catch {
    // It has been drawn on with what other sites own. A new one, since this one may not be read any more.
    scratch = undefined
    return undefined
  }
}
