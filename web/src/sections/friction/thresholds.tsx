import { setThresholds } from '@dust-trail/api'
import type { AnswerOf, SetThresholds, SignalKind, ThresholdName } from '@dust-trail/core'
import {
  questions,
  THRESHOLD_FIELDS,
  THRESHOLD_NAMES,
  thresholdsOf,
  thresholdsSchema,
} from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { replayPath } from '../../closeup/session-list.tsx'
import { Button, Field, inputLook } from '../../ui/controls.tsx'
import { count, day, moment, plural } from '../../ui/format.ts'
import { Failure, Settling } from '../../ui/states.tsx'
import { elementName } from '../../words/selections.ts'

/** Days up to the last one of the lens with data that a preview counts. */
const PREVIEW_DAYS = 14
const DAY_MS = 86_400_000

/** From where on a kind counts: what can be set, and what would change at once, with examples to watch. */
export function Thresholds({ kind }: { kind: SignalKind }) {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const names = THRESHOLD_NAMES.filter((name) => THRESHOLD_FIELDS[name].kind === kind)
  const [typed, setTyped] = useState<Partial<Record<ThresholdName, string>>>({})
  const current = thresholdsOf(site.thresholds)
  const wanted = valuesOf(site.thresholds, typed)
  const checked = thresholdsSchema.safeParse(wanted)
  const errorOf = (name: ThresholdName) => checked.error?.issues.find(({ path }) => path[0] === name)?.message
  const others = thresholdsOf(checked.data ?? site.thresholds)
  const changed = names.some((name) => others[name] !== current[name])
  // The lens may reach beyond the data.
  const to = site.days && site.days.to < lens.to ? site.days.to : lens.to
  const from = new Date(Date.parse(to) - (PREVIEW_DAYS - 1) * DAY_MS).toISOString().slice(0, 10)
  const asked = changed && checked.success ? { kind, thresholds: checked.data } : null
  const preview = useQuestion(
    questions.signalPreview,
    asked && { ...lens, from, to },
    asked ?? { kind, thresholds: {} },
  )
  const save = useMutation({
    mutationFn: (thresholds: SetThresholds) => call(setThresholds, { site: site.key }, thresholds),
    onSuccess: () => {
      setTyped({})
      void client.invalidateQueries()
      toast('Thresholds saved. They hold for all data, the past included.')
    },
  })
  if (!names.length)
    return (
      <section aria-label="From where on it counts">
        <h2>From where on it counts</h2>
        <p className="text-ink-soft">Each one counts; there is nothing to set.</p>
      </section>
    )
  const byDefault = Object.fromEntries(
    Object.entries(site.thresholds).filter(([name]) => !names.includes(name as ThresholdName)),
  )
  const isDefault = names.every((name) => current[name] === THRESHOLD_FIELDS[name].default)
  return (
    <section aria-label="From where on it counts" className="max-w-3xl">
      <h2 className="mb-2">From where on it counts</h2>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (checked.success) save.mutate(checked.data)
        }}
      >
        <div className="grid grid-cols-3 gap-3">
          {names.map((name) => {
            const { label, unit, default: usual } = THRESHOLD_FIELDS[name]
            return (
              <Field
                key={name}
                label={`${label[0]!.toUpperCase()}${label.slice(1)} (${unit})`}
                hint={`${usual} by default`}
                error={typed[name] === undefined ? undefined : errorOf(name)}
              >
                <input
                  type="number"
                  className={inputLook}
                  value={typed[name] ?? current[name]}
                  onChange={({ target }) => setTyped({ ...typed, [name]: target.value })}
                />
              </Field>
            )
          })}
        </div>
        {asked && preview.data && (
          <Settling stale={preview.isPlaceholderData}>
            <Preview kind={kind} answer={preview.data} days={`${day(from)} – ${day(to)}`} />
          </Settling>
        )}
        {(save.error ?? (asked && preview.error)) && <Failure error={(save.error ?? preview.error)!} />}
        <div className="flex gap-2">
          <Button type="submit" look="primary" disabled={!asked || save.isPending}>
            Save for {site.name}
          </Button>
          {changed && <Button onClick={() => setTyped({})}>Discard</Button>}
          {!changed && !isDefault && (
            <Button disabled={save.isPending} onClick={() => save.mutate(byDefault)}>
              Back to default
            </Button>
          )}
        </div>
      </form>
    </section>
  )
}

/** What is set, with what was typed; what is as by default is not set. */
function valuesOf(
  set: SetThresholds,
  typed: Partial<Record<ThresholdName, string>>,
): Partial<Record<ThresholdName, number>> {
  const values: Partial<Record<ThresholdName, number>> = {
    ...set,
  }
  for (const [name, text] of Object.entries(typed) as [ThresholdName, string][]) {
    const value = text.trim() === '' ? NaN : Number(text)
    if (value === THRESHOLD_FIELDS[name].default) delete values[name]
    else values[name] = value
  }
  return values
}

function Preview({
  kind,
  answer: { now, then, sessions, examples },
  days,
}: {
  kind: SignalKind
  answer: AnswerOf<typeof questions.signalPreview>
  days: string
}) {
  const site = useSite()
  const linkTo = useLensLink()
  return (
    <div role="status" className="space-y-1">
      <p>
        With this setting <strong>{count(then.signals)}</strong> instead of {count(now.signals)}, in{' '}
        {count(then.sessions)} instead of {count(now.sessions)} of {plural(sessions, 'session')}, {days}.
      </p>
      {examples.length > 0 && (
        <ul className="space-y-0.5">
          {examples.map(({ session, startMs, momentMs, page, selector, text, change }) => (
            <li key={session} className="flex gap-2">
              <Link
                className="shrink-0 text-spruce hover:underline"
                to={linkTo(...replayPath({ id: session, momentMs }))}
              >
                {moment(startMs, site.timeZone)}
              </Link>
              <span className="min-w-0 truncate">
                {change === 'found' ? `now a ${kind}` : `no longer a ${kind}`}: {elementName(text, selector)}{' '}
                on {page}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
