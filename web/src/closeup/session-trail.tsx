import type { SessionSummary } from '@dust-trail/core'
import { clsx } from 'clsx'
import { duration, plural } from '../ui/format.ts'

type Dot = SessionSummary['trail'][number]

/** Diameter of a dot, and what lies between two, CSS px: time on a compressed scale. */
const [LEAST, MOST] = [6, 14]
export const sizeOf = (forMs: number) => Math.min(MOST, LEAST + Math.log2(1 + forMs / 2000))
export const gapAfter = (forMs: number) => Math.min(28, 3 + 2 * Math.log2(1 + forMs / 1000))

/** What is said of one dot. */
function dotWords({ page, forMs, views, signals }: Dot): string {
  return [
    page || 'a page',
    duration(forMs),
    ...(views > 1 ? [plural(views, 'view')] : []),
    ...(signals ? [plural(signals, 'signal')] : []),
  ].join(', ')
}

/**
 * A session as a line of dots: one a page, apart by the time spent on a compressed scale, sized by it, marked where a signal
 * lies. Views of one page after another are one dot with a ring.
 */
export function SessionTrail({
  trail,
  more,
}: {
  trail: readonly Dot[]
  /** pages that are not drawn */
  more: number
}) {
  if (!trail.length) return <span className="text-ink-soft">no page</span>
  return (
    <span
      className="inline-flex h-5 max-w-full items-center overflow-hidden"
      role="list"
      aria-label="Pages in order"
    >
      {trail.map((dot, k) => (
        <span
          key={k}
          role="listitem"
          aria-label={dotWords(dot)}
          title={dotWords(dot)}
          className="flex items-center"
        >
          <span
            className={clsx(
              'relative block shrink-0 rounded-full',
              dot.signals ? 'bg-clay' : 'bg-spruce',
              dot.views > 1 && 'outline outline-offset-1 outline-spruce',
            )}
            style={{ width: sizeOf(dot.forMs), height: sizeOf(dot.forMs) }}
          >
            {dot.signals > 0 && (
              <span aria-hidden className="absolute -top-1.5 left-1/2 h-1.5 w-px -translate-x-1/2 bg-clay" />
            )}
          </span>
          {k + 1 < trail.length && (
            <span
              aria-hidden
              className="block h-px shrink-0 bg-line"
              style={{ width: gapAfter(dot.forMs) }}
            />
          )}
        </span>
      ))}
      {more > 0 && <span className="pl-1 text-ink-soft">+{more}</span>}
    </span>
  )
}
