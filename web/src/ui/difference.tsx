import type { Interval, Rate } from '@dust-trail/core'
import { difference } from '@dust-trail/core'
import { clsx } from 'clsx'
import { points } from './format.ts'

/** Below this a p-value speaks for a difference. */
const ALPHA = 0.05

export type Verdict = 'more' | 'less' | 'cannot tell' | 'nobody to compare with'

/**
 * Whether a difference of two shares is more than noise: its 95 % interval leaves zero out and, where several are tested
 * at once, its adjusted p is below 0.05. Decided here for every screen.
 *
 * @param p  adjusted for the number of tests; absent where only one is made
 */
export function verdictOf(found: number | null, [low, high]: Interval, p?: number | null): Verdict {
  if (found === null) return 'nobody to compare with'
  const isSure = (low > 0 || high < 0) && (p === undefined || (p ?? 1) < ALPHA)
  if (!isSure) return 'cannot tell'
  return found > 0 ? 'more' : 'less'
}

/** The ends of the interval of a difference, in words. */
export function rangeText([low, high]: Interval): string {
  return `${points(low).replace(' pp', '')} to ${points(high)}`
}

/** A verdict with the interval that it rests on, in words. */
export function certaintyText(found: number | null, interval: Interval): string {
  const verdict = verdictOf(found, interval)
  if (verdict === 'nobody to compare with') return verdict
  return `${verdict === 'cannot tell' ? verdict : 'yes'}: ${rangeText(interval)}`
}

/** The share of one minus that of another, with its 95 % interval and whether it is more than noise. */
export function Difference({ a, b, p }: { a: Rate; b: Rate; p?: number | null }) {
  const { difference: found, interval } = difference(a, b)
  const verdict = verdictOf(found, interval, p)
  if (verdict === 'nobody to compare with') return <span className="text-ink-soft">{verdict}</span>
  const isSure = verdict !== 'cannot tell'
  return (
    <>
      <span
        className={clsx(
          isSure && 'font-semibold',
          isSure && (verdict === 'more' ? 'text-spruce' : 'text-clay'),
        )}
      >
        {points(found)}
      </span>{' '}
      <span className="text-ink-soft">
        ({points(interval[0])} to {points(interval[1])}){p !== undefined && `, p ${pText(p)}`}
        {!isSure && ' · cannot tell'}
      </span>
    </>
  )
}

export function pText(p: number | null): string {
  if (p === null) return '–'
  return p < 0.001 ? '< 0.001' : p.toFixed(3)
}
