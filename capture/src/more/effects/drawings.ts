import { later } from '../../dom.ts'
import { on } from '../../listen.ts'
import { targetOf } from '../../target.ts'
import { canvasLook } from './canvas-look.ts'
import type { OwnBeat } from './own-beat.ts'

/** How often, and how many, drawings are looked at while the pointer moves. */
const EVERY_MS = 100
const MOST = 3
/** They are looked at by themselves so long after the start, once the page has drawn what it draws at first. */
const FIRST_MS = [1500, 1650]
/** What the pointer did to a drawing is over so long after it was moved over it last. */
const REST_MS = 600

/** What the pointer is over, and when it was moved last; told before any listener of the page runs. */
export class Pointer {
  over: Element | null = null
  movedMs = -Infinity
  #left: Element | null = null
  #leftMs = -Infinity

  /** It was moved. */
  isOver(over: Element | null, nowMs: number): void {
    if (over !== this.over) {
      this.#left = this.over
      this.#leftMs = nowMs
    }
    this.over = over
    this.movedMs = nowMs
  }

  /** Whether a drawing that has changed since then may have answered to it: it was over it, or left it, shortly before. */
  mayHaveChanged(drawing: Element, sinceMs: number): boolean {
    const lastMs = drawing === this.over ? this.movedMs : drawing === this.#left ? this.#leftMs : -Infinity
    return sinceMs < lastMs + REST_MS
  }
}

/**
 * Drawings tell nobody that they change: while the pointer moves elsewhere or rests, it is looked whether they do so by
 * themselves. Under a pointer that moves they may answer to it.
 *
 * @param isBusy  whether it is being looked what comes of a click: what changes then may come of that
 */
export function watchDrawings(pointer: Pointer, beat: OwnBeat, isBusy: () => boolean): void {
  const canvases = document.getElementsByTagName('canvas')
  const looks = new WeakMap<Element, string | undefined>()
  let lastMs = -Infinity
  const sample = () => {
    const now = performance.now()
    if (!canvases.length || isBusy() || now - lastMs < EVERY_MS) return
    const beforeMs = lastMs
    lastMs = now
    for (const canvas of [...canvases].slice(0, MOST)) {
      const look = canvasLook(canvas)
      if (looks.has(canvas) && looks.get(canvas) !== look && !pointer.mayHaveChanged(canvas, beforeMs))
        beat.learnSign(canvas, now)
      looks.set(canvas, look)
    }
  }
  for (const ms of FIRST_MS) later(sample, ms)
  let isWaiting = false
  const rest = () => {
    const left = pointer.movedMs + REST_MS - performance.now()
    if (left > 0) {
      later(rest, left)
      return
    }
    // What the pointer did is over: what changes from here on changes by itself.
    sample()
    isWaiting = false
  }
  on(window, 'pointermove', (event) => {
    pointer.isOver(targetOf(event) ?? null, performance.now())
    sample()
    if (!canvases.length || isWaiting) return
    isWaiting = true
    later(rest, REST_MS)
  })
  on(window, 'pointerdown', sample)
}
