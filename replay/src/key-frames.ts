import type { DocumentRecording, Standing } from '@dust-trail/core/recording'
import { FoldedPage } from '@dust-trail/core/recording'

/** Nodes that are built or changed between two frames: few enough to be done at once. */
const WORK_BETWEEN = 1200
/** Each holds what has changed of the page since the one before. */
const MOST_FRAMES = 250
/** Items that are looked at before it is asked whether there is time for more. */
const AT_ONCE = 500

interface KeyFrame {
  /** how many items of the recording are in it */
  applied: number
  standing: Standing
}

/** Moments of one recording from which its replay can begin, found ahead of time or when they are needed. */
export class KeyFrames {
  readonly #frames: KeyFrame[] = []
  #page: FoldedPage | undefined
  #applied = 0
  #work = 0
  #every = WORK_BETWEEN

  constructor(private readonly recording: DocumentRecording) {}

  /**
   * The latest frame with at most so many items.
   *
   * @param isSoon  goes as far ahead as is needed to find it; else only what is known counts
   */
  before(applied: number, isSoon: boolean): KeyFrame | undefined {
    if (isSoon) while (this.#applied < applied) this.#step(applied)
    return this.#frames.findLast((frame) => frame.applied <= applied)
  }

  /** Finds more of them, until it is said that there is no more time. @returns whether there are more to be found */
  find(hasTime: () => boolean): boolean {
    const { length } = this.recording.items
    while (this.#applied < length && hasTime()) this.#step(length)
    return this.#applied < length
  }

  #step(until: number): void {
    const { items, snapshot } = this.recording
    this.#page ??= new FoldedPage(snapshot)
    const end = Math.min(until, items.length, this.#applied + AT_ONCE)
    while (this.#applied < end) {
      this.#work += this.#page.apply(items[this.#applied++]!)
      if (this.#work >= this.#every) this.#keep()
    }
    this.#applied = Math.max(this.#applied, end)
  }

  #keep(): void {
    this.#work = 0
    this.#frames.push({ applied: this.#applied, standing: this.#page!.standing() })
    if (this.#frames.length <= MOST_FRAMES) return
    // Every other one, and from now on half as many.
    this.#every *= 2
    for (let k = this.#frames.length - 2; k >= 0; k -= 2) this.#frames.splice(k, 1)
  }
}
