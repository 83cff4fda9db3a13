import type { Lens, Level, PatternRow, Selection } from '@dust-trail/core'
import { pageGoal, questions, tokenWords } from '@dust-trail/core'
import { useState } from 'react'
import type { z } from 'zod'
import { useSegments } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { segmentCondition } from '../../lens/segments.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useKeptTables } from '../../trail/view.tsx'
import { Answered, TABLE_BOX } from '../../ui/answered.tsx'
import { Select } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { pText, rangeText, verdictOf } from '../../ui/difference.tsx'
import { count, percent, plural, points } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import { useTokenNames } from '../../words/token-names.ts'

const LEVELS: readonly (readonly [Level, string])[] = [
  ['page', 'pages'],
  ['element', 'pages and what is done on them'],
]
const SUPPORTS = [0.01, 0.02, 0.05, 0.1, 0.2] as const
const GAPS = [
  ['', 'anything in between'],
  ['0', 'nothing in between'],
  ['1', 'at most 1 in between'],
  ['2', 'at most 2 in between'],
  ['5', 'at most 5 in between'],
] as const

/** Sequences that many of a set share, and by which it can be told from another. */
export function Patterns({
  lens,
  selection,
  kept = selection,
}: {
  lens: Lens
  selection: Selection
  /** what the selection is through the lens of the view, where that is another */
  kept?: Selection
}) {
  const site = useSite()
  const segments = useSegments(site.key)
  const { setSelection } = useSelection()
  const nameOf = useTokenNames()
  const [level, setLevel] = useState<Level>('page')
  const [support, setSupport] = useState(0.05)
  const [gap, setGap] = useState('')
  const [against, setAgainst] = useState('')
  const goal = site.goals[0] ?? (site.goal ? pageGoal(site.goal) : undefined)
  const isHeld = against !== ''
  const askedOf = (whom: Selection): z.input<typeof questions.patterns.asked> => {
    const options = {
      ...{ level, support, gap: gap === '' ? null : Number(gap) },
      order: isHeld ? ('difference' as const) : ('support' as const),
    }
    const reached = goal && { type: 'event' as const, event: goal.event }
    // Everyone has nobody to be told from: those who reach the goal are held against those who do not.
    if (against === 'goal' && reached)
      return {
        ...options,
        selection: together(whom, reached),
        against: together(whom, { type: 'not', of: reached }),
      }
    const other = segments.data?.find(({ id }) => String(id) === against)
    const condition = other && segmentCondition(other, segments.data ?? [])
    return { ...options, selection: whom, ...(condition && { against: { type: 'where', condition } }) }
  }
  const answer = useQuestion(questions.patterns, lens, askedOf(selection))
  useKeptTables([
    keptTable(questions.patterns, 'Patterns', askedOf(kept), [
      ['pattern', 'In this order'],
      ['selected.share', isHeld ? 'Of the selection' : 'Share', 'percent'],
      ['selected.hits', 'Sessions', 'count'],
      ...(isHeld
        ? ([
            ['against.share', 'Of the others', 'percent'],
            ['difference', 'Difference', 'percent'],
          ] as const)
        : []),
    ]),
  ])
  const { data } = answer
  const columns: DataColumn<PatternRow>[] = [
    {
      id: 'pattern',
      head: 'In this order',
      cell: ({ tokens }) => tokens.map(nameOf).join(' → '),
      value: ({ tokens }) => tokens.map(tokenWords).join(' → '),
      opens: true,
      least: 320,
    },
    {
      id: 'length',
      head: 'Things',
      value: ({ tokens }) => tokens.length,
      numeric: true,
      width: 76,
      folds: 2,
    },
    {
      id: 'sessions',
      head: isHeld ? 'Of the selection' : 'Sessions',
      cell: ({ selected }) => `${percent(selected.share)} · ${count(selected.hits)}`,
      value: ({ selected }) => selected.share,
      title: ({ selected }) => `${count(selected.hits)} of ${count(selected.base)} sessions`,
      numeric: true,
      width: 136,
    },
    ...(isHeld
      ? ([
          {
            id: 'others',
            head: 'Of the others',
            cell: ({ against: own }) => `${percent(own.share)} · ${count(own.hits)}`,
            value: ({ against: own }) => own.share,
            numeric: true,
            width: 136,
          },
          {
            id: 'difference',
            head: 'Difference',
            cell: (row) => (
              <span
                className={
                  verdictOf(row.difference, row.interval, row.p) === 'cannot tell' ? '' : 'font-semibold'
                }
              >
                {row.difference === null ? '–' : points(row.difference)}
              </span>
            ),
            value: ({ difference }) => difference,
            title: ({ interval }) => `95 % between ${rangeText(interval)}`,
            numeric: true,
            width: 104,
          },
          {
            id: 'p',
            head: 'p, corrected',
            cell: ({ p }) => pText(p),
            value: ({ p }) => p,
            numeric: true,
            width: 104,
            folds: 1,
          },
        ] satisfies DataColumn<PatternRow>[])
      : []),
  ]
  return (
    <section aria-label="Patterns" className="space-y-2">
      <div className="flex flex-wrap items-center gap-2">
        <Select
          aria-label="Events told apart by"
          value={level}
          onChange={({ target }) => setLevel(target.value as Level)}
        >
          {LEVELS.map(([of, words]) => (
            <option key={of} value={of}>
              {words}
            </option>
          ))}
        </Select>
        <Select
          aria-label="Held by at least"
          value={String(support)}
          onChange={({ target }) => setSupport(Number(target.value))}
        >
          {SUPPORTS.map((share) => (
            <option key={share} value={share}>
              held by {percent(share)} and more
            </option>
          ))}
        </Select>
        <Select aria-label="In between" value={gap} onChange={({ target }) => setGap(target.value)}>
          {GAPS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </Select>
        <Select
          aria-label="Told apart from"
          value={against}
          onChange={({ target }) => setAgainst(target.value)}
        >
          <option value="">what many share</option>
          {goal && <option value="goal">those who reach {goal.name} against those who do not</option>}
          {segments.data
            ?.filter((one) => segmentCondition(one, segments.data))
            .map(({ id, name }) => (
              <option key={id} value={id}>
                against “{name}”
              </option>
            ))}
        </Select>
      </div>
      <Answered answer={answer} className={TABLE_BOX}>
        {(data) =>
          data.patterns.length ? (
            <DataTable
              name="patterns"
              label="Patterns"
              rows={data.patterns}
              columns={columns}
              rowKey={({ tokens }) => tokens.map(tokenWords).join('\n')}
              openTitle="Open the sessions that did this, each where it was complete"
              open={({ tokens }) =>
                setSelection({ type: 'pattern', level, tokens, gap: gap === '' ? null : Number(gap) })
              }
            />
          ) : (
            <Empty title="Nothing is shared by so many">Ask for a smaller share.</Empty>
          )
        }
      </Answered>
      {data && (
        <p className="text-xs text-ink-soft">
          {plural(data.sessions, 'session')}
          {isHeld ? ` against ${count(data.against)}` : ''}. Each session counts once for a pattern; equal
          things one after another are one; a pattern of which a longer one has just the same sessions is not
          listed.
          {data.more > 0 && ` ${plural(data.more, 'further pattern')} are not listed.`}
          {!data.complete && ' There are more than could be looked at: ask for a larger share.'}
        </p>
      )}
    </section>
  )
}

/** Of a selection those for whom a condition holds. */
function together(selection: Selection, condition: Parameters<typeof all>[0]): Selection {
  return {
    type: 'where',
    condition: selection.type === 'everyone' ? condition : all(condition, { type: 'selected', selection }),
  }
}

function all(...of: Extract<Extract<Selection, { type: 'where' }>['condition'], { type: 'all' }>['of']) {
  return { type: 'all' as const, of }
}
