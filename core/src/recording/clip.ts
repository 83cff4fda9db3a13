import { FoldedPage } from './folded.ts'
import type { DocumentRecording, RecordedNode, RecordItem } from './types.ts'

/** A recording that may begin in the middle: with the style sheets that are gone by then. */
export type ClippedRecording = DocumentRecording & { styles?: readonly RecordedNode[] }

/**
 * The part of a session's recordings between two moments, and nothing of what lay before or after: a page that began before is
 * given as it stood then.
 *
 * @param startMs  of the session, milliseconds since 1970
 * @param fromMs   since the start of the session
 * @param toMs     likewise
 */
export function clipped(
  documents: readonly DocumentRecording[],
  startMs: number,
  fromMs: number,
  toMs: number,
): ClippedRecording[] {
  const order = [...documents].sort((a, b) => a.startMs - b.startMs)
  return order.flatMap((one, k) => {
    const began = one.startMs - startMs
    const ended = (order[k + 1]?.startMs ?? Infinity) - startMs
    return began > toMs || ended <= fromMs ? [] : [part(one, fromMs - began, toMs - began)]
  })
}

/** One document between two moments since it began. */
function part(one: DocumentRecording, fromMs: number, toMs: number): ClippedRecording {
  const cut = cutOff(one, fromMs, toMs)
  if (!one.files) return cut
  // Files that it does not show are none of its business.
  const shown = JSON.stringify([cut.snapshot, cut.items, cut.styles])
  const files = Object.entries(one.files).filter(([url]) => shown.includes(JSON.stringify(url).slice(1, -1)))
  return { ...cut, files: Object.fromEntries(files) }
}

function cutOff(one: DocumentRecording, fromMs: number, toMs: number): ClippedRecording {
  const within = one.items.filter(({ at }) => at <= toMs)
  if (fromMs <= 0) return { ...one, items: within.flatMap((item) => shifted(item, 0, toMs)) }
  const page = new FoldedPage(one.snapshot)
  const first = within.findIndex(({ at }) => at > fromMs)
  const before = first < 0 ? within : within.slice(0, first)
  before.forEach((item) => page.apply(item))
  const { snapshot, items, styles } = page.standing()
  // A pointer's way may have begun before.
  const moves = before.filter(({ k }) => k === 'move')
  const after = [...moves, ...(first < 0 ? [] : within.slice(first))]
  return {
    ...one,
    ...{ startMs: one.startMs + fromMs, snapshot, styles },
    items: [
      ...items.map((item) => ({ ...item, at: 0 })),
      ...after.flatMap((item) => shifted(item, fromMs, toMs)),
    ],
  }
}

/** A step so much earlier; of a pointer's way only what lies within. */
function shifted(item: RecordItem, byMs: number, toMs: number): RecordItem[] {
  if (item.k !== 'move') return [{ ...item, at: item.at - byMs }]
  const p = item.p
    .filter(([at]) => at >= byMs && at <= toMs)
    .map(([at, x, y]): [number, number, number] => [at - byMs, x, y])
  return p.length ? [{ at: p[0]![0], k: 'move', p }] : []
}
