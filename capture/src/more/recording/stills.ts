import { boxOf, quiet, replace } from '../../dom.ts'
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

/** What draws in space: each of these changes what is seen. */
const DRAWS = 'clear drawArrays drawElements drawArraysInstanced drawElementsInstanced drawRangeElements'
/** Such a drawing is copied no more often while it moves. */
const COPY_MS = 250

/** Drawings of the page, now and then, where they have changed. */
export class Stills {
  readonly #last = new WeakMap<HTMLCanvasElement, { look: string; atMs: number; ids: NodeIds }>()
  /** of those that can be read only in the moment in which they are made */
  readonly #copies = new WeakMap<HTMLCanvasElement, { copy: HTMLCanvasElement; atMs: number }>()
  #isWatching = false
  #bytes = 0

  constructor(private readonly recorder: Recorder) {}

  /** Copies drawings in space when they are made: the browser shows them and forgets them (WebGL 1.0, section 2.2). */
  #watch(): void {
    this.#isWatching = true
    const drawn = new Set<HTMLCanvasElement>()
    const copy = quiet(() => {
      for (const canvas of drawn) this.#copy(canvas)
      drawn.clear()
    })
    const note = quiet(({ canvas }: WebGLRenderingContext) => {
      if (!('localName' in canvas) || !this.recorder.idOf(canvas)) return
      const last = this.#copies.get(canvas)
      if (last && performance.now() - last.atMs < COPY_MS) return
      if (!drawn.size) queueMicrotask(copy)
      drawn.add(canvas)
    })
    for (const owner of [window.WebGLRenderingContext, window.WebGL2RenderingContext])
      for (const name of DRAWS.split(' ')) {
        const prototype = owner?.prototype as unknown as Record<string, (...given: unknown[]) => unknown>
        const original = prototype?.[name]
        if (!original) continue
        const watched = function (this: WebGLRenderingContext, ...given: unknown[]) {
          const result = original.apply(this, given)
          note(this)
          return result
        }
        replace(prototype, name, watched)
      }
  }

  #copy(canvas: HTMLCanvasElement): void {
    const last = this.#copies.get(canvas)
    const copy = last?.copy ?? document.createElement('canvas')
    const scale = Math.min(1, MOST_PX / Math.max(canvas.width, canvas.height))
    copy.width = canvas.width * scale
    copy.height = canvas.height * scale
    copy.getContext('2d')!.drawImage(canvas, 0, 0, copy.width, copy.height)
    this.#copies.set(canvas, { copy, atMs: performance.now() })
  }

  look(root: Root): void {
    if (!this.#isWatching) this.#watch()
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
    const shown = this.#copies.get(canvas)?.copy ?? canvas
    const look = lookOf(shown)
    const last = this.#last.get(canvas)
    const { ids } = this.recorder
    this.#last.set(canvas, { look, atMs: performance.now(), ids })
    if ((look === last?.look && ids === last.ids) || !look || this.#bytes > BUDGET_BYTES) return
    void stillOf(shown, shown.width, shown.height).then(
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
