import type { ErrorGroup } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Answered, TABLE_BOX } from '../../ui/answered.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, moment, percent, plural } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import { atEvent } from '../../words/selections.ts'
import { errorWords } from '../../words/sentences.ts'
import { FrictionViews } from './friction-views.tsx'

type Values = ErrorGroup['browsers']

const nameOf = (value: string) => value || 'not known'
/** The most frequent value, and how many others there are. */
const inShort = ([first, ...others]: Values) =>
  first ? `${nameOf(first.value)}${others.length ? ` +${others.length}` : ''}` : '–'
const inFull = (values: Values) =>
  values.map(({ value, sessions }) => `${nameOf(value)}: ${plural(sessions, 'session')}`).join('\n')

/** Script errors, each fault once, those that met most first. */
export function ErrorsPage() {
  const site = useSite()
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const answer = useQuestion(questions.errors, lens, {})
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: { type: 'everyone' } },
    tables: [
      keptTable(questions.errors, 'Errors', {}, [
        ['message', 'Message'],
        ['met.share', 'Met it', 'percent'],
        ['met.hits', 'Sessions', 'count'],
        ['times', 'Times', 'count'],
        ['firstMs', 'First seen', 'moment'],
        ['lastMs', 'Last seen', 'moment'],
      ]),
    ],
  })
  const { data } = answer
  const values = (id: 'pages' | 'browsers' | 'releases', head: string, width: number, folds: number) => ({
    ...{ id, head, width, folds },
    cell: (row: ErrorGroup) => inShort(row[id]),
    value: (row: ErrorGroup) => row[id][0]?.value ?? '',
    title: (row: ErrorGroup) => inFull(row[id]),
  })
  const columns: DataColumn<ErrorGroup>[] = [
    {
      id: 'message',
      head: 'Error',
      value: ({ message }) => message || 'without a message',
      title: ({ example }) => example,
      opens: true,
      least: 220,
    },
    {
      id: 'place',
      head: 'Where in the code',
      value: ({ place }) => place || 'not known',
      className: 'font-mono text-xs text-ink-soft',
      width: 210,
      folds: 5,
    },
    values('pages', 'Pages', 150, 4),
    {
      id: 'sessions',
      head: 'Sessions',
      cell: ({ met }) => `${count(met.hits)} · ${percent(met.share)}`,
      value: ({ met }) => met.hits,
      title: ({ met, visitors }) =>
        `${count(met.hits)} of ${count(met.base)} sessions, ${plural(visitors, 'visitor')}`,
      numeric: true,
      width: 112,
    },
    { id: 'times', head: 'Times', value: ({ times }) => times, numeric: true, width: 72, folds: 2 },
    values('browsers', 'Browsers', 120, 3),
    values('releases', 'Releases', 110, 6),
    {
      id: 'first',
      head: 'First',
      cell: ({ firstMs }) => moment(firstMs, site.timeZone),
      value: ({ firstMs }) => firstMs,
      numeric: true,
      width: 112,
    },
    {
      id: 'last',
      head: 'Last',
      cell: ({ lastMs }) => moment(lastMs, site.timeZone),
      value: ({ lastMs }) => lastMs,
      numeric: true,
      width: 112,
      folds: 1,
    },
  ]
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>Errors</h1>
          <p className="text-ink-soft">
            {data
              ? `${plural(data.errors.length + data.more, 'fault')} of scripts in ${plural(data.sessions, 'session')}. Messages that differ only in numbers, addresses and what they quote are one.`
              : 'Which scripts fail, for whom, and since when?'}
          </p>
        </div>
        <FrictionViews />
      </header>
      <Answered answer={answer} className={TABLE_BOX}>
        {(data) =>
          data.errors.length ? (
            <DataTable
              name="errors"
              label="Errors"
              rows={data.errors}
              columns={columns}
              rowKey={({ message, place }) => `${message}\n${place}`}
              openTitle="Open the sessions that met this error, each at its moment"
              open={({ message, place }) =>
                setSelection(atEvent(errorWords({ message, place }), { error: { message, place } }))
              }
            />
          ) : (
            <Empty title="No script failed in the lens">
              Choose other dates; errors come with the script, or as lines of the kind “error”.
            </Empty>
          )
        }
      </Answered>
      {data && data.more > 0 && (
        <p className="text-xs text-ink-soft">{plural(data.more, 'further fault')} met fewer sessions.</p>
      )}
    </div>
  )
}
