import type { FunnelAnswer } from '@dust-trail/core'
import { TIME_BINS_S } from '@dust-trail/core'
import { count, duration } from '../../ui/format.ts'

/** How long those who went on took: a small distribution over bins of equal ratio, and its median. */
export function TimeToNext({ toNext }: { toNext: FunnelAnswer['steps'][number]['toNext'] }) {
  if (toNext.medianMs === null) return null
  const most = Math.max(...toNext.histogram)
  const words = toNext.histogram
    .map((n, i) => (n ? `${binName(i)}: ${count(n)}` : ''))
    .filter(Boolean)
    .join('\n')
  return (
    <span
      className="ml-auto inline-flex items-center gap-2 text-ink-soft"
      title={`Time to the next step, half between ${duration(toNext.p25Ms)} and ${duration(toNext.p75Ms)}\n${words}`}
    >
      <svg aria-hidden width={toNext.histogram.length * 6} height={16} className="overflow-visible">
        {toNext.histogram.map((n, i) => (
          <rect
            key={i}
            x={i * 6}
            width={5}
            y={16 - (n / most) * 16}
            height={(n / most) * 16}
            fill="var(--stone)"
          />
        ))}
        <line x1={0} x2={toNext.histogram.length * 6} y1={16.5} y2={16.5} stroke="var(--line)" />
      </svg>
      {duration(toNext.medianMs)} to next (median)
    </span>
  )
}

function binName(i: number): string {
  const upper = TIME_BINS_S[i]
  if (upper === undefined) return `over ${duration(TIME_BINS_S[i - 1]! * 1000)}`
  return i === 0 ? `under ${upper} s` : `${duration(TIME_BINS_S[i - 1]! * 1000)} to ${duration(upper * 1000)}`
}
