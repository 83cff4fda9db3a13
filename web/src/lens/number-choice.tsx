import type { Condition, NumberTest, SessionNumber } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { useState } from 'react'
import { useQuestion } from '../api/use-question.ts'
import { useLens } from '../app/lens.ts'
import { Button, inputLook, Select } from '../ui/controls.tsx'
import { count, duration } from '../ui/format.ts'
import { SizeOf } from './size-of.tsx'

const HOWS: Record<NumberTest['is'], string> = {
  equal: 'is',
  'not equal': 'is not',
  'at least': 'at least',
  'at most': 'at most',
  'more than': 'more than',
  'less than': 'less than',
  between: 'between',
}

/** A condition on what can be counted or measured of a session, beside how it lies in the lens. */
export function NumberChoice({ of, add }: { of: SessionNumber; add: (condition: Condition) => void }) {
  const [is, setIs] = useState<NumberTest['is']>('at least')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const test = testFrom(is, from, to, of === 'duration' ? 1000 : 1)
  const reversed = is === 'between' && from !== '' && to !== '' && !test
  const condition: Condition | undefined = test && { type: 'number', of, test }
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        if (condition) add(condition)
      }}
    >
      <Select aria-label="How" value={is} onChange={(event) => setIs(event.target.value as typeof is)}>
        {Object.entries(HOWS).map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </Select>
      <div className="flex items-center gap-2">
        <input
          aria-label={is === 'between' ? 'From' : 'Number'}
          type="number"
          step="any"
          autoFocus
          className={inputLook}
          value={from}
          onChange={(event) => setFrom(event.target.value)}
        />
        {is === 'between' && (
          <>
            and
            <input
              aria-label="To"
              type="number"
              step="any"
              className={inputLook}
              value={to}
              onChange={(event) => setTo(event.target.value)}
            />
          </>
        )}
        {of === 'duration' && 'seconds'}
      </div>
      <Spread of={of} />
      {reversed && (
        <p role="alert" className="text-clay">
          The second number lies below the first.
        </p>
      )}
      <SizeOf condition={condition} missing="Type a number." />
      <Button type="submit" look="primary" disabled={!condition}>
        Add filter
      </Button>
    </form>
  )
}

/** The test that two fields hold; undefined where they hold none. */
export function testFrom(
  is: NumberTest['is'],
  from: string,
  to: string,
  scale: number,
): NumberTest | undefined {
  const [low, high] = [Number(from) * scale, Number(to) * scale]
  if (from === '' || !Number.isFinite(low)) return undefined
  if (is !== 'between') return { is, to: low }
  return to !== '' && Number.isFinite(high) && high >= low ? { is, from: low, to: high } : undefined
}

/** Where sessions lie, so that there is something to go by. */
function Spread({ of }: { of: SessionNumber }) {
  const { lens } = useLens()
  const answer = useQuestion(questions.distribution, lens, {
    selection: { type: 'everyone' },
    options: { measure: of, quantiles: [0.25, 0.5, 0.75], bins: 0 },
  })
  const all = answer.isPlaceholderData ? undefined : answer.data?.values[0]
  if (!all) return <p className="min-h-10 text-ink-soft" />
  const [quarter = null, half = null, threeQuarters = null] = all.quantiles
  if (half === null) return <p className="min-h-10 text-ink-soft">Known of no session in the lens.</p>
  const show = (n: number | null) => (of === 'duration' ? duration(n) : n === null ? '–' : count(n))
  return (
    <p className="min-h-10 text-ink-soft">
      Half of {count(all.known)} sessions lie between {show(quarter)} and {show(threeQuarters)}, the median is{' '}
      {show(half)}; least {show(all.least)}, most {show(all.most)}.
    </p>
  )
}
