import type { ReachAnswer } from '@dust-trail/core'
import { useSelection } from '../../closeup/use-selection.ts'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import { elementName, withoutSight } from '../../words/selections.ts'

type Row = ReachAnswer['elements'][number]

/** What there is to see on a page, from top to bottom, and how many ever see it; opens those who do not. */
export function SeenList({ answer, page }: { answer: ReachAnswer; page: string }) {
  const { setSelection } = useSelection()
  const columns: DataColumn<Row>[] = [
    {
      id: 'element',
      head: 'Element',
      value: ({ text, selector }) => elementName(text, selector),
      title: ({ selector }) => selector,
      opens: true,
      least: 100,
    },
    {
      id: 'seen',
      head: `Seen, of ${count(answer.telling)}`,
      cell: ({ seen }) => percent(seen.share),
      value: ({ seen }) => seen.share,
      title: ({ seen }) => `in view in ${count(seen.hits)} of ${count(seen.base)} views`,
      numeric: true,
      width: 118,
    },
    {
      id: 'clicked',
      head: 'Clicked',
      cell: ({ clicked, seen }) => (seen.hits ? `${percent(clicked / seen.hits)}` : '–'),
      value: ({ clicked, seen }) => (seen.hits ? clicked / seen.hits : null),
      title: ({ clicked, seen }) => `in ${count(clicked)} of the ${count(seen.hits)} views that saw it`,
      numeric: true,
      width: 74,
    },
    {
      id: 'y',
      head: 'From top',
      cell: ({ y }) => (y === null ? '–' : `${count(y)} px`),
      value: ({ y }) => y,
      numeric: true,
      width: 80,
    },
  ]
  return (
    <aside aria-label="Elements" className="flex w-[430px] shrink-0 flex-col border-l border-line bg-sheet">
      <div className="min-h-0 flex-1 overflow-auto">
        {answer.elements.length ? (
          <DataTable
            name="seen-elements"
            label="Elements and how many views saw them"
            rows={answer.elements}
            columns={columns}
            rowKey={({ selector }) => selector}
            openTitle="Open the sessions that viewed the page and never saw this"
            open={({ selector }) => setSelection(withoutSight(page, selector))}
          />
        ) : (
          <Empty title="Not measured">These data do not tell which elements came into view.</Empty>
        )}
      </div>
      <p className="border-t border-line px-3 py-2 text-ink-soft">
        Calls to action, fields and headings. Seen: half of it, or half a window of it, was in view.
        {answer.measured < answer.views &&
          ` ${count(answer.measured)} of ${count(answer.views)} views tell how far they went.`}
      </p>
    </aside>
  )
}
