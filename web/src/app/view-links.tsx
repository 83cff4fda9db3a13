import { clsx } from 'clsx'
import { NavLink } from 'react-router'
import { useLensLink } from './lens.ts'

/** The ways to look at one section, each an address of its own. */
export function ViewLinks({
  label,
  views,
  kept = {},
}: {
  label: string
  views: readonly (readonly [path: string, name: string])[]
  /** what goes along from one to the next, besides the lens */
  kept?: Record<string, string>
}) {
  const linkTo = useLensLink()
  return (
    <nav aria-label={label} className="flex gap-1">
      {views.map(([path, name]) => (
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
