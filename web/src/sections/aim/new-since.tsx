import type { Lens } from '@dust-trail/core'
import { fallenValues, questions, worseSpots } from '@dust-trail/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { rangeText } from '../../ui/difference.tsx'
import { count, day, percent, plural, points } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure } from '../../ui/states.tsx'
import { elementName } from '../../words/selections.ts'
import { useOpenSpot } from '../friction/hot-spots.tsx'

const SHOWN = 5

/** What is new or worse than in the days before: signals, errors and slow pages, and where visitors land. */
export function NewSince({ earlier }: { earlier: Lens }) {
  const { lens } = useLens()
  const linkTo = useLensLink()
  const openSpot = useOpenSpot()
  const { setSelection } = useSelection()
  const now = useQuestion(questions.friction, lens, {})
  const before = useQuestion(questions.friction, earlier, {})
  const landing = useQuestion(questions.goals, lens, { by: 'entry page' })
  const landingBefore = useQuestion(questions.goals, earlier, { by: 'entry page' })
  const worse = useMemo(
    () => (now.data && before.data ? worseSpots(now.data, before.data) : undefined),
    [now.data, before.data],
  )
  const fallen = useMemo(
    () =>
      landing.data && landingBefore.data
        ? fallenValues(landing.data.values, landingBefore.data.values)
        : undefined,
    [landing.data, landingBefore.data],
  )
  const error = now.error ?? before.error ?? landing.error
  return (
    <section aria-label="New or worse">
      <h2 className="mb-1">New or worse</h2>
      {error && <Failure error={error} />}
      {(!worse || !fallen) && !error && <p className="text-ink-soft">Comparing …</p>}
      {worse && fallen && (
        <>
          <p className="mb-1 text-ink-soft">
            {worse.length + fallen.length === 0
              ? `Nothing stands out against ${day(earlier.from)} – ${day(earlier.to)}, beyond noise: no signal, no error, no slow page, no landing page.`
              : `${plural(worse.length, 'signal')} and ${plural(fallen.length, 'landing page')} against ${day(earlier.from)} – ${day(earlier.to)}, beyond noise.`}{' '}
            <Link className="text-spruce hover:underline" to={linkTo('/friction')}>
              All friction
            </Link>
          </p>
          {worse.length + fallen.length > 0 && (
            <ul className="divide-y divide-line rounded-md border border-line bg-sheet">
              {worse.slice(0, SHOWN).map((one) => {
                const { spot, before: was, isNew, difference, interval } = one
                const { kind, own, page, selector, text, met } = spot
                return (
                  <li key={`${own ?? kind}/${page}/${selector}`} className="px-3 py-1.5">
                    <LinkButton className="font-semibold" onClick={() => openSpot(spot)}>
                      {own ?? kind}: {(text || selector) && `${elementName(text, selector)}, `}
                      {page}
                    </LinkButton>
                    <p>
                      {percent(met.share)} of {count(met.base)} sessions,{' '}
                      {isNew ? 'new' : `${percent(was.share)} before`}: {points(difference)}{' '}
                      <span className="text-ink-soft">({rangeText(interval)})</span>
                    </p>
                  </li>
                )
              })}
              {fallen.slice(0, SHOWN).map(({ value, now: own, before: was, difference, interval }) => (
                <li key={value} className="px-3 py-1.5">
                  <LinkButton
                    className="font-semibold"
                    onClick={() =>
                      setSelection({
                        type: 'where',
                        condition: { type: 'text', of: 'entry page', test: { is: 'equal', to: value } },
                      })
                    }
                  >
                    Landing on {value || 'no page'}
                  </LinkButton>
                  <p>
                    {percent(own.share)} of {count(own.base)} reach the goal, {percent(was.share)} before:{' '}
                    {points(difference)} <span className="text-ink-soft">({rangeText(interval)})</span>
                  </p>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </section>
  )
}
