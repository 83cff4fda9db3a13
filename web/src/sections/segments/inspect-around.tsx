import { questions, type Token, type Lens, tokenWords, tokenCondition } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../../api/use-question.ts'
import { Select } from '../../ui/controls.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { useTokenNames } from '../../words/token-names.ts'

/** What comes directly before and after something that happens. */
export function Around({ lens }: { lens: Lens }) {
  const happens = useQuestion(questions.contents, lens, { selection: EVERYONE, level: 'element' })
  const met = [...(happens.data?.contents ?? [])].sort((a, b) => b.selected.hits - a.selected.hits)
  const pages = met.filter(({ kind }) => kind === 'page')
  const done = met.filter(({ kind }) => kind !== 'page').slice(0, MOST_AROUND)
  const [chosen, setChosen] = useState('')
  const nameOf = useTokenNames()
  const token = [...pages, ...done].find((one) => tokenWords(one) === chosen) ?? pages[0] ?? done[0]
  if (happens.error) return <Failure error={happens.error} retry={() => void happens.refetch()} />
  if (!token)
    return happens.data ? <Empty title="Nothing happened here">Choose other dates.</Empty> : <Loading />
  return (
    <div>
      <Select
        aria-label="Around what"
        className="w-96"
        value={tokenWords(token)}
        onChange={(event) => setChosen(event.target.value)}
      >
        {(
          [
            ['Pages', pages],
            ['What is done', done],
          ] as const
        ).map(([label, tokens]) => (
          <optgroup key={label} label={label}>
            {tokens.map((one) => (
              <option key={tokenWords(one)} value={tokenWords(one)}>
                {nameOf(one)} ({plural(one.selected.hits, 'session')})
              </option>
            ))}
          </optgroup>
        ))}
      </Select>
      <div className="mt-2 grid gap-6 xl:grid-cols-2">
        {(['back', 'onward'] as const).map((direction) => (
          <Neighbours key={direction} lens={lens} token={token} direction={direction} />
        ))}
      </div>
    </div>
  )
}

function Neighbours({ lens, token, direction }: { lens: Lens; token: Token; direction: 'back' | 'onward' }) {
  const nameOf = useTokenNames()
  // The sessions that did it, each at the first time.
  const step = { type: 'event' as const, name: tokenWords(token), event: tokenCondition(token) }
  const answer = useQuestion(questions.paths, lens, {
    selection: { type: 'funnel', steps: [step], step: 0, side: 'reached' },
    options: { direction, depth: 1, of: 'pages and clicks' },
  })
  const { data } = answer
  const plain = (words: string) => ({ words, exact: words })
  const named = (one: Token) => ({ words: nameOf(one), exact: tokenWords(one) })
  const rows = data
    ? [
        ...data.next.map((node) => ({
          ...named({
            kind: node.kind === 'click' ? 'click' : 'page',
            page: node.page,
            what: node.selector ?? '',
          }),
          n: node.sessions,
        })),
        { ...plain(direction === 'back' ? '(began there)' : '(ended there)'), n: data.ended },
      ].sort((a, b) => b.n - a.n)
    : []
  return (
    <section aria-label={direction === 'back' ? 'Directly before' : 'Directly after'}>
      <h2>{direction === 'back' ? 'Directly before' : 'Directly after'} the first time</h2>
      {!data && <Loading rows={3} />}
      <DataTable
        name={`directly-${direction}`}
        className="rounded-md border border-line bg-sheet"
        rows={rows.slice(0, 15)}
        columns={[
          { id: 'what', head: 'What', cell: ({ words }) => words, value: ({ exact }) => exact },
          {
            id: 'sessions',
            head: 'Sessions',
            cell: ({ n }) => `${percent(data?.sessions ? n / data.sessions : null)} · ${count(n)}`,
            value: ({ n }) => n,
            numeric: true,
            width: 140,
          },
        ]}
        rowKey={({ exact }) => exact}
      />
      {data && <p className="px-2.5 text-ink-soft">of {count(data.sessions)} sessions that did it</p>}
    </section>
  )
}

/** So many things that are done are there to choose: the most frequent ones. */
const MOST_AROUND = 150
