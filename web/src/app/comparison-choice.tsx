import { Field, inputLook, Select } from '../ui/controls.tsx'
import { day } from '../ui/format.ts'
import type { Versus } from './lens.ts'
import { comparedLens, shiftDay, useLens, useVersus } from './lens.ts'

/** Which days the days of the lens are held against. */
export function ComparedWith() {
  const { lens } = useLens()
  const [versus, setVersus] = useVersus()
  const kind = typeof versus === 'object' ? 'days' : versus
  const other = comparedLens(lens, versus)
  return (
    <div>
      <Field label="Compared with">
        <Select
          aria-label="Compared with"
          className="w-full"
          value={kind}
          onChange={(event) =>
            setVersus(
              event.target.value === 'days'
                ? { from: shiftDay(lens.from, -7), to: shiftDay(lens.from, -1) }
                : (event.target.value as Versus),
            )
          }
        >
          <option value="none">nothing</option>
          <option value="before">as many days before</option>
          <option value="weekdays">the same weekdays before</option>
          <option value="days">days of one’s own</option>
        </Select>
      </Field>
      {typeof versus === 'object' && (
        <div className="mt-2 grid grid-cols-2 gap-2">
          {(['from', 'to'] as const).map((edge) => (
            <input
              key={edge}
              type="date"
              aria-label={edge === 'from' ? 'First day compared with' : 'Last day compared with'}
              className={inputLook}
              value={versus[edge]}
              onChange={(event) => {
                const next = { ...versus, [edge]: event.target.value }
                if (event.target.value && next.from <= next.to) setVersus(next)
              }}
            />
          ))}
        </div>
      )}
      {other && (
        <p className="mt-1 text-ink-soft">
          {day(other.from)} – {day(other.to)}
        </p>
      )}
    </div>
  )
}
