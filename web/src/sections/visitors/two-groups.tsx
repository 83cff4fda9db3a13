import type { AnswerOf, Selection } from '@dust-trail/core'
import { pageGoal, questions } from '@dust-trail/core'
import { useState } from 'react'
import { z } from 'zod'
import { useSegments } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { segmentCondition } from '../../lens/segments.ts'
import { CheckBox } from '../../ui/check-box.tsx'
import { Select } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { rangeText, verdictOf } from '../../ui/difference.tsx'
import { count, percent, points } from '../../ui/format.ts'
import { Failure, Loading } from '../../ui/states.tsx'
import { useTokenNames } from '../../words/token-names.ts'
import { patternOf } from './pattern-of.ts'

type Content = AnswerOf<typeof questions.contents>['contents'][number]
const CHOICE = z.string()

/** What the ones do that the others do not: who reaches the goal and who does not, or any two segments. */
export function TwoGroups() {
  const site = useSite()
  const { lens } = useLens()
  const segments = useSegments(site.key)
  const { setSelection } = useSelection()
  const nameOf = useTokenNames()
  const [a, setA] = useAddressValue('ones', CHOICE, { replace: true })
  const [b, setB] = useAddressValue('others', CHOICE, { replace: true })
  const [sureOnly, setSureOnly] = useState(true)
  const goal = site.goals[0] ?? (site.goal ? pageGoal(site.goal) : undefined)
  const groups = [
    ...(goal
      ? [
          {
            id: 'goal',
            name: `who reach ${goal.name}`,
            condition: { type: 'event' as const, event: goal.event },
          },
        ]
      : []),
    ...(segments.data ?? []).flatMap((one) => {
      const condition = segmentCondition(one, segments.data ?? [])
      return condition ? [{ id: String(one.id), name: `of “${one.name}”`, condition }] : []
    }),
  ]
  const ones = groups.find(({ id }) => id === a) ?? groups[0]
  const others = groups.find(({ id }) => id === b)
  const selection: Selection | undefined = ones && { type: 'where', condition: ones.condition }
  const answer = useQuestion(questions.contents, selection ? lens : null, {
    selection: selection ?? { type: 'everyone' },
    level: 'element',
    ...(others && { against: { type: 'where', condition: others.condition } }),
  })
  if (!ones) return null
  const { data } = answer
  const rows = (data?.contents ?? []).filter(
    ({ difference, interval }) => !sureOnly || verdictOf(difference, interval) !== 'cannot tell',
  )
  const columns: DataColumn<Content>[] = [
    { id: 'what', head: 'What they do', value: (row) => nameOf(row), opens: true, least: 260 },
    {
      id: 'ones',
      head: 'The ones',
      cell: ({ selected }) => `${percent(selected.share)} of ${count(selected.base)}`,
      value: ({ selected }) => selected.share,
      numeric: true,
      width: 150,
    },
    {
      id: 'others',
      head: 'The others',
      cell: ({ against }) => `${percent(against.share)} of ${count(against.base)}`,
      value: ({ against }) => against.share,
      numeric: true,
      width: 150,
    },
    {
      id: 'difference',
      head: 'Difference',
      cell: ({ difference }) => points(difference),
      value: ({ difference }) => difference,
      numeric: true,
      width: 104,
    },
    {
      id: 'interval',
      head: '95 % interval',
      cell: ({ interval }) => rangeText(interval),
      value: ({ interval }) => interval[0],
      numeric: true,
      width: 190,
      folds: 1,
    },
  ]
  return (
    <section aria-label="Two groups" className="space-y-2 pt-3">
      <h2>What the ones do that the others do not</h2>
      <div className="flex flex-wrap items-center gap-2">
        Sessions
        <Select aria-label="The ones" value={ones.id} onChange={({ target }) => setA(target.value)}>
          {groups.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
        against
        <Select
          aria-label="The others"
          value={others?.id ?? ''}
          onChange={({ target }) => setB(target.value || null)}
        >
          <option value="">all others</option>
          {groups.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Select>
        <CheckBox checked={sureOnly} onChange={setSureOnly}>
          more than chance only
        </CheckBox>
      </div>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && !answer.error && <Loading rows={4} />}
      {data && (
        <div className="max-h-[26rem] overflow-auto rounded-md border border-line bg-sheet">
          <DataTable
            name="two-groups"
            label="Two groups"
            rows={rows}
            columns={columns}
            rowKey={(row) => `${row.kind}\n${row.page}\n${row.what}`}
            open={(row) => setSelection(patternOf(row))}
          />
        </div>
      )}
    </section>
  )
}
