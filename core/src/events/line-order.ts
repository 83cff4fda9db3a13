import type { Kind, Line } from './line.ts'
import { KINDS } from './line.ts'

/*
 * One order of a session's lines, and one text of each, whatever the order in which they arrived: everything that is
 * computed from them is then the same after any shuffle. See docs/clickstream.md, "Order and repetition".
 */

/** By kind where it stands among lines of one instant; the end of a page view comes after what happened on it. */
const RANK = Object.fromEntries(
  KINDS.map((kind, i) => [kind, kind === 'leave' ? KINDS.length : i]),
) as Record<Kind, number>

/**
 * A line as text that is equal for lines with the same content, whatever the order of their fields. Two lines without
 * an id are the same line if their texts are equal.
 */
export function lineText(line: Line): string {
  return JSON.stringify(ordered(line))
}

function ordered(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value
  if (Array.isArray(value)) return value.map(ordered)
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, own]) => own !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, own]) => [key, ordered(own)]),
  )
}

/**
 * Lines of one session in their order: by time; at one instant first what happened on the page before, then each page
 * view with what happened on it, by kind and then by text. The order in which they are given does not matter.
 *
 * Complexity: n log n, and the texts of those lines that share an instant.
 */
export function orderLines(lines: readonly Line[]): Line[] {
  const sorted = [...lines].sort((a, b) => a.t - b.t)
  for (let from = 0; from < sorted.length;) {
    let to = from + 1
    while (to < sorted.length && sorted[to]!.t === sorted[from]!.t) to++
    if (to - from > 1) {
      const together = instant(sorted.slice(from, to))
      for (let i = from; i < to; i++) sorted[i] = together[i - from]!
    }
    from = to
  }
  return sorted
}

/** Lines of one instant in their order. */
function instant(lines: readonly Line[]): Line[] {
  const texts = new Map(lines.map((line) => [line, lineText(line)]))
  const byText = (a: Line, b: Line) => compare(texts.get(a)!, texts.get(b)!)
  const pages = lines.filter(({ kind }) => kind === 'page').sort(byText)
  /** 0 = on the page before all; k = on the k-th page view of this instant */
  const place = (line: Line): number => {
    if (line.kind === 'page') return pages.indexOf(line) + 1
    if (line.url === undefined) return pages.length
    return pages.findIndex((page) => page.url === line.url) + 1
  }
  const places = new Map(lines.map((line) => [line, place(line)]))
  return [...lines].sort(
    (a, b) => places.get(a)! - places.get(b)! || RANK[a.kind] - RANK[b.kind] || byText(a, b),
  )
}

function compare(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0
}
