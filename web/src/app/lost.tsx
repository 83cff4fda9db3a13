import { isRouteErrorResponse, Link, useRouteError } from 'react-router'
import { Empty } from '../ui/states.tsx'

/** Where an address leads nowhere, or a screen has broken. */
export function Lost() {
  const error = useRouteError()
  const broken = error instanceof Error && !isRouteErrorResponse(error)
  return (
    <Empty title={broken ? 'This screen has broken.' : 'There is nothing at this address.'}>
      {broken && <p className="mb-2 font-mono text-xs">{error.message}</p>}
      <Link className="text-spruce underline" to="/funnels">
        Go to Funnels
      </Link>
    </Empty>
  )
}
