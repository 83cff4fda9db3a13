import type { DocumentRecording, PointerSample, RecordItem } from '@dust-trail/core/recording'
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

interface Prepared {
  recording: DocumentRecording
  fromMs: number
  moves: PointerSample[]
  clicks: Extract<RecordItem, { k: 'click' }>[]
}

/** Shows a session at any time: the right page in its state of then, and what the pointer did. */
export class Stage {
  readonly #prepared: Map<number, Prepared>
  readonly #page: Rebuilt
  #index = -1
  #applied = 0
  #atMs = 0
  #width = 0
  #height = 0

  constructor(
    document: Document,
    recordings: readonly DocumentRecording[],
    private readonly spans: readonly Span[],
  ) {
    this.#page = new Rebuilt(document)
    this.#prepared = new Map(spans.map(({ index, fromMs }) => [index, prepare(recordings[index]!, fromMs)]))
  }

  get page(): Rebuilt {
    return this.#page
  }

  /** Goes to a time, in milliseconds since the session's start; forwards it only does what is new. */
  seek(atMs: number): StageView {
    let span = this.spans[0]!
    for (const candidate of this.spans) if (candidate.fromMs <= atMs) span = candidate
    const prepared = this.#prepared.get(span.index)!
    const { recording } = prepared
    const since = atMs - span.fromMs
    if (span.index !== this.#index || since < this.#atMs) {
      this.#page.show(recording.snapshot)
      this.#index = span.index
      this.#applied = 0
      this.#width = recording.snapshot.width
      this.#height = recording.snapshot.height
    }
    for (
      let item = recording.items[this.#applied];
      item && item.at <= since;
      item = recording.items[++this.#applied]
    ) {
      if (item.k === 'view') {
        this.#width = item.w
        this.#height = item.h
      } else this.#page.apply(item)
    }
    this.#atMs = since
    return {
      index: span.index,
      width: this.#width,
      height: this.#height,
      pointer: pointerAt(prepared.moves, since),
      dust: prepared.moves
        .filter(([at]) => at <= since && since - at <= DUST_MS)
        .map(([at, x, y]) => ({ ageMs: since - at, x, y })),
      clicks: prepared.clicks
        .filter((click) => click.at <= since && since - click.at <= CLICK_MS)
        .map((click) => ({ ageMs: since - click.at, x: click.x, y: click.y, touch: click.touch === true })),
    }
  }
}

function prepare(recording: DocumentRecording, fromMs: number): Prepared {
  const clicks = recording.items.filter((item) => item.k === 'click')
  const moves = recording.items
    .flatMap((item): PointerSample[] =>
      item.k === 'move' ? item.p : item.k === 'click' && !item.touch ? [[item.at, item.x, item.y]] : [],
    )
    .sort((a, b) => a[0] - b[0])
  return { recording, fromMs, moves, clicks }
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
