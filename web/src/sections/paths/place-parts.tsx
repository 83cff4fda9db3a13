import type { Selection, SessionText } from '@dust-trail/core'
import { questions, SESSION_TEXTS } from '@dust-trail/core'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens } from '../../app/lens.ts'
import { Select } from '../../ui/controls.tsx'
import { count, percent } from '../../ui/format.ts'
import { z } from 'zod'

const BY = z.enum(SESSION_TEXTS)
const MOST = 6

/** Who they are that came this way, by one attribute. */
export function PlaceParts({ selection }: { selection: Selection }) {
  const { lens } = useLens()
  const [chosen, setBy] = useAddressValue('parts', BY, { replace: true })
  const by = chosen ?? 'device'
  const { data } = useQuestion(questions.distribution, lens, {
    selection,
    options: { by, bins: 0, quantiles: [] },
  })
  return (
    <div className="my-1 border-y border-line px-2 py-1.5">
      <label className="flex items-center justify-between gap-2 text-ink-soft">
        Who they are, by
        <Select
          aria-label="Told apart by"
          value={by}
          onChange={({ target }) => setBy(target.value === 'device' ? null : (target.value as SessionText))}
        >
          {SESSION_TEXTS.filter((of) => of !== 'visitor').map((of) => (
            <option key={of}>{of}</option>
          ))}
        </Select>
      </label>
      {!data && <p className="text-ink-soft">…</p>}
      <ul>
        {data?.values
          .toSorted((a, b) => b.sessions - a.sessions)
          .slice(0, MOST)
          .map(({ value, sessions }) => (
            <li key={value} className="flex justify-between gap-3">
              <span className="truncate">{value || 'not known'}</span>
              <span className="text-ink-soft">
                {percent(sessions / data.sessions)} of {count(data.sessions)}
              </span>
            </li>
          ))}
      </ul>
    </div>
  )
}
