import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bucketAt, bucketsOf } from './calendar.ts'

const HOUR = 3_600_000
const utc = (...at: [number, number, number, number?]) => Date.UTC(at[0], at[1] - 1, at[2], at[3] ?? 0)

describe('bucketsOf', () => {
  it('makes days of 23 and 25 hours where clocks change', () => {
    // Europe/Dublin: clocks go forward on 29 March 2026 and back on 25 October 2026 (last Sundays, EU rule).
    const lengths = (from: number, to: number) =>
      bucketsOf(from, to, 'day', 'Europe/Dublin').map(({ startMs, endMs }) => (endMs - startMs) / HOUR)
    expect(lengths(utc(2026, 3, 28), utc(2026, 3, 31))).toEqual([24, 23, 24, 24])
    expect(lengths(utc(2026, 10, 24), utc(2026, 10, 26))).toEqual([24, 25])
  })
  it.each([
    // Worked examples of ISO 8601 week dates: 1 January may lie in the last week of the year before, and 31 December in
    // the first of the next. From memory, checked by hand: week 1 has the year's first Thursday.
    [utc(2005, 1, 1), '2004-W53'],
    [utc(2007, 1, 1), '2007-W01'],
    [utc(2008, 12, 29), '2009-W01'],
    [utc(2010, 1, 3), '2009-W53'],
    [utc(2026, 11, 23), '2026-W48'],
  ])('puts %d into week %s', (ms, label) => {
    expect(bucketsOf(ms, ms + 1, 'week', 'UTC')).toEqual([expect.objectContaining({ label })])
  })
  it('makes months by the calendar of the zone', () => {
    const months = bucketsOf(utc(2026, 1, 31, 23), utc(2026, 3, 1), 'month', 'Europe/Stockholm')
    expect(months.map(({ label }) => label)).toEqual(['2026-02', '2026-03'])
  })
  it('covers the span without a gap, and finds each instant in its bucket', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: utc(2024, 1, 1), max: utc(2027, 1, 1) }),
        fc.integer({ min: 1, max: 200 * 24 * HOUR }),
        fc.constantFrom('day' as const, 'week' as const, 'month' as const),
        fc.constantFrom('UTC', 'Europe/Dublin', 'America/New_York', 'Pacific/Apia', 'Asia/Kolkata'),
        fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true }),
        (from, span, unit, zone, share) => {
          const buckets = bucketsOf(from, from + span, unit, zone)
          buckets.forEach((bucket, i) => {
            expect(bucket.endMs).toBeGreaterThan(bucket.startMs)
            if (i) expect(bucket.startMs).toBe(buckets[i - 1]!.endMs)
          })
          const at = from + Math.floor(span * share)
          const bucket = buckets[bucketAt(buckets, at)]!
          expect(bucket.startMs <= at && at < bucket.endMs).toBe(true)
          expect(bucketAt(buckets, buckets[0]!.startMs - 1)).toBe(-1)
          expect(bucketAt(buckets, buckets[buckets.length - 1]!.endMs)).toBe(-1)
        },
      ),
      { numRuns: 150 },
    )
  })
})
