import type { BuiltPage } from './recorded-page.tsx'

/** What browsers draw at most on one canvas, px. */
const LONGEST_SIDE = 16_000

/**
 * A recorded page with a map laid over it, as a picture. It is drawn by the browser from the page's own markup, in which
 * nothing runs and nothing is fetched: pictures of the site are missing in it.
 *
 * @throws DOMException where the browser does not draw it
 */
export async function pagePicture(page: BuiltPage, width: number, map: HTMLCanvasElement): Promise<Blob> {
  const height = Math.min(page.height, LONGEST_SIDE)
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d')!
  context.fillStyle = '#fff'
  context.fillRect(0, 0, width, height)
  const markup = new XMLSerializer().serializeToString(page.document.documentElement)
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${page.height}"><foreignObject width="100%" height="100%">${markup}</foreignObject></svg>`
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  context.drawImage(image, 0, 0)
  context.drawImage(map, 0, 0, width, page.height)
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.')))),
  )
}
