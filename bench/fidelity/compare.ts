import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { installPeers, PEERS } from '../peers.ts'

interface Png {
  width: number
  height: number
  data: Buffer
}
interface PngLibrary {
  PNG: {
    new (size: { width: number; height: number }): Png
    sync: { read(data: Buffer): Png; write(png: Png): Buffer }
  }
}

/** A place in a picture, px. */
export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** Comparison of pictures by general-purpose libraries. */
export async function comparison() {
  installPeers(['pixelmatch@7.1.0', 'pngjs@7.0.0'])
  const load = (file: string) => import(pathToFileURL(join(PEERS, 'node_modules', file)).href)
  const { default: pixelmatch } = (await load('pixelmatch/index.js')) as {
    default: (
      a: Buffer,
      b: Buffer,
      out: Buffer | null,
      w: number,
      h: number,
      how: { threshold: number; includeAA: boolean },
    ) => number
  }
  const library = (await load('pngjs/lib/png.js')) as PngLibrary & { default?: PngLibrary }
  const { PNG } = library.default ?? library
  return {
    /** Pixels that differ beyond smoothed edges, fields of the visitor left out, and all pixels compared. */
    differing(
      first: Buffer,
      second: Buffer,
      leftOut: readonly Box[],
    ): { pixels: number; of: number; picture: Buffer } {
      const [a, b] = [PNG.sync.read(first), PNG.sync.read(second)]
      const width = Math.min(a.width, b.width)
      const height = Math.min(a.height, b.height)
      for (const png of [a, b])
        for (const box of leftOut)
          for (let y = Math.max(0, Math.floor(box.y)); y < Math.min(png.height, box.y + box.height); y++)
            for (let x = Math.max(0, Math.floor(box.x)); x < Math.min(png.width, box.x + box.width); x++)
              png.data.fill(0, (y * png.width + x) * 4, (y * png.width + x) * 4 + 4)
      const out = new PNG({ width, height })
      /** Of a picture of a page that is shown smaller one px more or less may be there. */
      const cut = (png: Png) =>
        png.width === width
          ? png.data.subarray(0, 4 * width * height)
          : Buffer.concat(
              Array.from({ length: height }, (_, y) =>
                png.data.subarray(4 * y * png.width, 4 * (y * png.width + width)),
              ),
            )
      const pixels = pixelmatch(cut(a), cut(b), out.data, width, height, { threshold: 0.1, includeAA: false })
      return { pixels, of: width * height, picture: PNG.sync.write(out) }
    },
    /** A made-up picture of a size. */
    picture(width: number, height: number): Buffer {
      const png = new PNG({ width, height })
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const at = (y * width + x) * 4
          png.data.set([(x * 255) / width, (y * 255) / height, (x * y) % 16 < 8 ? 200 : 60, 255], at)
        }
      return PNG.sync.write(png)
    },
  }
}

export type Compare = Awaited<ReturnType<typeof comparison>>
