import type { ClippedRecording, PointerSample, RecordItem } from '@dust-trail/core/recording'
import type { FileOf } from './files.ts'
import { Hover } from './hover.ts'
import { KeyFrames } from './key-frames.ts'
import { Rebuilt } from './rebuild.ts'

export interface Span {
  /** which recording */
  index: number
  /** milliseconds since the session's start */
  fromMs: number
}

export interface StageView {
  /** which recording is shown */
  index: number
  width: number
  height: number
  /** where the pointer is, in viewport px; null where none was seen yet (touch) */
  pointer: { x: number; y: number } | null
  /** where it was shortly before, oldest first */
  dust: { ageMs: number; x: number; y: number }[]
  /** clicks shortly before, oldest first */
  clicks: { ageMs: number; x: number; y: number; touch: boolean }[]
}

/** How long the pointer's trail stays. */
export const DUST_MS = 1400
const CLICK_MS = 900
const SETTLE_MS = 50
/** So many steps ahead it is looked whether there is a shorter way than doing each. */
const FAR_ITEMS = 200
/** Playing goes in smaller steps than this, at 16 times the speed too. */
const JUMP_MS = 2000

interface Prepared {
  recording: ClippedRecording
  fromMs: number
  frames: KeyFrames
  moves: PointerSample[]
  clicks: Extract<RecordItem, { k: 'click' }>[]
}

/** Shows a session at any time: the right page in its state of then, and what the pointer did. */
export class Stage {
  readonly #prepared: Map<number, Prepared>
  readonly #page: Rebuilt
  readonly #hover: Hover
  #index = -1
  #applied = 0
  #atMs = 0
  #isSettling = false
  /** the element whose size is followed */
  #sized: HTMLElement | null = null
  /** tells when the page has become longer or shorter, as fonts and pictures make it */
  readonly #sizes: ResizeObserver | undefined
  #width = 0
  #pointer: StageView['pointer'] = null
  #height = 0

  constructor(
    private readonly document: Document,
    recordings: readonly ClippedRecording[],
    private readonly spans: readonly Span[],
    /** gives the frame the size of the visitor's window, before anything is shown in it */
    private readonly resize: (width: number, height: number) => void = () => undefined,
    /** what the pictures and fonts of a recording are */
    private readonly files: (recording: ClippedRecording) => FileOf | undefined = () => undefined,
  ) {
    this.#page = new Rebuilt(document)
    this.#hover = new Hover(document)
    const view = document.defaultView
    if (view?.ResizeObserver) this.#sizes = new view.ResizeObserver(() => this.#settle())
    this.#prepared = new Map(spans.map(({ index, fromMs }) => [index, prepare(recordings[index]!, fromMs)]))
  }

  get page(): Rebuilt {
    return this.#page
  }

  /** Pictures come many at once: it is looked where things lie when some have. */
  readonly #settle = () => {
    if (this.#isSettling) return
    this.#isSettling = true
    setTimeout(() => {
      this.#isSettling = false
      this.#page.settle()
      this.#hover.over(this.#pointer)
    }, SETTLE_MS)
  }

  #size(width: number, height: number): void {
    this.#width = width
    this.#height = height
    this.resize(width, height)
  }

  #do(item: RecordItem): void {
    if (item.k === 'view') this.#size(item.w, item.h)
    else this.#page.apply(item)
  }

  /** Makes ready for going to any time, while there is time for it. @returns whether more is left to do */
  prepare(hasTime: () => boolean): boolean {
    return [...this.#prepared.values()].some(({ frames }) => frames.find(hasTime))
  }

  /** Goes to a time, in milliseconds since the session's start; forwards it only does what is new. */
  seek(atMs: number): StageView {
    let span = this.spans[0]!
    for (const candidate of this.spans) if (candidate.fromMs <= atMs) span = candidate
    const prepared = this.#prepared.get(span.index)!
    const { recording } = prepared
    const since = atMs - span.fromMs
    const before = this.#index
    const until = countUntil(recording.items, since)
    const isAnew = span.index !== this.#index || since < this.#atMs
    const frame =
      isAnew || until - this.#applied > FAR_ITEMS ? prepared.frames.before(until, true) : undefined
    if (isAnew || (frame && frame.applied > this.#applied)) {
      this.#size(recording.snapshot.width, recording.snapshot.height)
      const { snapshot, styles } = frame?.standing ?? recording
      this.#page.show(snapshot, styles, this.files(recording))
      this.#index = span.index
      frame?.standing.items.forEach((item) => this.#do(item))
      this.#applied = frame?.applied ?? 0
    }
    while (this.#applied < until) this.#do(recording.items[this.#applied++]!)
    // Jumped, not played: what moves by itself has come to its end, as it had by then.
    if (since - this.#atMs > JUMP_MS || since < this.#atMs || before !== span.index) {
      rest(this.#page.pages)
      this.#settle()
    }
    this.#atMs = since
    const pointer = pointerAt(prepared.moves, since)
    this.#pointer = pointer
    this.#hover.over(pointer)
    for (const page of this.#page.pages) page.addEventListener('load', this.#settle, true)
    const { body } = this.document
    if (body !== this.#sized) {
      this.#sizes?.disconnect()
      if (body) this.#sizes?.observe(body)
      this.#sized = body
    }
    this.#page.select()
    return {
      index: span.index,
      width: this.#width,
      height: this.#height,
      pointer,
      dust: prepared.moves
        .filter(([at]) => at <= since && since - at <= DUST_MS)
        .map(([at, x, y]) => ({ ageMs: since - at, x, y })),
      clicks: prepared.clicks
        .filter((click) => click.at <= since && since - click.at <= CLICK_MS)
        .map((click) => ({ ageMs: since - click.at, x: click.x, y: click.y, touch: click.touch === true })),
    }
  }
}

/** Ends what moves on a page for a time; what goes on for ever is left. */
function rest(pages: readonly Document[]): void {
  for (const page of pages)
    for (const animation of page.getAnimations?.() ?? [])
      try {
        // One that the page holds still stays where it is.
        if (animation.playState !== 'paused') animation.finish()
      } catch {
        // It has no end.
      }
}

/** How many items lie at most at a time; they are in order. */
function countUntil(items: readonly RecordItem[], atMs: number): number {
  let low = 0
  let high = items.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (items[middle]!.at <= atMs) low = middle + 1
    else high = middle
  }
  return low
}

function prepare(recording: ClippedRecording, fromMs: number): Prepared {
  const clicks = recording.items.filter((item) => item.k === 'click')
  const moves = recording.items
    .flatMap((item): PointerSample[] =>
      item.k === 'move' ? item.p : item.k === 'click' && !item.touch ? [[item.at, item.x, item.y]] : [],
    )
    .sort((a, b) => a[0] - b[0])
  return { recording, fromMs, frames: new KeyFrames(recording), moves, clicks }
}

/** The pointer's place at a time, straight between the samples around it. */
export function pointerAt(moves: readonly PointerSample[], atMs: number): { x: number; y: number } | null {
  let low = 0
  let high = moves.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (moves[middle]![0] <= atMs) low = middle + 1
    else high = middle
  }
  const before = moves[low - 1]
  const after = moves[low]
  if (!before) return null
  if (!after || after[0] - before[0] > 400) return { x: before[1], y: before[2] }
  const share = (atMs - before[0]) / (after[0] - before[0])
  return { x: before[1] + (after[1] - before[1]) * share, y: before[2] + (after[2] - before[2]) * share }
}
