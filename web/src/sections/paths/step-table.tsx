import type { PathPart, PathStepsAnswer } from '@dust-trail/core'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { percent } from '../../ui/format.ts'
import { placeName } from '../../words/sentences.ts'
import type { Direction } from './use-paths.ts'
import { partOf } from './use-paths.ts'

/** Every place of every step, and every link, one a row. */
export function StepTable({
  steps: answer,
  direction,
  open,
}: {
  steps: PathStepsAnswer
  direction: Direction
  open: (parts: PathPart[], ended?: boolean) => void
}) {
  const entered = answer.sessions
  const rows = answer.steps.flatMap(({ places, links, sessions }, k) => {
    const before = k > 0 ? answer.steps[k - 1]!.places : []
    return [
      ...places.map((place) => ({
        ...{ step: k + 1, from: '', to: placeName(place), sessions: place.sessions, ended: place.ended },
        ...{ of: sessions, parts: [...anywhere(k), partOf(place)] },
      })),
      ...(k > 0 ? links : []).map(({ from, to, sessions: n }) => ({
        ...{
          step: k + 1,
          from: placeName(before[from!]!),
          to: placeName(places[to]!),
          sessions: n,
          ended: null,
        },
        ...{
          of: before[from!]!.sessions,
          parts: [...anywhere(k - 1), partOf(before[from!]!), partOf(places[to]!)],
        },
      })),
    ]
  })
  type Row = (typeof rows)[number]
  const columns: DataColumn<Row>[] = [
    { id: 'step', head: 'Step', value: ({ step }) => step, numeric: true, width: 64 },
    {
      id: 'from',
      head: direction === 'back' ? 'On to' : 'From',
      value: ({ from }) => from || 'any',
      folds: 2,
    },
    { id: 'place', head: 'Place', value: ({ to }) => to, opens: true },
    { id: 'sessions', head: 'Sessions', value: ({ sessions }) => sessions, numeric: true, width: 96 },
    {
      id: 'of all',
      head: 'Of all who entered',
      cell: ({ sessions }) => percent(sessions / entered),
      value: ({ sessions }) => sessions / entered,
      numeric: true,
      width: 140,
    },
    {
      id: 'of those here',
      head: 'Of those who were there before',
      cell: ({ sessions, of }) => percent(sessions / of),
      value: ({ sessions, of }) => sessions / of,
      numeric: true,
      width: 200,
      folds: 1,
    },
    {
      id: 'ended',
      head: direction === 'back' ? 'Began here' : 'Ended here',
      cell: ({ ended, sessions }) => (ended === null ? '' : `${percent(ended / sessions)}`),
      value: ({ ended }) => ended,
      numeric: true,
      width: 110,
    },
  ]
  return (
    <div className="max-h-[28rem] overflow-auto rounded-md border border-line bg-sheet">
      <DataTable
        name="path-steps"
        label="Steps"
        rows={rows}
        columns={columns}
        rowKey={({ step, from, to }) => `${step}\n${from}\n${to}`}
        open={({ parts }) => open(parts)}
      />
    </div>
  )
}

const anywhere = (steps: number): PathPart[] => new Array<null>(Math.max(0, steps)).fill(null)
