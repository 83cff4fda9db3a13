import type { Form, FormField, Rate } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { useLens } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, duration, percent, plural, rateText } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { atEvent, elementName } from '../../words/selections.ts'
import { FrictionViews } from './friction-views.tsx'

/** What happens at the fields of forms, page by page. */
export function FormsPage() {
  const { lens } = useLens()
  const answer = useQuestion(questions.forms, lens, {})
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: { type: 'everyone' } },
    tables: [
      keptTable(questions.forms, 'Fields', {}, [
        ['page', 'Page'],
        ['text', 'Field'],
        ['reached.base', 'Views', 'count'],
        ['reached.share', 'Reached', 'percent'],
        ['corrected.share', 'Corrected', 'percent'],
        ['givenUp.share', 'Given up', 'percent'],
      ]),
    ],
  })
  const { data } = answer
  return (
    <div className="space-y-4 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>Forms</h1>
          <p className="text-ink-soft">
            Which field holds people up, and where do they give up? Counted by views of a page.
          </p>
        </div>
        <FrictionViews />
      </header>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && !answer.error && <Loading />}
      {data && (
        <Settling stale={answer.isPlaceholderData} className="space-y-5">
          {data.forms.length ? (
            data.forms.map((form) => <FormTable key={form.page} form={form} />)
          ) : (
            <Empty title="No field was used in the lens">
              Choose other dates; fields come with the script, or as lines of the kind “input”.
            </Empty>
          )}
        </Settling>
      )}
    </div>
  )
}

const rateColumn = (
  id: 'filled' | 'empty' | 'again' | 'corrected',
  head: string,
  folds: number,
): DataColumn<FormField> => ({
  ...{ id, head, folds },
  ...shareCells((field) => field[id]),
  width: 118,
})

/** A share with its base, sorted by the share. */
function shareCells(of: (field: FormField) => Rate | null): Partial<DataColumn<FormField>> {
  return {
    cell: (field) => {
      const rate = of(field)
      return rate ? `${percent(rate.share)} · ${count(rate.hits)}` : 'not measured'
    },
    value: (field) => of(field)?.share ?? null,
    title: (field) => {
      const rate = of(field)
      return rate ? rateText(rate, 'views in which it was used') : 'On this page no form was ever sent.'
    },
    numeric: true,
  }
}

function FormTable({ form: { page, views, started, sent, fields } }: { form: Form }) {
  const { setSelection } = useSelection()
  const hardest = fields.reduce<FormField | undefined>(
    (worst, field) => ((field.givenUp?.hits ?? 0) > (worst?.givenUp?.hits ?? 0) ? field : worst),
    undefined,
  )
  const columns: DataColumn<FormField>[] = [
    {
      id: 'field',
      head: 'Field',
      value: ({ text, selector }) => elementName(text, selector),
      title: ({ selector }) => selector,
      opens: true,
      least: 170,
    },
    {
      id: 'reached',
      head: `Used, of ${count(started.hits)}`,
      ...shareCells(({ reached }) => reached),
      title: ({ reached }) => rateText(reached, 'views in which a field was used'),
      width: 128,
    },
    rateColumn('filled', 'Filled', 3),
    rateColumn('empty', 'Left empty', 2),
    rateColumn('again', 'Returned to', 4),
    rateColumn('corrected', 'Corrected', 1),
    {
      id: 'time',
      head: 'Time in it',
      cell: ({ medianMs }) => (medianMs === null ? 'not known' : duration(medianMs)),
      value: ({ medianMs }) => medianMs,
      title: () => 'Half of the views took longer',
      numeric: true,
      width: 92,
      folds: 5,
    },
    { id: 'given up', head: 'Given up here', ...shareCells(({ givenUp }) => givenUp), width: 124 },
  ]
  return (
    <section aria-label={`Fields of ${page}`}>
      <h2 className="truncate">{page}</h2>
      <p className="mb-1 text-ink-soft">
        Begun in {rateText(started, views === 1 ? 'view' : 'views')}
        {sent ? `, sent in ${rateText(sent)}` : '; whether it was sent is not measured'}.
        {hardest?.givenUp &&
          ` Given up most often at ${elementName(hardest.text, hardest.selector)}: ${plural(hardest.givenUp.hits, 'view')}.`}
      </p>
      <div className="overflow-auto rounded-md border border-line bg-sheet">
        <DataTable
          name="form-fields"
          label={`Fields of ${page}`}
          rows={fields}
          columns={columns}
          rowKey={({ selector }) => selector}
          openTitle="Open the sessions that used this field, each at its moment"
          open={({ text, selector }) =>
            setSelection(
              atEvent(`Used ${elementName(text, selector)}, ${page}`, {
                kinds: ['input'],
                page: { is: 'equal', to: page },
                element: { is: 'equal', to: selector },
              }),
            )
          }
        />
      </div>
    </section>
  )
}
