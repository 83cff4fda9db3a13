import { clsx } from 'clsx'
import { NavLink, useLocation } from 'react-router'
import { useLensLink } from '../../app/lens.ts'

const VIEWS = [
  ['/paths', 'Routes'],
  ['/paths/ledger', 'What changed'],
  ['/paths/loops', 'To and fro'],
  ['/paths/patterns', 'Patterns'],
] as const

/** What the paths are of goes along from one way of looking at them to the next. */
const KEPT = ['start', 'origin', 'way', 'depth', 'walk'] as const

/** The ways to look at where people went. */
export function PathViews() {
  const linkTo = useLensLink()
  const { search } = useLocation()
  const here = new URLSearchParams(search)
  const kept = Object.fromEntries(
    KEPT.flatMap((name) => {
      const value = here.get(name)
      return value === null ? [] : [[name, value]]
    }),
  )
  return (
    <nav aria-label="Views of paths" className="flex gap-1">
      {VIEWS.map(([path, name]) => (
        <NavLink
          key={path}
          end
          to={linkTo(path, kept)}
          className={({ isActive }) =>
            clsx(
              'rounded-md px-2.5 py-1 whitespace-nowrap',
              isActive ? 'bg-spruce-soft font-semibold' : 'text-spruce hover:underline',
            )
          }
        >
          {name}
        </NavLink>
      ))}
    </nav>
  )
}
