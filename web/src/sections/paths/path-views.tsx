import { useLocation } from 'react-router'
import { ViewLinks } from '../../app/view-links.tsx'

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
  const { search } = useLocation()
  const here = new URLSearchParams(search)
  const kept = Object.fromEntries(
    KEPT.flatMap((name) => {
      const value = here.get(name)
      return value === null ? [] : [[name, value]]
    }),
  )
  return <ViewLinks label="Views of paths" views={VIEWS} kept={kept} />
}
