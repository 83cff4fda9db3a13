import { questions, type SessionNumber, type Lens } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../../api/use-question.ts'
import { Select } from '../../ui/controls.tsx'
import { count, duration } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { NUMBER_WORDS } from '../../words/sentences.ts'

export function HowMuch({ lens }: { lens: Lens }) {
  const [measure, setMeasure] = useState<SessionNumber>('duration')
  const answer = useQuestion(questions.distribution, lens, {
    selection: EVERYONE,
    options: { measure, quantiles: [0.05, 0.25, 0.5, 0.75, 0.95], bins: 40 },
  })
  const found = answer.data?.values[0]
  const show = (n: number | null) =>
    n === null ? '–' : measure === 'duration' ? duration(n) : count(Math.round(n * 100) / 100)
  const most = Math.max(1, ...(found?.histogram ?? [1]))
  return (
    <div>
      <Select
        aria-label="Measure"
        className="w-48"
        value={measure}
        onChange={(event) => setMeasure(event.target.value as SessionNumber)}
      >
        {MEASURES.map((one) => (
          <option key={one} value={one}>
            {NUMBER_WORDS[one]}
          </option>
        ))}
      </Select>
      {answer.error && <Failure error={answer.error} />}
      {found && answer.data && (
        <>
          <p className="mt-2">
            Half of {count(found.known)} sessions lie between <b>{show(found.quantiles[1] ?? null)}</b> and{' '}
            <b>{show(found.quantiles[3] ?? null)}</b>; median <b>{show(found.quantiles[2] ?? null)}</b>, mean{' '}
            {show(found.mean)}, one in twenty above {show(found.quantiles[4] ?? null)}.
          </p>
          <div
            className="mt-2 flex h-40 items-end gap-px border-b border-line"
            role="img"
            aria-label={`Histogram of ${NUMBER_WORDS[measure]}`}
          >
            {found.histogram.map((n, k) => (
              <div
                key={k}
                className="min-w-1 flex-1 bg-stone"
                style={{ height: `${(n / most) * 100}%` }}
                title={`${show(answer.data.edges[k]!)} to ${show(answer.data.edges[k + 1]!)}: ${count(n)} sessions`}
              />
            ))}
          </div>
          <div className="flex justify-between text-ink-soft">
            <span>{show(answer.data.edges[0] ?? null)}</span>
            <span>{show(answer.data.edges[answer.data.edges.length - 1] ?? null)}</span>
          </div>
        </>
      )}
    </div>
  )
}

const MEASURES: readonly SessionNumber[] = ['duration', 'pages', 'clicks', 'signals', 'value']
