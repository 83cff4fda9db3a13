import type { LedgerRow } from '@dust-trail/core'
import { clsx } from 'clsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { pText, rangeText } from '../../ui/difference.tsx'
import { count, percent, points } from '../../ui/format.ts'
import { placeName } from '../../words/sentences.ts'
import type { Direction } from './use-paths.ts'

/** The columns of a ledger: what stood there before and after, and how sure the difference is. */
export function ledgerColumns({
  kind,
  direction,
  most,
}: {
  kind: LedgerRow['of']
  direction: Direction
  /** the largest share, which a whole bar stands for */
  most: number
}): DataColumn<LedgerRow>[] {
  return [
    { id: 'step', head: 'Step', value: (row) => row.step + 1, numeric: true, width: 60 },
    ...(kind === 'link'
      ? [
          {
            id: 'from',
            head: direction === 'back' ? 'On to' : 'From',
            value: fromText,
          } satisfies DataColumn<LedgerRow>,
        ]
      : []),
    {
      id: 'place',
      head: kind === 'end' ? (direction === 'back' ? 'Began at' : 'Ended at') : 'Place',
      value: ({ place }) => placeName(place),
      opens: true,
    },
    {
      id: 'bars',
      head: 'Before and after',
      cell: ({ before, after }) => (
        <span className="block w-24" aria-hidden>
          <span
            className="block h-1.5 bg-stone"
            style={{ width: `${((before.share ?? 0) / most) * 100}%` }}
          />
          <span
            className="mt-0.5 block h-1.5 bg-spruce"
            style={{ width: `${((after.share ?? 0) / most) * 100}%` }}
          />
        </span>
      ),
      width: 124,
      folds: 3,
    },
    {
      id: 'before',
      head: 'Before',
      cell: ({ before }) => `${percent(before.share)} · ${count(before.hits)}`,
      value: ({ before }) => before.share,
      numeric: true,
      width: 118,
    },
    {
      id: 'after',
      head: 'After',
      cell: ({ after }) => `${percent(after.share)} · ${count(after.hits)}`,
      value: ({ after }) => after.share,
      numeric: true,
      width: 118,
    },
    {
      id: 'change',
      head: 'Change',
      cell: ({ difference, sure: isSure, change }) => (
        <span
          className={clsx(
            isSure && 'font-semibold',
            isSure && ((difference ?? 0) > 0 ? 'text-spruce' : 'text-clay'),
          )}
        >
          {difference === null ? '–' : points(difference)}
          {(change === 'appeared' || change === 'vanished') && ` · ${change}`}
        </span>
      ),
      value: ({ difference }) => difference,
      title: ({ interval }) => `95 % between ${rangeText(interval)}`,
      numeric: true,
      width: 150,
    },
    {
      id: 'interval',
      head: '95 % interval',
      cell: ({ interval }) => rangeText(interval),
      value: ({ interval }) => interval[0],
      numeric: true,
      width: 170,
      folds: 2,
    },
    {
      id: 'relative',
      head: 'Relative',
      cell: ({ relative }) =>
        relative === null ? '–' : `${relative < 0 ? '−' : '+'}${percent(Math.abs(relative))}`,
      value: ({ relative }) => relative,
      numeric: true,
      width: 90,
      folds: 1,
    },
    {
      id: 'p',
      head: 'p, corrected',
      cell: ({ p, sure: isSure }) => `${pText(p)}${isSure ? '' : ' · cannot tell'}`,
      value: ({ p }) => p,
      numeric: true,
      width: 164,
    },
  ]
}

function fromText({ from, step }: LedgerRow): string {
  return from ? placeName(from) : step === 0 ? 'the start' : ''
}
