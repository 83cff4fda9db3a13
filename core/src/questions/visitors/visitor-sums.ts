/** What is added up of each visitor over their sessions. */
export const VISITOR_SUMS = [
  'sessions',
  'pages',
  'signals',
  /** sessions that reached the main goal */
  'conversions',
  /** what their actions were worth, in ten-thousandths */
  'parts',
  /** of the strain of their sessions, in hundredths */
  'strain',
  /** sessions that are selected */
  'selected',
] as const
export type VisitorSum = (typeof VISITOR_SUMS)[number]

/** Visitors in ascending order of their codes, with what is known of each as columns. */
export interface VisitorColumns {
  visitor: Uint32Array
  sums: Record<VisitorSum, Float64Array>
  /** when their first session began and their last one, and where the first one came from (code of the channel) */
  firstMs: Float64Array
  lastMs: Float64Array
  channel: Uint32Array
}

function columnsFor(rows: number): VisitorColumns {
  return {
    visitor: new Uint32Array(rows),
    sums: Object.fromEntries(
      VISITOR_SUMS.map((name) => [name, new Float64Array(rows)]),
    ) as VisitorColumns['sums'],
    firstMs: new Float64Array(rows).fill(Infinity),
    lastMs: new Float64Array(rows).fill(-Infinity),
    channel: new Uint32Array(rows),
  }
}

/** Adds up sessions by visitor, of whom it is not known beforehand who they are. */
export class VisitorSums {
  /** by code of the visitor the row plus 1; 0 = none yet */
  readonly #rowOf: Uint32Array
  #rows = columnsFor(1024)
  #count = 0

  /** @param visitors  codes there are */
  constructor(visitors: number) {
    this.#rowOf = new Uint32Array(visitors)
  }

  /** The row of a visitor, of which one of the sessions began at this time and came through this channel. */
  rowOf(visitor: number, startMs: number, channel: number): number {
    let row = this.#rowOf[visitor]! - 1
    if (row < 0) {
      if (this.#count === this.#rows.visitor.length)
        this.#rows = copied(this.#rows, this.#count, 2 * this.#count)
      row = this.#count++
      this.#rowOf[visitor] = row + 1
      this.#rows.visitor[row] = visitor
    }
    noteTime(this.#rows, row, startMs, startMs, channel)
    return row
  }

  add(row: number, name: VisitorSum, value: number): void {
    this.#rows.sums[name][row]! += value
  }

  /** All visitors so far, in order of their codes. */
  columns(): VisitorColumns {
    const order = Uint32Array.from({ length: this.#count }, (_, row) => row)
    const { visitor } = this.#rows
    order.sort((a, b) => visitor[a]! - visitor[b]!)
    const sorted = columnsFor(this.#count)
    order.forEach((row, k) => copyRow(this.#rows, row, sorted, k))
    return sorted
  }
}

/** Visitors of both, those who are in both added up. Complexity: linear. */
export function mergeVisitors(a: VisitorColumns, b: VisitorColumns): VisitorColumns {
  const both = columnsFor(a.visitor.length + b.visitor.length)
  let [i, j, count] = [0, 0, 0]
  while (i < a.visitor.length || j < b.visitor.length) {
    const ofA = a.visitor[i] ?? Infinity
    const ofB = b.visitor[j] ?? Infinity
    if (ofA <= ofB) copyRow(a, i++, both, count)
    if (ofB < ofA) copyRow(b, j++, both, count)
    else if (ofA === ofB) {
      for (const name of VISITOR_SUMS) both.sums[name][count]! += b.sums[name][j]!
      noteTime(both, count, b.firstMs[j]!, b.lastMs[j]!, b.channel[j]!)
      j++
    }
    count++
  }
  return copied(both, count, count)
}

function noteTime(rows: VisitorColumns, row: number, firstMs: number, lastMs: number, channel: number): void {
  const known = rows.firstMs[row]!
  // Of two sessions that began at once the channel with the lower code, so that the order does not matter.
  if (firstMs < known || (firstMs === known && channel < rows.channel[row]!)) rows.channel[row] = channel
  rows.firstMs[row] = Math.min(known, firstMs)
  rows.lastMs[row] = Math.max(rows.lastMs[row]!, lastMs)
}

function copyRow(from: VisitorColumns, row: number, to: VisitorColumns, at: number): void {
  to.visitor[at] = from.visitor[row]!
  for (const name of VISITOR_SUMS) to.sums[name][at] = from.sums[name][row]!
  to.firstMs[at] = from.firstMs[row]!
  to.lastMs[at] = from.lastMs[row]!
  to.channel[at] = from.channel[row]!
}

function copied(from: VisitorColumns, count: number, rows: number): VisitorColumns {
  const to = columnsFor(rows)
  to.visitor.set(from.visitor.subarray(0, count))
  for (const name of VISITOR_SUMS) to.sums[name].set(from.sums[name].subarray(0, count))
  to.firstMs.set(from.firstMs.subarray(0, count))
  to.lastMs.set(from.lastMs.subarray(0, count))
  to.channel.set(from.channel.subarray(0, count))
  return to
}
