import { saveGoals } from '@dust-trail/api'
import type { Goal } from '@dust-trail/core'
import { pageGoal, pageOfGoal, questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { ArrowUp, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useActions } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { PageSelect } from '../../lens/page-select.tsx'
import { Button, Field, IconButton, inputLook, Select } from '../../ui/controls.tsx'
import { rateText } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { eventWords } from '../../words/sentences.ts'

/** What the site wants its visitors to do, the main goal first, each with how many reach it. */
export function Goals() {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const reached = useQuestion(questions.goals, lens, {}).data?.goals
  const own = site.goals.length ? site.goals : site.goal ? [pageGoal(site.goal)] : []
  const save = useMutation({
    mutationFn: (goals: Goal[]) => call(saveGoals, { site: site.key }, { goals }),
    onSuccess: () => {
      void client.invalidateQueries()
      toast('Goals saved: they count for all data.')
    },
  })
  const change = (k: number, by: Partial<Goal>) =>
    save.mutate(own.map((goal, i) => (i === k ? { ...goal, ...by } : goal)))
  return (
    <section aria-label="Goals" className="space-y-2">
      <h2>Goals</h2>
      <p className="text-ink-soft">
        What counts as a conversion. The first is the main one: prices and leaks are counted by it.
      </p>
      {save.error && <Failure error={save.error} />}
      <ul className="divide-y divide-line rounded-md border border-line bg-sheet">
        {own.map((goal, k) => {
          const rate = reached?.find(({ name }) => name === goal.name)?.reached
          return (
            <li key={goal.name} className="flex items-center gap-3 px-3 py-1.5">
              <span className="min-w-0 flex-1 truncate">
                <strong>{goal.name}</strong>
                {k === 0 && ' · main goal'}{' '}
                <span className="text-ink-soft">
                  {pageOfGoal(goal) === goal.name ? 'page seen' : eventWords(goal.event)}
                  {rate && `, ${rateText(rate, 'sessions')} in the lens`}
                </span>
              </span>
              <ValueField goal={goal} change={(value) => change(k, { value })} />
              {k > 0 && (
                <IconButton
                  label={`Make “${goal.name}” the main goal`}
                  onClick={() => save.mutate([goal, ...own.filter((one) => one !== goal)])}
                >
                  <ArrowUp size={14} />
                </IconButton>
              )}
              <IconButton
                label={`Remove the goal “${goal.name}”`}
                onClick={() => save.mutate(own.filter((one) => one !== goal))}
              >
                <Trash2 size={14} />
              </IconButton>
            </li>
          )
        })}
        {!own.length && <li className="px-3 py-1.5 text-ink-soft">None yet.</li>}
      </ul>
      <AddGoal add={(goal) => save.mutate([...own, goal])} />
    </section>
  )
}

function ValueField({
  goal: { name, value },
  change,
}: {
  goal: Goal
  change: (value: Goal['value']) => void
}) {
  const site = useSite()
  const [typed, setTyped] = useState<string | null>(null)
  const kind = typeof value === 'number' || typed !== null ? 'fixed' : (value ?? 'none')
  return (
    <span className="flex items-center gap-1.5">
      <Select
        aria-label={`What “${name}” is worth`}
        value={kind}
        onChange={({ target }) => {
          setTyped(target.value === 'fixed' ? '' : null)
          if (target.value !== 'fixed') change(target.value === 'event' ? 'event' : null)
        }}
      >
        <option value="none">no value of its own</option>
        <option value="event">value of the event</option>
        <option value="fixed">fixed value</option>
      </Select>
      {kind === 'fixed' && (
        <input
          aria-label={`Value of “${name}”, ${site.currency}`}
          type="number"
          min={0}
          step="0.01"
          className={`${inputLook} w-24`}
          value={typed ?? String(value)}
          onChange={({ target }) => setTyped(target.value)}
          onBlur={() => {
            if (typed !== null && typed !== '' && Number(typed) >= 0) change(Number(typed))
            setTyped(null)
          }}
        />
      )}
    </span>
  )
}

function AddGoal({ add }: { add: (goal: Goal) => void }) {
  const site = useSite()
  const actions = useActions(site.key)
  const [page, setPage] = useState('')
  const [action, setAction] = useState('')
  const [name, setName] = useState('')
  const suggested = page || action
  return (
    <form
      aria-label="Add a goal"
      className="grid grid-cols-[1fr_1fr_1fr_auto] items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        if (!suggested) return
        const called = name.trim() || suggested
        add(page ? { ...pageGoal(page), name: called } : { name: called, event: { action }, value: 'event' })
        setPage('')
        setAction('')
        setName('')
      }}
    >
      <Field label="Seeing a page">
        <PageSelect
          label="Page that is a goal"
          none="–"
          className="w-full"
          page={page}
          setPage={(next) => {
            setPage(next)
            setAction('')
          }}
        />
      </Field>
      <Field label="or an action">
        <input
          className={inputLook}
          list="goal-actions"
          value={action}
          onChange={({ target }) => {
            setAction(target.value)
            setPage('')
          }}
        />
        <datalist id="goal-actions">
          {actions.data?.map((one) => (
            <option key={one.id} value={one.name} />
          ))}
        </datalist>
      </Field>
      <Field label="called">
        <input
          className={inputLook}
          maxLength={120}
          placeholder={suggested}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
      </Field>
      <Button type="submit" disabled={!suggested}>
        Add goal
      </Button>
    </form>
  )
}
