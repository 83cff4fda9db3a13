import { oncePer } from '../columns/block-cache.ts'
import type { Bucket, CalendarUnit } from '../events/calendar.ts'
import { bucketsOf } from '../events/calendar.ts'
import type { Lens } from './grammar/conditions.ts'
import { lensSpan } from './lens.ts'

/** Of a lens the buckets by unit and time zone: asked for once a block, and slow to make. */
const bucketsThrough = oncePer((_lens: Lens) => new Map<string, Bucket[]>())

/** The stretches of the calendar that a lens shows. */
export function trendBuckets(lens: Lens, unit: CalendarUnit, timeZone: string): readonly Bucket[] {
  const buckets = bucketsThrough(lens)
  const key = `${unit} ${timeZone}`
  let found = buckets.get(key)
  if (!found) {
    const { fromMs, toMs } = lensSpan(lens, timeZone)
    buckets.set(key, (found = bucketsOf(fromMs, toMs, unit, timeZone)))
  }
  return found
}

/** Why a trend is not made: it would have too many parts; undefined where it has not. */
export function trendRefusal(
  lens: Lens,
  unit: CalendarUnit,
  trendParts: number,
): { budget: string } | undefined {
  const days = (Date.parse(lens.to) - Date.parse(lens.from)) / 86_400_000 + 1
  return days / { day: 1, week: 7, month: 28 }[unit] > trendParts
    ? {
        budget: `a trend has at most ${trendParts} parts: ask about fewer days, or by a longer unit than ${unit}`,
      }
    : undefined
}
