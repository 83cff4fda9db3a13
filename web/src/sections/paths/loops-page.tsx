import type { LoopRow } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { goalName, useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Answered, TABLE_BOX } from '../../ui/answered.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, duration, percent, plural } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { PathViews } from './path-views.tsx'

/** Who goes to and fro between two pages, or round and round, what time it takes, and what became of them. */
export function LoopsPage() {
  const site = useSite()
  const { lens } = useLens()
  const { setSelection } = useSelection()
  const answer = useQuestion(questions.loops, lens, {})
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: EVERYONE },
    tables: [
      keptTable(questions.loops, 'Loops', {}, [
        ['pages', 'Pages'],
        ['met.share', 'Met it', 'percent'],
        ['met.hits', 'Sessions', 'count'],
        ['rounds', 'Rounds', 'decimal'],
        ['lostSeconds.median', 'Lost, s', 'decimal'],
        ['converted.share', 'Converted', 'percent'],
      ]),
    ],
  })
  const { data } = answer
  const goal = goalName(site)
  const columns: DataColumn<LoopRow>[] = [
    {
      id: 'pages',
      head: 'Pages',
      cell: ({ pages }) => pages.join(pages.length === 2 ? ' ⇄ ' : ' → '),
      value: ({ pages }) => pages.join(' → '),
      opens: true,
      least: 260,
    },
    {
      id: 'kind',
      head: 'Kind',
      value: ({ pages }) => (pages.length === 2 ? 'shuttle' : `round of ${pages.length}`),
      width: 100,
      folds: 2,
    },
    {
      id: 'sessions',
      head: 'Sessions',
      cell: ({ met }) => `${count(met.hits)} · ${percent(met.share)}`,
      value: ({ met }) => met.hits,
      title: ({ met }) => `${count(met.hits)} of ${count(met.base)} sessions`,
      numeric: true,
      width: 124,
    },
    {
      id: 'rounds',
      head: 'Rounds each',
      cell: ({ rounds }) => rounds.toFixed(1),
      value: ({ rounds }) => rounds,
      numeric: true,
      width: 104,
      folds: 1,
    },
    {
      id: 'time',
      head: 'Time it took',
      cell: ({ lostSeconds }) => duration(lostSeconds.median * 1000),
      value: ({ lostSeconds }) => lostSeconds.median,
      title: ({ lostSeconds }) => `median of each time; ${duration(lostSeconds.sum * 1000)} in all`,
      numeric: true,
      width: 116,
    },
    {
      id: 'time in all',
      head: 'In all',
      cell: ({ lostSeconds }) => duration(lostSeconds.sum * 1000),
      value: ({ lostSeconds }) => lostSeconds.sum,
      numeric: true,
      width: 104,
      folds: 3,
    },
    {
      id: 'ended',
      head: 'Ended in it',
      cell: ({ ended }) => `${percent(ended.share)} · ${count(ended.hits)}`,
      value: ({ ended }) => ended.share,
      numeric: true,
      width: 118,
    },
    ...(goal
      ? [
          {
            id: 'converted',
            head: `${goal} after it`,
            cell: ({ converted }) => `${percent(converted.share)} of ${count(converted.base)}`,
            value: ({ converted }) => converted.share,
            numeric: true,
            width: 150,
          } satisfies DataColumn<LoopRow>,
        ]
      : []),
  ]
  const [first] = data?.loops ?? []
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>To and fro</h1>
          <p className="text-ink-soft">
            {data
              ? first
                ? `${count(first.met.hits)} of ${plural(first.met.base, 'session')} went ${first.pages.length === 2 ? `to and fro between ${first.pages.join(' and ')}` : `round ${first.pages.join(', ')}`}, for ${duration(first.lostSeconds.median * 1000)} at the median.`
                : `Nobody went to and fro in ${plural(data.sessions, 'session')}.`
              : 'Pages that people go through again and again in the same order.'}
          </p>
        </div>
        <PathViews />
      </header>
      <Answered answer={answer} className={TABLE_BOX}>
        {(data) =>
          data.loops.length ? (
            <DataTable
              name="loops"
              label="Shuttles and rounds"
              rows={data.loops}
              columns={columns}
              rowKey={({ pages }) => pages.join('\n')}
              openTitle="Open the sessions, each where the second round begins"
              open={({ pages }) => setSelection({ type: 'loop', pages })}
            />
          ) : (
            <Empty title="Nobody went to and fro">Choose other dates, or a wider lens.</Empty>
          )
        }
      </Answered>
      <p className="text-xs text-ink-soft">
        Two to five pages in the same order at least twice, wherever the round was entered; views of one page
        after another are one. Time runs from where the second round begins to the last view of it.
        {data &&
          goal &&
          ` Of all sessions, ${percent(data.converted.share)} of ${count(data.converted.base)} reached ${goal}.`}
        {data && data.more > 0 && ` ${plural(data.more, 'rarer loop')} are not listed.`}
      </p>
    </div>
  )
}
