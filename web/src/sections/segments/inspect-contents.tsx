import type { AnswerOf, Lens, Level, Selection, Token } from '@dust-trail/core'
import { questions, tokenWords } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../../api/use-question.ts'
import { shareText } from '../../closeup/contrast-columns.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useKeptTables } from '../../trail/view.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { rangeText, verdictOf } from '../../ui/difference.tsx'
import { count, points } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { RateBar } from '../../ui/rate-bar.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { useTokenNames } from '../../words/token-names.ts'

export function Happens({
  lens,
  selection,
  parentName,
  kept,
  cut,
  drop,
}: {
  lens: Lens
  selection: Selection
  parentName: string
  /** the same sessions through the lens of the view */
  kept: Selection
  cut: (token: Token) => void
  drop: (token: Token) => void
}) {
  const [level, setLevel] = useState<Level>('page')
  const answer = useQuestion(questions.contents, lens, { selection, level })
  const { data } = answer
  useKeptTables([
    keptTable(questions.contents, 'What happens', { selection: kept, level }, [
      ['kind', 'Kind'],
      ['page', 'Page'],
      ['what', 'What'],
      ['selected.share', 'Of these', 'percent'],
      ['selected.hits', 'Sessions', 'count'],
      ['difference', 'Difference', 'percent'],
    ]),
  ])
  const nameOf = useTokenNames()
  const columns: DataColumn<ContentRow>[] = [
    { id: 'what', head: 'What', cell: (row) => nameOf(row), value: (row) => tokenWords(row) },
    {
      id: 'selected',
      head: `Of these ${count(data?.sessions ?? 0)}`,
      cell: ({ selected }) => shareText(selected),
      value: ({ selected }) => selected.share,
      numeric: true,
      width: 140,
    },
    {
      id: 'share of these',
      head: '',
      words: '',
      cell: ({ selected }) => <RateBar rate={selected} />,
      width: 120,
      folds: 2,
    },
    { id: 'times', head: 'Times', value: ({ events }) => events, numeric: true, width: 80, folds: 1 },
    ...(data && data.against > 0 ? againstOthers(data.against, parentName) : []),
    {
      id: 'cut',
      head: '',
      words: '',
      cell: (row) => (
        <>
          <LinkButton onClick={() => cut(row)}>Cut</LinkButton>
          <LinkButton className="ml-3" title="Count as if it had never happened" onClick={() => drop(row)}>
            As noise
          </LinkButton>
        </>
      ),
      numeric: true,
      width: 116,
    },
  ]
  return (
    <div>
      <RadioGroup
        label="Events told apart by"
        value={level}
        options={[
          ['page', 'Pages'],
          ['element', 'What is done on them'],
          ['kind', 'Kinds'],
        ]}
        onChange={setLevel}
      />
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {!data && <Loading />}
      {data && (
        <DataTable
          name="what-happens"
          label="What happens"
          className="mt-2 rounded-md border border-line bg-sheet"
          rows={data.contents.slice(0, MOST_CONTENTS)}
          columns={columns}
          rowKey={(row) => `${row.kind}/${row.page}/${row.what}`}
        />
      )}
    </div>
  )
}

type ContentRow = AnswerOf<typeof questions.contents>['contents'][number]

/** So many things that happen are listed, the largest differences first. */
const MOST_CONTENTS = 100

/** What sets a thing's share beside that among the other sessions. */
function againstOthers(others: number, whose: string): DataColumn<ContentRow>[] {
  const head = `Of the other ${count(others)} in ${whose}`
  return [
    {
      id: 'others',
      head: <span title={head}>{head}</span>,
      words: head,
      cell: ({ against }) => shareText(against),
      value: ({ against }) => against.share,
      numeric: true,
      width: 190,
      folds: 3,
    },
    {
      id: 'difference',
      head: 'Difference',
      cell: ({ difference, interval }) => (
        <>
          {points(difference)}
          {verdictOf(difference, interval) === 'cannot tell' && (
            <span className="text-ink-soft"> cannot tell</span>
          )}
        </>
      ),
      value: ({ difference }) => difference,
      title: ({ difference, interval }) => (difference === null ? '' : rangeText(interval)),
      numeric: true,
      width: 160,
    },
  ]
}
