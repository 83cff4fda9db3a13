import type { BetweenStep, Step } from '@dust-trail/core'
import { MOST_STEPS } from '@dust-trail/core'
import { Plus, Wrench } from 'lucide-react'
import { count, intervalText, percent, points } from '../../ui/format.ts'

/** What lies between a step and the next: pages that may be a missing step, and whether the leak looks technical. */
export function BetweenHint({
  between,
  index,
  steps,
  setSteps,
}: {
  between: BetweenStep | undefined
  index: number
  steps: Step[]
  setSteps: (steps: Step[]) => void
}) {
  if (!between) return null
  const [missing] = between.missing
  const technical = between.causes.find(({ cause }) => cause === 'any technical')
  const named = between.causes.filter(({ cause }) => cause !== 'any technical')
  return (
    <>
      {missing && (
        <p className="mt-1 flex items-center gap-2 text-ochre-text">
          <span className="min-w-0 truncate">
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
          className="mt-0.5 flex items-center gap-1.5 text-ink-soft"
          title={named
            .map(
              ({ cause, lost, continued }) =>
                `${cause}: ${percent(lost.share)} of ${count(lost.base)} lost, ${percent(continued.share)} of ${count(continued.base)} who went on`,
            )
            .join('\n')}
        >
          <Wrench size={12} aria-hidden className="shrink-0" />
          <span className="min-w-0 truncate">{verdict(technical, between)}</span>
        </p>
      )}
    </>
  )
}

function verdict(
  technical: BetweenStep['causes'][number] | undefined,
  { lost, continued }: BetweenStep,
): string {
  if (!technical || technical.difference === null)
    return technical || continued
      ? `Technical or usability? None of ${count(lost)} lost met an error, a failed request, a freeze or a slow page here: look at usability.`
      : 'Technical or usability? Nobody went on to compare with.'
  const { lost: a, continued: b, difference, interval } = technical
  const shares = `${percent(a.share)} of ${count(a.base)} lost met an error, failed request, freeze or slow page here, ${percent(b.share)} of ${count(b.base)} who went on`
  const judged =
    interval[0] > 0
      ? 'more than by chance, so look there first'
      : interval[1] < 0
        ? 'fewer of the lost: look at usability'
        : 'no more than chance explains: look at usability'
  return `Technical or usability? ${shares}: ${points(difference)} (${intervalText(interval)}), ${judged}.`
}
