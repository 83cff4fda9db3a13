import { boxOf, quiet } from '../../dom.ts'
import type { NodeIds, Root } from './nodes.ts'
import { privacy } from './privacy.ts'
import type { Recorder } from './recorder.ts'

const EVERY_MS = 2000
const MOST = 8
const MOST_PX = 1600
const MOST_BYTES = 400_000
/** All stills of one page together. */
const BUDGET_BYTES = 4_000_000
const LOOK_PX = 48

/** A picture as text, no wider and higher than so many px; undefined where it may not be read or is too large. */
export async function stillOf(
  source: CanvasImageSource,
  width: number,
  height: number,
): Promise<string | undefined> {
  try {
    const scale = Math.min(1, MOST_PX / Math.max(width, height))
    const copy = new OffscreenCanvas(
      Math.max(1, Math.round(width * scale)),
      Math.max(1, Math.round(height * scale)),
    )
    copy.getContext('2d')!.drawImage(source, 0, 0, copy.width, copy.height)
    const blob = await copy.convertToBlob({ type: 'image/webp', quality: 0.9 })
    if (blob.size > MOST_BYTES) return undefined
    return await new Promise((resolve) => {
      const reader = new FileReader()
      reader.onload = () => resolve(reader.result as string)
      reader.readAsDataURL(blob)
    })
  } catch {
    // It shows something of another site, which only the visitor may see, or the browser cannot make pictures.
    return undefined
  }
}

/** Drawings of the page, now and then, where they have changed. */
export class Stills {
  readonly #last = new WeakMap<HTMLCanvasElement, { look: string; atMs: number; ids: NodeIds }>()
  #bytes = 0

  constructor(private readonly recorder: Recorder) {}

  look(root: Root): void {
    let count = 0
    for (const canvas of root.querySelectorAll('canvas')) {
      const last = this.#last.get(canvas)
      if (last && performance.now() - last.atMs < EVERY_MS) continue
      if (!this.recorder.idOf(canvas) || privacy.isStructureOnly(canvas) || privacy.blockOf(canvas)) continue
      const { width, height, top, bottom } = boxOf(canvas)
      if (!width || !height || bottom < 0 || top > innerHeight || ++count > MOST) continue
      // Drawings of some kinds can be read only in the frame in which they were made.
      requestAnimationFrame(quiet(() => this.#take(canvas)))
    }
  }

  #take(canvas: HTMLCanvasElement): void {
    const look = lookOf(canvas)
    const last = this.#last.get(canvas)
    const { ids } = this.recorder
    this.#last.set(canvas, { look, atMs: performance.now(), ids })
    if ((look === last?.look && ids === last.ids) || !look || this.#bytes > BUDGET_BYTES) return
    void stillOf(canvas, canvas.width, canvas.height).then(
      quiet((still: string | undefined) => {
        if (!still) return
        this.#bytes += still.length
        this.recorder.tell(canvas, 'still', still)
      }),
    )
  }
}

let small: CanvasRenderingContext2D | null | undefined
/** How a drawing looks from afar; "" where it may not be read. */
function lookOf(canvas: HTMLCanvasElement): string {
  try {
    if (small === undefined) {
      const made = document.createElement('canvas')
      made.width = made.height = LOOK_PX
      small = made.getContext('2d', { willReadFrequently: true })
    }
    small!.clearRect(0, 0, LOOK_PX, LOOK_PX)
    small!.drawImage(canvas, 0, 0, LOOK_PX, LOOK_PX)
    return String.fromCharCode(...small!.getImageData(0, 0, LOOK_PX, LOOK_PX).data)
  } catch {
    return ''
  }
}
