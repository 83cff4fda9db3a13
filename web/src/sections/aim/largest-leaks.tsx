import type { SavedFunnel } from '@dust-trail/api'
import type { FunnelAnswer, Lens } from '@dust-trail/core'
import { largestLeaks, questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useFunnels } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { count, day, percent } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure } from '../../ui/states.tsx'

/** Steps of a funnel at which more go on elsewhere: on another device, or before. */
export function LargestLeaks({ earlier }: { earlier: Lens }) {
  const site = useSite()
  const linkTo = useLensLink()
  const funnels = useFunnels(site.key)
  // The one that is shown first stands for the way to the goal.
  const funnel = funnels.data?.find(({ isDefault }) => isDefault) ?? funnels.data?.[0]
  return (
    <section aria-label="Largest leaks">
      <h2 className="mb-1">Largest leaks</h2>
      {funnel ? (
        <Leaks funnel={funnel} earlier={earlier} />
      ) : (
        <p className="text-ink-soft">
          No way to the goal is kept yet: make one in{' '}
          <Link className="text-spruce underline" to={linkTo('/funnels')}>
            Funnels
          </Link>
          .
        </p>
      )}
    </section>
  )
}

const SHOWN = 4

function Leaks({ funnel: { name, steps, options }, earlier }: { funnel: SavedFunnel; earlier: Lens }) {
  const { lens } = useLens()
  const linkTo = useLensLink()
  const { setSelection } = useSelection()
  const asked = { steps, counts: true }
  const own = options ?? undefined
  const now = useQuestion(questions.funnel, lens, { ...asked, options: { ...own, by: 'device' } })
  const before = useQuestion(questions.funnel, earlier, { ...asked, ...(own && { options: own }) })
  if (now.error) return <Failure error={now.error} />
  if (!now.data) return <p className="text-ink-soft">Counting …</p>
  const parts = [
    ...(now.data.byValue ?? []).filter(({ label }) => label),
    ...(before.data ? [partOf(before.data, `${day(earlier.from)} – ${day(earlier.to)}`)] : []),
  ]
  const leaks = largestLeaks(now.data, parts).slice(0, SHOWN)
  return (
    <>
      <p className="mb-1 text-ink-soft">
        <Link className="text-spruce hover:underline" to={linkTo('/funnels')}>
          {name}
        </Link>
        : {count(now.data.converted)} of {count(now.data.entered)} went all the way,{' '}
        {percent(now.data.entered ? now.data.converted / now.data.entered : null)}.
      </p>
      {leaks.length ? (
        <ol className="divide-y divide-line rounded-md border border-line bg-sheet">
          {leaks.map(({ step, name: at, next, wentOn, best, lost }) => (
            <li key={step} className="px-3 py-1.5">
              <LinkButton
                className="font-semibold"
                onClick={() =>
                  setSelection({ type: 'funnel', steps, ...(own && { options: own }), step, side: 'dropped' })
                }
              >
                {at} → {next}
              </LinkButton>
              <p>
                {percent(wentOn.share)} of {count(wentOn.base)} go on; {percent(best.rate.share)} of{' '}
                {count(best.rate.base)} with {best.label}.{' '}
                <span className="text-ink-soft">
                  As many everywhere would be at most about {count(Math.round(lost))} conversions more.
                </span>
              </p>
            </li>
          ))}
        </ol>
      ) : (
        <p className="text-ink-soft">No device and no earlier day does better at any step, beyond noise.</p>
      )}
    </>
  )
}

function partOf({ steps }: FunnelAnswer, label: string) {
  return { label, reached: steps.map(({ sessions }) => sessions) }
}
