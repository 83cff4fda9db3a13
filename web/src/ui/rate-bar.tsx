import type { Interval, Rate } from '@dust-trail/core'
import { clsx } from 'clsx'
import { intervalText } from './format.ts'

/** A share as a bar with its interval as a whisker; the number stands beside it, not in it. */
export function RateBar({
  rate,
  tone = 'spruce',
  max = 1,
  className,
}: {
  rate: Rate
  tone?: 'spruce' | 'clay' | 'stone'
  max?: number
  className?: string
}) {
  const at = (share: number) => `${Math.min(100, (share / max) * 100)}%`
  const fill = { spruce: 'bg-spruce', clay: 'bg-clay', stone: 'bg-stone' }[tone]
  return (
    <span className={clsx('relative block h-2.5 bg-line', className)} title={intervalText(rate.interval)}>
      {rate.share !== null && (
        <span className={clsx('absolute inset-y-0 left-0', fill)} style={{ width: at(rate.share) }} />
      )}
      {rate.base > 0 && <Whisker interval={rate.interval} at={at} />}
    </span>
  )
}

export function Whisker({
  interval: [low, high],
  at,
}: {
  interval: Interval
  at: (share: number) => string
}) {
  return (
    <span
      aria-hidden
      className="absolute top-1/2 h-px -translate-y-1/2 bg-ink before:absolute before:-top-1 before:left-0 before:h-2 before:w-px before:bg-ink after:absolute after:-top-1 after:right-0 after:h-2 after:w-px after:bg-ink"
      style={{ left: at(low), width: `calc(${at(high)} - ${at(low)})` }}
    />
  )
}
