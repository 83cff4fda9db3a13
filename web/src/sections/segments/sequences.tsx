import type { Lens, Level, Selection, Token } from '@dust-trail/core'
import { folded, questions, tokenWords } from '@dust-trail/core'
import { clsx } from 'clsx'
import { useState } from 'react'
import { useQuestion } from '../../api/use-question.ts'
import { CheckBox } from '../../ui/check-box.tsx'
import { Button } from '../../ui/controls.tsx'
import { count, plural } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { useTokenNames } from '../../words/token-names.ts'
import type { Stretch } from './sequence-lines.tsx'
import { Legend, Lines } from './sequence-lines.tsx'

const LEVEL_WORDS: readonly (readonly [Level, string])[] = [
  ['page', 'Pages'],
  ['element', 'Pages and what is done on them'],
  ['kind', 'Kinds'],
]

/** What sessions did, one line each, one mark an event; a stretch of a line can be chosen and cut by. */
export function Sequences({
  lens,
  selection,
  cut,
}: {
  lens: Lens
  selection: Selection
  /** what to do with a stretch */
  cut: (pattern: Token[], how: 'directly' | 'later', what: 'with' | 'without' | 'funnel' | 'nodes') => void
}) {
  const [level, setLevel] = useState<Level>('page')
  const [fold, setFold] = useState(true)
  const [how, setHow] = useState<'directly' | 'later'>('directly')
  const [stretch, setStretch] = useState<Stretch | null>(null)
  const nameOf = useTokenNames()
  const answer = useQuestion(questions.sequences, lens, { selection, options: { level } })
  const { data } = answer
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!data) return <Loading />
  if (!data.total) return <Empty title="No sessions here">Choose other dates, or another segment.</Empty>
  const lines = data.sequences.map(({ tokens }) =>
    fold ? folded(tokens) : tokens.map((token, from) => ({ token, from, count: 1 })),
  )
  const pattern = stretch
    ? lines[stretch.row]!.slice(stretch.from, stretch.to + 1).map(({ token }) => data.tokens[token]!)
    : []
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      <div className="flex flex-wrap items-center gap-2">
        <RadioGroup
          label="Events told apart by"
          value={level}
          options={LEVEL_WORDS}
          onChange={(next) => {
            setLevel(next)
            setStretch(null)
          }}
        />
        <CheckBox
          checked={fold}
          onChange={(next) => {
            setFold(next)
            setStretch(null)
          }}
        >
          Fold runs
        </CheckBox>
        <span className="text-ink-soft">
          {data.total > data.sequences.length
            ? `The newest ${count(data.sequences.length)} of ${plural(data.total, 'session')}.`
            : plural(data.total, 'session')}{' '}
          Drag over marks (or click one, then Shift-click another) to choose a stretch.
        </span>
      </div>
      <div
        role="region"
        aria-label="Chosen stretch"
        className={clsx(
          'flex min-h-8 flex-wrap items-center gap-2 rounded-md px-2',
          pattern.length && 'bg-ochre-soft',
        )}
      >
        {pattern.length ? (
          <>
            <span
              className="min-w-0 max-w-[50%] truncate font-semibold text-ochre-text"
              title={pattern.map(tokenWords).join(' → ')}
            >
              {pattern.map(nameOf).join(' → ')}
            </span>
            <RadioGroup
              label="How they follow"
              value={how}
              options={[
                ['directly', 'directly'],
                ['later', 'or later'],
              ]}
              onChange={setHow}
            />
            <Button onClick={() => cut(pattern, how, 'with')}>Cut: only with it</Button>
            <Button onClick={() => cut(pattern, how, 'without')}>Cut: only without it</Button>
            <Button look="primary" disabled={pattern.length > 8} onClick={() => cut(pattern, how, 'funnel')}>
              As funnel
            </Button>
            <Button disabled={pattern.length > 8} onClick={() => cut(pattern, how, 'nodes')}>
              Each beginning as a segment
            </Button>
          </>
        ) : (
          <span className="text-ink-soft">No stretch is chosen.</span>
        )}
      </div>
      <Lines data={data} lines={lines} stretch={stretch} setStretch={setStretch} />
      <Legend tokens={data.tokens} />
    </div>
  )
}
