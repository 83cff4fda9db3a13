import { describe, expect, it } from 'vitest'
import { dayOf } from '../events/calendar.ts'
import { lensSchema } from './grammar/conditions.ts'
import { lensSpan } from './lens.ts'

const HOUR = 3_600_000
const span = (from: string, to: string, zone: string) => {
  const { fromMs, toMs } = lensSpan({ from, to, devices: [] }, zone)
  return (toMs - fromMs) / HOUR
}

// When clocks change: IANA time zone database, EU rule (last Sunday of March and October at 01:00 UTC).
describe('lensSpan', () => {
  it('has 23 hours where clocks go forward and 25 where they go back', () => {
    expect(span('2026-03-29', '2026-03-29', 'Europe/Dublin')).toBe(23)
    expect(span('2026-10-25', '2026-10-25', 'Europe/Dublin')).toBe(25)
    expect(span('2026-03-28', '2026-03-30', 'Europe/Dublin')).toBe(71)
    expect(span('2026-03-29', '2026-03-29', 'UTC')).toBe(24)
  })
  it('begins at the site’s midnight', () => {
    const { fromMs } = lensSpan({ from: '2026-07-01', to: '2026-07-01', devices: [] }, 'America/New_York')
    expect(new Date(fromMs).toISOString()).toBe('2026-07-01T04:00:00.000Z')
  })
})

describe('dayOf', () => {
  it('is the day of the site’s calendar', () => {
    const ms = Date.UTC(2026, 0, 1, 2, 30)
    expect(dayOf(ms, 'UTC')).toBe('2026-01-01')
    expect(dayOf(ms, 'America/New_York')).toBe('2025-12-31')
    expect(dayOf(ms, 'Asia/Tokyo')).toBe('2026-01-01')
  })
})

describe('lensSchema', () => {
  it('refuses days in the wrong order and what is no day', () => {
    expect(lensSchema.safeParse({ from: '2026-02-02', to: '2026-02-01' }).success).toBe(false)
    expect(lensSchema.safeParse({ from: 'soon', to: '2026-02-01' }).success).toBe(false)
  })
})
