import { TZDate } from '@date-fns/tz'
import {
  addDays,
  addMonths,
  getISOWeek,
  getISOWeekYear,
  startOfDay,
  startOfISOWeek,
  startOfMonth,
} from 'date-fns'

export type CalendarUnit = 'day' | 'week' | 'month'

/** A stretch of the calendar: a day, a week (ISO 8601: from Monday), or a month of a time zone. */
export interface Bucket {
  /** 2026-11-23, 2026-W48 or 2026-11 */
  label: string
  startMs: number
  endMs: number
}

/**
 * The days, weeks or months that touch [fromMs, toMs), in order, without a gap. Where clocks change a day has 23 or 25
 * hours.
 *
 * @param timeZone  IANA name
 * @see ISO 8601 for weeks: week 1 is the one with the year's first Thursday
 */
export function bucketsOf(fromMs: number, toMs: number, unit: CalendarUnit, timeZone: string): Bucket[] {
  const buckets: Bucket[] = []
  let at = startOf(new TZDate(fromMs, timeZone), unit)
  while (at.getTime() < toMs) {
    const next = startOf(unit === 'month' ? addMonths(at, 1) : addDays(at, unit === 'week' ? 7 : 1), unit)
    buckets.push({ label: labelOf(at, unit), startMs: at.getTime(), endMs: next.getTime() })
    at = next
  }
  return buckets
}

/** Index of the bucket an instant lies in; -1 where it lies in none. Complexity: logarithmic. */
export function bucketAt(buckets: readonly Bucket[], ms: number): number {
  let low = 0
  let high = buckets.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (buckets[middle]!.endMs <= ms) low = middle + 1
    else high = middle
  }
  return low < buckets.length && ms >= buckets[low]!.startMs ? low : -1
}

function startOf(date: TZDate, unit: CalendarUnit): TZDate {
  if (unit === 'day') return startOfDay(date)
  return unit === 'week' ? startOfISOWeek(date) : startOfMonth(date)
}

function labelOf(date: TZDate, unit: CalendarUnit): string {
  const two = (n: number) => String(n).padStart(2, '0')
  if (unit === 'week') return `${getISOWeekYear(date)}-W${two(getISOWeek(date))}`
  const month = `${date.getFullYear()}-${two(date.getMonth() + 1)}`
  return unit === 'month' ? month : `${month}-${two(date.getDate())}`
}

/** The day of an instant in the site's calendar, as 2026-03-31. */
export function dayOf(ms: number, timeZone: string): string {
  const at = new TZDate(ms, timeZone)
  return [at.getFullYear(), at.getMonth() + 1, at.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-')
}
