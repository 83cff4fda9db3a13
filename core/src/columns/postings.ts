import type { Block } from './block.ts'

/** What is looked for in a block's postings. What is not named may be anything. */
export interface Sought {
  /** for each page code 1 where it is meant; several tables must agree */
  pages?: readonly Uint8Array[] | undefined
  /** codes of kinds */
  kinds?: readonly number[] | undefined
  /** ascending codes of targets; only together with kinds */
  targets?: ArrayLike<number> | undefined
  /** code of the kind of page views, which lie apart from all else */
  view: number
  /** of each session its first view of each page will do */
  once?: boolean | undefined
}

/**
 * Where the events that are looked for lie in a block's postings: from, to, from, to and so on. Views of one page come as
 * two ranges, the first view of each session and then what further ones there are, each in order of time.
 * Complexity: pages of the block × kinds × targets, each with a binary search, whatever the number of events.
 */
export function postingsOf(
  block: Block,
  { pages: tables = [], kinds, targets, view, once = false }: Sought,
): number[] {
  const { pages } = block
  const ranges: number[] = []
  const others = kinds?.filter((kind) => kind !== view)
  const views = !kinds || kinds.includes(view)
  const [one, ...further] = tables
  for (let k = 0; k < pages.count; k++) {
    const page = pages.page[k]!
    if (one && one[page] !== 1) continue
    if (further.some((table) => table[page] !== 1)) continue
    const middle = pages.other[k]!
    const end = pages.first[k + 1]!
    // A view has no target.
    if (views && (!targets || targets[0] === 0)) {
      put(ranges, pages.first[k]!, pages.again[k]!)
      if (!once) put(ranges, pages.again[k]!, middle)
    }
    if (!others) put(ranges, middle, end)
    else for (const kind of others) ofKind(block, ranges, middle, end, kind, targets)
  }
  return ranges
}

/** Within what else happened on a page, which is in order of kind and then of target. */
function ofKind(
  block: Block,
  ranges: number[],
  from: number,
  to: number,
  kind: number,
  targets: Sought['targets'],
): void {
  if (from === to) return
  const first = lowest(block, from, to, kind, 0)
  if (!targets) {
    put(ranges, first, lowest(block, first, to, kind + 1, 0))
    return
  }
  let at = first
  for (let t = 0; t < targets.length && at < to; t++) {
    at = lowest(block, at, to, kind, targets[t]!)
    const next = lowest(block, at, to, kind, targets[t]! + 1)
    put(ranges, at, next)
    at = next
  }
}

/** The first posting in [from, to) of at least such a kind and target. */
function lowest(block: Block, from: number, to: number, kind: number, target: number): number {
  const { event } = block.postings
  const { events } = block
  let low = from
  let high = to
  while (low < high) {
    const middle = (low + high) >>> 1
    const at = event[middle]!
    const kindAt = events.kind[at]!
    if (kindAt < kind || (kindAt === kind && events.target[at]! < target)) low = middle + 1
    else high = middle
  }
  return low
}

function put(ranges: number[], from: number, to: number): void {
  if (from < to) ranges.push(from, to)
}
