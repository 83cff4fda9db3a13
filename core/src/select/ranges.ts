/** A range of a partition: both ends belong to it; null = open. */
export interface Range {
  from: number | null
  to: number | null
}

/**
 * Ranges between breakpoints, for a number that is counted (whole numbers only) or measured: 1, 2, 5 make "below 1", "1",
 * "2 to 4" and "5 or more". Together they hold every number once.
 *
 * @param breaks  lower ends of all ranges but the first, in any order
 */
export function rangesOf(breaks: readonly number[], whole: boolean): Range[] {
  const edges = [...new Set(breaks)].sort((a, b) => a - b)
  if (!edges.length) return []
  const before = (n: number) => (whole ? n - 1 : n)
  return [
    { from: null, to: before(edges[0]!) },
    ...edges.map((from, i) => ({ from, to: i + 1 < edges.length ? before(edges[i + 1]!) : null })),
  ]
}

/** The range in words. */
export function rangeWords({ from, to }: Range, whole: boolean): string {
  if (from === null) return whole ? (to === 0 ? 'none' : `${to} or fewer`) : `below ${to}`
  if (to === null) return `${from} or more`
  if (from === to) return String(from)
  return whole ? `${from} to ${to}` : `${from} to below ${to}`
}
