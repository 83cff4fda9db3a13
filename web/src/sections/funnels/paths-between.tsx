import type { EventCondition, Selection, Step } from '@dust-trail/core'
import { Link } from 'react-router'
import { useLensLink } from '../../app/lens.ts'

/** From a leak to where the lost went instead, and from a step by which ways, and detours, the others came to the next one. */
export function PathsBetween({
  selection,
  next,
}: {
  selection: (side: 'continued' | 'dropped') => Selection
  next: Step
}) {
  const linkTo = useLensLink()
  return (
    <p className="mt-0.5 flex flex-wrap gap-x-4">
      <Link
        className="text-spruce hover:underline"
        to={linkTo('/paths', { origin: JSON.stringify(selection('dropped')) })}
      >
        Where the lost went instead
      </Link>
      <Link
        className="text-spruce hover:underline"
        to={linkTo('/paths', {
          origin: JSON.stringify(selection('continued')),
          least: '0.01',
          walk: JSON.stringify({ until: eventOf(next) }),
        })}
      >
        Ways and detours to the next step
      </Link>
    </p>
  )
}

/** What happens when a step is taken. */
function eventOf(step: Step): EventCondition {
  if (step.type === 'event') return step.event
  const page = step.page === undefined ? undefined : { is: 'equal' as const, to: step.page }
  if (step.type === 'page') return { kinds: ['page'], page: page! }
  return { kinds: ['click'], element: { is: 'equal', to: step.selector }, ...(page && { page }) }
}
