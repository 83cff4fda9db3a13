import { TZDate } from '@date-fns/tz'
import { oncePer } from '../columns/block-cache.ts'
import type { Bucket, CalendarUnit } from '../events/calendar.ts'
import { bucketsOf } from '../events/calendar.ts'
import { addDays, startOfDay } from 'date-fns'
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

/** Of a lens when parts of it begin, by time zone and number. */
const partsThrough = oncePer((_lens: Lens) => new Map<string, number[]>())

/** When the parts of a lens begin that has at most so many: as many days of the site's calendar each, but for the last. */
export function equalParts(lens: Lens, timeZone: string, most: number): readonly number[] {
  const parts = partsThrough(lens)
  const key = `${most} ${timeZone}`
  let starts = parts.get(key)
  if (!starts) {
    const days = (Date.parse(lens.to) - Date.parse(lens.from)) / 86_400_000 + 1
    const each = Math.ceil(days / most)
    const first = startOfDay(new TZDate(lensSpan(lens, timeZone).fromMs, timeZone))
    starts = Array.from({ length: Math.ceil(days / each) }, (_, k) => addDays(first, k * each).getTime())
    parts.set(key, starts)
  }
  return starts
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
