import type { Block } from './columns.ts'
import { KIND } from './columns.ts'

/** The page views of a block by page: a question about few pages looks at their views alone. */
export interface ViewIndex {
  /** views of page code p lie at start[p] <= k < start[p + 1] */
  start: Uint32Array
  /** index of the event, ascending within a page */
  event: Uint32Array
  /** its session */
  session: Uint32Array
}

const known = new WeakMap<Block, ViewIndex>()

/** Made once for a block and kept with it. Eight bytes a page view. */
export function viewIndex(block: Block): ViewIndex {
  let index = known.get(block)
  if (!index) known.set(block, (index = build(block)))
  return index
}

function build({ sessions, events }: Block): ViewIndex {
  const { kind, page, count } = events
  let pages = 0
  let views = 0
  for (let i = 0; i < count; i++)
    if (kind[i] === KIND.page) {
      views++
      if (page[i]! >= pages) pages = page[i]! + 1
    }
  const start = new Uint32Array(pages + 1)
  for (let i = 0; i < count; i++) if (kind[i] === KIND.page) start[page[i]! + 1]!++
  for (let p = 0; p < pages; p++) start[p + 1]! += start[p]!
  const next = start.slice()
  const event = new Uint32Array(views)
  const session = new Uint32Array(views)
  for (let s = 0; s < sessions.count; s++)
    for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
      if (kind[i] === KIND.page) {
        const k = next[page[i]!]!++
        event[k] = i
        session[k] = s
      }
  return { start, event, session }
}

/** Page views that a test on page codes lets through, in order of event. */
export function viewsOf(
  block: Block,
  passes: (page: number) => boolean,
): { event: Uint32Array; session: Uint32Array } {
  const { start, event, session } = viewIndex(block)
  const pages: number[] = []
  for (let p = 0; p + 1 < start.length; p++) if (start[p] !== start[p + 1] && passes(p)) pages.push(p)
  if (pages.length === 1) {
    const [from, to] = [start[pages[0]!]!, start[pages[0]! + 1]!]
    return { event: event.subarray(from, to), session: session.subarray(from, to) }
  }
  const total = pages.reduce((sum, p) => sum + start[p + 1]! - start[p]!, 0)
  const all = new Uint32Array(total)
  let at = 0
  for (const p of pages) {
    all.set(event.subarray(start[p], start[p + 1]), at)
    at += start[p + 1]! - start[p]!
  }
  all.sort()
  const sessions = new Uint32Array(total)
  const { firstEvent } = block.sessions
  let s = 0
  for (let k = 0; k < total; k++) {
    while (firstEvent[s + 1]! <= all[k]!) s++
    sessions[k] = s
  }
  return { event: all, session: sessions }
}
