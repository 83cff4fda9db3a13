import { CalendarDays } from 'lucide-react'
import { useState } from 'react'
import { Button, Field, inputLook } from '../ui/controls.tsx'
import { day, daysText } from '../ui/format.ts'
import { Popover } from '../ui/popover.tsx'
import { ComparedWith } from './comparison-choice.tsx'
import type { LensPart } from './lens-part.ts'
import { comparedLens, shiftDay, today, useSite, useVersus } from './lens.ts'

export function Dates({ lens, setLens }: LensPart) {
  const site = useSite()
  const [open, setOpen] = useState(false)
  const now = today(site.timeZone)
  const [versus] = useVersus()
  const compared = comparedLens(lens, versus)
  const presets: [string, string, string][] = [
    ['Today', now, now],
    ['Yesterday', shiftDay(now, -1), shiftDay(now, -1)],
    ['Last 7 days', shiftDay(now, -6), now],
    ['Last 14 days', shiftDay(now, -13), now],
    ['Last 30 days', shiftDay(now, -29), now],
  ]
  if (site.days) presets.push(['All data', site.days.from, site.days.to])
  return (
    <Popover
      label="Dates"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button aria-label={`Dates: ${day(lens.from)} to ${day(lens.to)}`}>
          <CalendarDays size={14} aria-hidden />
          {daysText(lens.from, lens.to, now)}
          {compared && <span className="text-iris">against {daysText(compared.from, compared.to, now)}</span>}
        </Button>
      }
    >
      <div className="w-64 space-y-3 p-3">
        <div className="grid grid-cols-2 gap-1.5">
          {presets.map(([name, from, to]) => (
            <Button
              key={name}
              aria-pressed={lens.from === from && lens.to === to}
              className="justify-center aria-pressed:bg-spruce-soft"
              onClick={() => {
                setLens({ ...lens, from, to })
                setOpen(false)
              }}
            >
              {name}
            </Button>
          ))}
        </div>
        <Field label="First day">
          <input
            type="date"
            className={inputLook}
            value={lens.from}
            max={lens.to}
            onChange={(event) =>
              event.target.value &&
              setLens({
                ...lens,
                from: event.target.value,
                to: event.target.value > lens.to ? event.target.value : lens.to,
              })
            }
          />
        </Field>
        <Field label="Last day" hint={`Days of the site’s calendar, ${site.timeZone}.`}>
          <input
            type="date"
            className={inputLook}
            value={lens.to}
            min={lens.from}
            onChange={(event) =>
              event.target.value &&
              setLens({
                ...lens,
                to: event.target.value,
                from: event.target.value < lens.from ? event.target.value : lens.from,
              })
            }
          />
        </Field>
        <ComparedWith />
      </div>
    </Popover>
  )
}
