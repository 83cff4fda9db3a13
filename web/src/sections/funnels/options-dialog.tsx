import type { FunnelOptions, SessionText, Step, TrendUnit } from '@dust-trail/core'
import { SESSION_TEXTS, stepName, TREND_UNITS } from '@dust-trail/core'
import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { EventSelect, useEvents } from '../../lens/sequence-choice.tsx'
import { Button, Field, IconButton, inputLook, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { eventWords, TEXT_WORDS } from '../../words/sentences.ts'
import type { TimeUnit } from './definition.ts'
import { definition, inUnits, TIME_UNITS } from './definition.ts'

/** How a funnel counts, in plain words, with the sentence that says exactly what that means. */
export function OptionsDialog({
  steps,
  options,
  set,
  close,
}: {
  steps: Step[]
  options: FunnelOptions
  set: (options: FunnelOptions) => void
  close: () => void
}) {
  const limit = options.withinMs === null ? null : inUnits(options.withinMs)
  const [amount, setAmount] = useState(String(limit?.amount ?? 30))
  const [unit, setUnit] = useState<TimeUnit>(limit?.unit ?? 'minutes')
  const [after, setAfter] = useState(0)
  const [chosen, setChosen] = useState('')
  const events = useEvents()
  const setLimit = (text: string, next: TimeUnit) => {
    setAmount(text)
    setUnit(next)
    const number = Number(text)
    if (text !== '' && number > 0) set({ ...options, withinMs: number * TIME_UNITS[next] })
  }
  return (
    <Dialog open onClose={close} title="How this funnel counts" description={definition(steps, options)} wide>
      <div className="grid grid-cols-2 gap-x-6 gap-y-4">
        <Labelled words="What is counted">
          <RadioGroup
            label="What is counted"
            value={options.per}
            options={[
              ['session', 'Sessions'],
              ['visitor', 'Visitors'],
            ]}
            onChange={(per) => set({ ...options, per })}
          />
        </Labelled>
        <Labelled words="Between two steps">
          <RadioGroup
            label="Between two steps"
            value={options.between}
            options={[
              ['anything', 'Anything'],
              ['nothing', 'Nothing else'],
            ]}
            onChange={(between) => set({ ...options, between })}
          />
        </Labelled>
        <Labelled words="They enter">
          <RadioGroup
            label="They enter"
            value={options.entry}
            options={[
              ['anywhere', 'At any moment'],
              ['first', 'With their first page'],
            ]}
            onChange={(entry) => set({ ...options, entry })}
          />
        </Labelled>
        <Labelled words="From the first step to any other">
          <div className="flex items-center gap-2">
            <RadioGroup
              label="Time limit"
              value={options.withinMs === null ? 'none' : 'some'}
              options={[
                ['none', 'No limit'],
                ['some', 'At most'],
              ]}
              onChange={(next) =>
                set({ ...options, withinMs: next === 'none' ? null : Number(amount) * TIME_UNITS[unit] })
              }
            />
            {options.withinMs !== null && (
              <>
                <input
                  type="number"
                  min={1}
                  aria-label="How long"
                  className={`${inputLook} max-w-20`}
                  value={amount}
                  onChange={(event) => setLimit(event.target.value, unit)}
                />
                <Select
                  aria-label="Unit of time"
                  value={unit}
                  onChange={(event) => setLimit(amount, event.target.value as TimeUnit)}
                >
                  {Object.keys(TIME_UNITS).map((one) => (
                    <option key={one}>{one}</option>
                  ))}
                </Select>
              </>
            )}
          </div>
        </Labelled>
        <Field label="Side by side for each">
          <Select
            aria-label="Side by side for each"
            value={options.by ?? ''}
            onChange={(event) => set({ ...options, by: (event.target.value || null) as SessionText | null })}
          >
            <option value="">nothing</option>
            {SESSION_TEXTS.filter((of) => of !== 'visitor').map((of) => (
              <option key={of} value={of}>
                {TEXT_WORDS[of]}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Over time, by">
          <Select
            aria-label="Over time, by"
            value={options.trend ?? ''}
            onChange={(event) => set({ ...options, trend: (event.target.value || null) as TrendUnit | null })}
          >
            <option value="">no trend</option>
            {TREND_UNITS.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Select>
        </Field>
      </div>
      {steps.length > 1 && (
        <div className="mt-4">
          <h2 className="mb-1">Without something in between</h2>
          {options.without.map((one, k) => (
            <p key={k} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate">
                no {eventWords(one.event)} after {stepName(steps[one.after] ?? steps[0]!)}
              </span>
              <IconButton
                label={`Allow ${eventWords(one.event)} again`}
                onClick={() => set({ ...options, without: options.without.filter((_, i) => i !== k) })}
              >
                <X size={14} />
              </IconButton>
            </p>
          ))}
          <form
            className="flex items-center gap-2"
            onSubmit={(event) => {
              event.preventDefault()
              const excluded = events.get(chosen)
              if (!excluded) return
              set({ ...options, without: [...options.without, { after, event: excluded.event }] })
              setChosen('')
            }}
          >
            no
            <EventSelect
              label="What may not lie in between"
              none="page, action or click"
              events={events}
              value={chosen}
              set={setChosen}
            />
            after
            <Select
              aria-label="After which step"
              value={after}
              onChange={(event) => setAfter(Number(event.target.value))}
            >
              {steps.slice(0, -1).map((step, k) => (
                <option key={k} value={k}>
                  {k + 1}. {stepName(step)}
                </option>
              ))}
            </Select>
            <Button type="submit" disabled={!chosen || options.without.length >= 7}>
              <Plus size={14} aria-hidden /> Add
            </Button>
          </form>
        </div>
      )}
      <div className="mt-4 flex justify-end">
        <Button look="primary" onClick={close}>
          Done
        </Button>
      </div>
    </Dialog>
  )
}

function Labelled({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <div>
      <span className="mb-1 block font-semibold">{words}</span>
      {children}
    </div>
  )
}
