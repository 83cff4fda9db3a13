import { clsx } from 'clsx'
import { NavLink } from 'react-router'
import { useLensLink } from '../../app/lens.ts'

const VIEWS = [
  ['/friction', 'Hot spots'],
  ['/friction/errors', 'Errors'],
  ['/friction/forms', 'Forms'],
  ['/friction/strain', 'Strain'],
] as const

/** The ways to look at what went wrong. */
export function FrictionViews() {
  const linkTo = useLensLink()
  return (
    <nav aria-label="Views of friction" className="flex gap-1">
      {VIEWS.map(([path, name]) => (
        <NavLink
          key={path}
          end
          to={linkTo(path)}
          className={({ isActive }) =>
            clsx(
              'rounded-md px-2.5 py-1',
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
