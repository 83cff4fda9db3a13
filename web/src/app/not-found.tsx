import { isRouteErrorResponse, Link, useLocation, useRouteError } from 'react-router'
import { Empty } from '../ui/states.tsx'

/** Where an address leads nowhere, or a screen has broken. */
export function Lost() {
  const error = useRouteError()
  const { pathname, search } = useLocation()
  const broken = error instanceof Error && !isRouteErrorResponse(error)
  return (
    <Empty title={broken ? 'This screen has broken.' : 'There is nothing at this address.'}>
      {broken && <p className="mb-2 font-mono text-xs">{error.message}</p>}
      {broken && (
        <>
          <Link className="text-spruce underline" to={`${pathname}${search}`} reloadDocument>
            Try again
          </Link>{' '}
          ·{' '}
        </>
      )}
      <Link className="text-spruce underline" to={`/funnels${search}`}>
        Go to Funnels
      </Link>
    </Empty>
  )
}
