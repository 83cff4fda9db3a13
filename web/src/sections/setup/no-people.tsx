import type { Lens, TrafficClass } from '@dust-trail/core'
import { TRAFFIC_CLASSES } from '@dust-trail/core'
import { Link } from 'react-router'
import { useSizes } from '../../api/queries.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { plural } from '../../ui/format.ts'
import { EVERYONE } from '../../words/selections.ts'

const WORDS: Record<TrafficClass, string> = {
  robot: 'of programs that call themselves robots',
  implausible: 'faster than any hand: over forty pages, or two hundred acts, a second',
}

/** What is left out of all numbers since no person is behind it, and where it can be looked at. */
export function NoPeople() {
  const site = useSite()
  const { lens } = useLens()
  const link = useLensLink()
  const through = (kind: TrafficClass): Lens => ({ ...lens, devices: [kind] })
  const { data } = useSizes(
    site.key,
    TRAFFIC_CLASSES.map((kind) => ({ lens: through(kind), selection: EVERYONE })),
  )
  const found = TRAFFIC_CLASSES.map((kind, k) => ({ kind, n: data?.sizes[k]?.hits ?? 0 })).filter(
    ({ n }) => n > 0,
  )
  return (
    <section aria-label="No people">
      <h2 className="mb-1">No people</h2>
      <p className={found.length ? '' : 'text-ink-soft'}>
        {!data
          ? 'Counting …'
          : found.length
            ? 'Left out of all numbers in the days of the lens, unless they are chosen as a device:'
            : 'No robots and nothing implausible in the days of the lens. They would be left out of all numbers.'}
      </p>
      <ul>
        {found.map(({ kind, n }) => (
          <li key={kind}>
            <Link className="text-spruce underline" to={link('/visitors', {}, through(kind))}>
              {plural(n, 'session')}
            </Link>{' '}
            {WORDS[kind]}
          </li>
        ))}
      </ul>
    </section>
  )
}
