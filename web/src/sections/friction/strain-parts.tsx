import type { AnswerOf, questions } from '@dust-trail/core'
import { useSelection } from '../../closeup/use-selection.ts'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { verdictOf } from '../../ui/difference.tsx'
import { count } from '../../ui/format.ts'

type Part = AnswerOf<typeof questions.strain>['parts'][number]

/** With one decimal and a true minus. */
export const strainText = (value: number) => value.toFixed(1).replace('-', '−')
const number = (value: number | null) => (value === null ? '–' : strainText(value))
const range = (interval: [number, number] | null) =>
  interval ? `${strainText(interval[0])} to ${strainText(interval[1])}` : '–'

/** Mean strain by what sessions are known by, the hardest first. */
export function StrainParts({ parts, by }: { parts: readonly Part[]; by: string }) {
  const { setSelection } = useSelection()
  const opens = by !== 'week' && by !== 'page'
  const open = ({ value }: Part) => {
    if (by === 'page') setSelection({ type: 'page', page: value })
    else if (by === 'variant') {
      const [experiment = '', ...variant] = value.split(': ')
      setSelection({
        type: 'where',
        condition: {
          type: 'event',
          event: {
            kinds: ['variant'],
            name: { is: 'equal', to: experiment },
            text: { is: 'equal', to: variant.join(': ') },
          },
        },
      })
    } else if (opens)
      setSelection({
        type: 'where',
        condition: { type: 'text', of: by as 'device', test: { is: 'equal', to: value } },
      })
  }
  const columns: DataColumn<Part>[] = [
    {
      id: 'value',
      head: `${by[0]!.toUpperCase()}${by.slice(1)}`,
      value: ({ value }) => value || 'not known',
      opens: by !== 'week',
      least: 160,
    },
    {
      id: 'n',
      head: by === 'page' ? 'Views' : 'Sessions',
      value: ({ n }) => n,
      cell: ({ n }) => count(n),
      numeric: true,
      width: 90,
    },
    {
      id: 'mean',
      head: 'Strain',
      cell: ({ mean }) => number(mean),
      value: ({ mean }) => mean,
      numeric: true,
      width: 80,
    },
    {
      id: 'interval',
      head: '95 % interval',
      cell: ({ interval }) => range(interval),
      value: ({ interval }) => interval?.[0] ?? null,
      numeric: true,
      width: 130,
      folds: 2,
    },
    {
      id: 'difference',
      head: 'Against the others',
      cell: ({ difference, differenceInterval }) =>
        difference === null
          ? '–'
          : `${difference > 0 ? '+' : ''}${strainText(difference)} (${range(differenceInterval)})`,
      value: ({ difference }) => difference,
      numeric: true,
      width: 200,
    },
    {
      id: 'verdict',
      head: 'More than noise?',
      value: ({ difference, differenceInterval }) =>
        difference === null || !differenceInterval
          ? 'cannot tell'
          : verdictOf(difference, differenceInterval),
      width: 150,
      folds: 1,
    },
  ]
  return (
    <div className="overflow-auto rounded-md border border-line bg-sheet">
      <DataTable
        name="strain-parts"
        label={`Strain by ${by}`}
        rows={parts}
        columns={columns}
        rowKey={({ value }) => value}
        {...(by !== 'week' && { open, openTitle: 'Open these sessions' })}
      />
    </div>
  )
}
