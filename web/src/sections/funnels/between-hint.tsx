import type { BetweenStep, Step } from '@dust-trail/core'
import { MOST_STEPS } from '@dust-trail/core'
import { Plus, Wrench } from 'lucide-react'
import { createContext, useContext } from 'react'
import { count, percent, points } from '../../ui/format.ts'

/** What lies between the steps of a funnel, where it is known: only what is drawn of it is drawn anew when it is. */
export const BetweenSteps = createContext<BetweenStep[] | undefined>(undefined)

/** What lies between a step and the next: pages that may be a missing step, and whether the leak looks technical. */
export function BetweenHint({
  index,
  steps,
  setSteps,
}: {
  index: number
  steps: Step[]
  setSteps: (steps: Step[]) => void
}) {
  const between = useContext(BetweenSteps)?.[index]
  if (!between) return null
  const [missing] = between.missing
  const technical = between.causes.find(({ cause }) => cause === 'any technical')
  const named = between.causes.filter(({ cause }) => cause !== 'any technical')
  return (
    <>
      {missing && (
        <p className="mt-1 flex flex-wrap items-center gap-x-2 text-ochre-text">
          <span className="min-w-0 break-words">
            A step may be missing: {percent(missing.rate.share)} of {count(missing.rate.base)} who went on saw{' '}
            <b>{missing.page}</b> in between.
          </span>
          {steps.length < MOST_STEPS && (
            <button
              type="button"
              className="inline-flex shrink-0 items-center gap-1 font-semibold underline"
              onClick={() =>
                setSteps([
                  ...steps.slice(0, index + 1),
                  { type: 'page', page: missing.page },
                  ...steps.slice(index + 1),
                ])
              }
            >
              <Plus size={13} aria-hidden /> Add it as a step
            </button>
          )}
        </p>
      )}
      {between.lost > 0 && (
        <p
          className="mt-0.5 flex items-baseline gap-1.5 text-ink-soft"
          title={[
            'Technical: errors, failed requests, freezes, pages that took over 4 s.',
            ...named.map(
              ({ cause, lost, continued }) =>
                `${cause}: ${percent(lost.share)} of ${count(lost.base)} lost, ${percent(continued.share)} of ${count(continued.base)} who went on`,
            ),
          ].join('\n')}
        >
          <Wrench size={12} aria-hidden className="shrink-0 translate-y-0.5" />
          <span className="min-w-0 break-words">{verdict(technical, between)}</span>
        </p>
      )}
    </>
  )
}

function verdict(
  technical: BetweenStep['causes'][number] | undefined,
  { lost, continued }: BetweenStep,
): string {
  if (!technical) return `Usability, it seems: none of ${count(lost)} lost met anything technical here.`
  const { lost: a, continued: b, difference, interval } = technical
  const met = `${percent(a.share)} of ${count(a.base)} lost met something technical here`
  if (difference === null)
    return `${met}; ${continued ? 'there is' : 'nobody went on: there is'} nobody to compare with.`
  const shares = `${met}, ${percent(b.share)} of ${count(b.base)} who went on`
  if (interval[0] > 0) return `Technical, it seems: ${shares} (${points(difference)}).`
  return interval[1] < 0
    ? `Usability, it seems: ${shares}.`
    : `Usability, it seems: ${shares}, no more than chance.`
}
