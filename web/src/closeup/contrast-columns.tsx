import type { CloseUpAnswer, Contrast } from '@dust-trail/core'
import type { DataColumn } from '../ui/data-table.tsx'
import { certaintyText } from '../ui/difference.tsx'
import { count, percent, points } from '../ui/format.ts'
import { RateBar } from '../ui/rate-bar.tsx'

/** A rate in a table whose head names the base. */
export function shareText({ share, hits }: Contrast['selected']): string {
  return `${percent(share)} · ${count(hits)}`
}

/** How many of the selected. */
export function selectedColumn<Row extends Contrast>(data: CloseUpAnswer): DataColumn<Row> {
  return {
    id: 'selected',
    head: `Of these ${count(data.size.hits)}`,
    cell: ({ selected }) => shareText(selected),
    value: ({ selected }) => selected.share,
    numeric: true,
    width: 120,
  }
}

/** The same as a bar. */
export function barColumn<Row extends Contrast>(): DataColumn<Row> {
  return {
    id: 'share of these',
    head: '',
    words: '',
    cell: ({ selected }) => <RateBar rate={selected} />,
    width: 150,
    folds: 3,
  }
}

/**
 * What sets a row's share beside everyone's, and says whether the gap is more than noise.
 *
 * @param others  what the selected are held against, where that is not everyone
 */
export function againstColumns<Row extends Contrast>(
  data: CloseUpAnswer,
  others: string | undefined,
): DataColumn<Row>[] {
  const whose = others === undefined ? 'everyone' : `${others} and these`
  const head = `Of ${whose}, ${count(data.everyone)}`
  return [
    {
      id: 'everyone',
      head: <span title={head}>{head}</span>,
      words: head,
      cell: ({ everyone }) => shareText(everyone),
      value: ({ everyone }) => everyone.share,
      numeric: true,
      width: 144,
      folds: 2,
    },
    {
      id: 'difference',
      head: 'Against the rest',
      cell: (row) => points(row.difference),
      value: (row) => row.difference,
      numeric: true,
      width: 120,
    },
    {
      id: 'certainty',
      head: 'Is it more than noise?',
      cell: (row) => certaintyText(row.difference, row.interval),
      title: (row) => certaintyText(row.difference, row.interval),
      className: 'text-ink-soft',
      width: 198,
      folds: 1,
    },
  ]
}
