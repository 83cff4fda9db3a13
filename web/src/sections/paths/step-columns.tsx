import type { PathStep } from '@dust-trail/core'
import { useState } from 'react'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'

/** Pages of a step that are in sight before the rest is opened. */
const SHOWN = 8

/** What all paths have in each step, pages merged; shares of all who entered and of those who took the step, told apart. */
export function StepColumns({
  steps,
  entered,
  end,
  open,
  back,
}: {
  steps: readonly PathStep[]
  entered: number
  /** what became of those who have no further step: "left", or "began" */
  end: string
  open: (step: number, page: string, ended?: boolean) => void
  back: boolean
}) {
  if (!steps.length) return null
  return (
    <section aria-label="Step by step">
      <h2>Step by step</h2>
      <p className="mb-1 text-ink-soft">
        Bold: of all {count(entered)} who entered. After it: of those who took this step.
      </p>
      <div className="overflow-x-auto">
        <ol
          className="grid gap-2"
          style={{ gridTemplateColumns: `repeat(${steps.length}, minmax(180px, 1fr))` }}
        >
          {steps.map((step, k) => (
            <Column key={k} {...{ step, entered, end, back }} nth={k} open={open} />
          ))}
        </ol>
      </div>
    </section>
  )
}

function Column({
  step: { sessions, pages, rest },
  nth,
  entered,
  end,
  open,
  back,
}: {
  step: PathStep
  nth: number
  entered: number
  end: string
  open: (step: number, page: string, ended?: boolean) => void
  back: boolean
}) {
  const [whole, setWhole] = useState(false)
  const shown = whole ? pages : pages.slice(0, SHOWN)
  const hidden = pages.slice(SHOWN)
  const others = hidden.reduce((sum, one) => sum + one.sessions, 0) + rest
  return (
    <li className="min-w-0 rounded-md border border-line bg-sheet p-2">
      <h3 className="font-semibold">
        {nth + 1}
        {back ? ' before' : '. step'}
      </h3>
      <p className="mb-1 text-ink-soft">
        {count(sessions)}, {percent(sessions / entered)} of all
      </p>
      <ul className="space-y-1">
        {shown.map(({ page, sessions: own, ended }) => (
          <li key={page}>
            <span aria-hidden className="block h-1.5 bg-line">
              <span className="block h-full bg-spruce" style={{ width: `${(own / sessions) * 100}%` }} />
            </span>
            <LinkButton className="block w-full" title={page} onClick={() => open(nth, page)}>
              {page}
            </LinkButton>
            <span className="flex flex-wrap gap-x-1.5">
              <strong>{percent(own / entered)}</strong>
              <span className="text-ink-soft">{percent(own / sessions)} here</span>
              {ended > 0 && (
                <button
                  type="button"
                  className="text-clay hover:underline"
                  title={`Open the ${plural(ended, 'session')} that ${end} there`}
                  onClick={() => open(nth, page, true)}
                >
                  {percent(ended / own)} {end}
                </button>
              )}
            </span>
          </li>
        ))}
        {!whole && others > 0 && (
          <li>
            {hidden.length > 0 ? (
              <LinkButton onClick={() => setWhole(true)}>
                {plural(hidden.length, 'other page')}: {percent(others / entered)}
              </LinkButton>
            ) : (
              <span className="text-ink-soft">rarer ways: {percent(others / entered)}</span>
            )}
          </li>
        )}
        {whole && rest > 0 && <li className="text-ink-soft">rarer ways: {count(rest)}</li>}
      </ul>
    </li>
  )
}
