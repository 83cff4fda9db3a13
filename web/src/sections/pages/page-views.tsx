import { clsx } from 'clsx'
import { NavLink } from 'react-router'
import { useLensLink } from '../../app/lens.ts'

const VIEWS = [
  ['/pages', 'Pages'],
  ['/pages/landings', 'Landing pages'],
] as const

/** The ways to look at pages. */
export function PageViews() {
  const linkTo = useLensLink()
  return (
    <nav aria-label="Views of pages" className="flex gap-1">
      {VIEWS.map(([path, name]) => (
        <NavLink
          key={path}
          end
          to={linkTo(path)}
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
