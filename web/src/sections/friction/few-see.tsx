import type { AnswerOf } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../../api/use-question.ts'
import { useLens } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useKeptTables } from '../../trail/view.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure, Settling } from '../../ui/states.tsx'
import { elementName, withoutSight } from '../../words/selections.ts'

/** So many to begin with: the hot spots stand below. */
const SHOWN = 5

type Row = AnswerOf<typeof questions.unseen>['elements'][number]

const COLUMNS: DataColumn<Row>[] = [
  {
    id: 'element',
    head: 'Call to action',
    value: ({ text, selector }) => elementName(text, selector),
    title: ({ selector }) => selector,
    opens: true,
    least: 150,
  },
  { id: 'page', head: 'Page', value: ({ page }) => page, width: 170 },
  {
    id: 'seen',
    head: 'Seen',
    cell: ({ seen }) => `${count(seen.hits)} of ${count(seen.base)} views, ${percent(seen.share)}`,
    value: ({ seen }) => seen.share,
    numeric: true,
    width: 220,
  },
  {
    id: 'clicked',
    head: 'Clicked where seen',
    cell: ({ clicked }) => `${percent(clicked.share)} · ${count(clicked.hits)}`,
    value: ({ clicked }) => clicked.share,
    numeric: true,
    width: 150,
    folds: 2,
  },
  {
    id: 'missed',
    head: 'Clicks more, if all saw it',
    cell: ({ missed }) => `at most about ${count(Math.round(missed))}`,
    value: ({ missed }) => missed,
    title: () =>
      'If the other views clicked as often as those that saw it; they can differ in more than that.',
    numeric: true,
    width: 180,
    folds: 1,
  },
]

/** Calls to action that came into view in less than half of the views of their page. */
export function FewSee() {
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const answer = useQuestion(questions.unseen, lens, {})
  const { data } = answer
  useKeptTables([
    keptTable(questions.unseen, 'Calls to action that few see', {}, [
      ['text', 'Call to action'],
      ['page', 'Page'],
      ['seen.share', 'Seen', 'percent'],
      ['seen.base', 'Views', 'count'],
      ['clicked.share', 'Clicked where seen', 'percent'],
    ]),
  ])
  const [whole, setWhole] = useState(false)
  return (
    <section aria-label="Calls to action that few see">
      <h2>Calls to action that few see</h2>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {data && (
        <Settling stale={answer.isPlaceholderData}>
          <p className="mb-1 text-ink-soft">
            {!data.measured
              ? 'Not measured: the data of the lens do not tell what came into view.'
              : data.elements.length
                ? `${plural(data.elements.length, 'element')} in view in less than half of the views of their page.`
                : 'Each that is clicked was in view in at least half of the views of its page.'}
            {whole && data.more > 0 && ` ${count(data.more)} more are not listed.`}{' '}
            {!whole && data.elements.length > SHOWN && (
              <LinkButton onClick={() => setWhole(true)}>Show all {count(data.elements.length)}</LinkButton>
            )}
          </p>
          {data.elements.length > 0 && (
            <div className="overflow-auto rounded-md border border-line bg-sheet">
              <DataTable
                name="few-see"
                label="Calls to action that few see"
                rows={whole ? data.elements : data.elements.slice(0, SHOWN)}
                columns={COLUMNS}
                rowKey={({ page, selector }) => `${page}/${selector}`}
                openTitle="Open the sessions that viewed the page and never saw this"
                open={({ page, selector }) => setSelection(withoutSight(page, selector))}
              />
            </div>
          )}
        </Settling>
      )}
    </section>
  )
}
