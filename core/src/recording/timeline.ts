import type { DocumentRecording } from './types.ts'

export interface Stretch {
  fromMs: number
  toMs: number
}

/** Pauses in activity longer than this are idle. Common practice, no source. */
export const IDLE_AFTER_MS = 3000
/** How much of a pause is kept on either side, so that what comes next is not a jump. */
const MARGIN_MS = 500

/**
 * A session's recordings on one axis, in milliseconds since `startMs`. Documents follow each other; the later one
 * covers the earlier from its start on.
 */
export interface Timeline {
  startMs: number
  durationMs: number
  documents: { index: number; fromMs: number; toMs: number; url: string; title: string }[]
  /** stretches in which nothing happened */
  idle: Stretch[]
  /** things done per bin, ACTIVITY_BINS over the whole length */
  activity: number[]
}

export const ACTIVITY_BINS = 200

/**
 * @param documents  at least one, in any order
 * @param startMs    origin of the axis, milliseconds since 1970
 * @param endMs      end of the session; the axis reaches at least there
 */
export function timeline(documents: readonly DocumentRecording[], startMs: number, endMs: number): Timeline {
  const order = documents
    .map((_, index) => index)
    .sort((a, b) => documents[a]!.startMs - documents[b]!.startMs || a - b)
  const lastItemMs = documents.map((d) => d.startMs + lastMs(d))
  const durationMs = Math.max(1, endMs - startMs, ...lastItemMs.map((ms) => ms - startMs))
  const spans = order.map((index, k) => {
    const document = documents[index]!
    const next = order[k + 1]
    return {
      index,
      fromMs: document.startMs - startMs,
      toMs: next === undefined ? durationMs : documents[next]!.startMs - startMs,
      url: document.snapshot.url,
      title: document.snapshot.title,
    }
  })
  const times = spans.flatMap(({ index, fromMs, toMs }) => [
    fromMs,
    ...documents[index]!.items.flatMap((item) =>
      item.k === 'hide' || item.k === 'show' || item.k === 'console'
        ? []
        : item.k === 'move'
          ? item.p.map(([at]) => at + fromMs)
          : [item.at + fromMs],
    ).filter((at) => at <= toMs),
  ])
  times.sort((a, b) => a - b)
  const activity = new Array<number>(ACTIVITY_BINS).fill(0)
  for (const at of times) {
    const bin = Math.min(ACTIVITY_BINS - 1, Math.max(0, Math.floor((at / durationMs) * ACTIVITY_BINS)))
    activity[bin]!++
  }
  return { startMs, durationMs, documents: spans, idle: idleStretches(times, durationMs), activity }
}

/** Gaps longer than {@link IDLE_AFTER_MS} between ascending times, up to the end, less a margin on either side. */
export function idleStretches(times: readonly number[], durationMs: number): Stretch[] {
  const idle: Stretch[] = []
  let before = 0
  for (const at of [...times, durationMs]) {
    if (at - before > IDLE_AFTER_MS) idle.push({ fromMs: before + MARGIN_MS, toMs: at - MARGIN_MS })
    before = Math.max(before, at)
  }
  return idle
}

/**
 * When the last thing happened that a document recorded, in ms from its start. Moves of the pointer are told several at
 * once, so that what is told later may have happened before the last of them.
 */
export function lastMs({ items }: DocumentRecording): number {
  return items.reduce((last, item) => Math.max(last, lastAt(item)), 0)
}

function lastAt(item: DocumentRecording['items'][number]): number {
  return item.k === 'move' ? Math.max(item.at, ...item.p.map(([at]) => at)) : item.at
}
