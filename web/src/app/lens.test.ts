import type { Site } from '@dust-trail/api'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { defaultLens, keepLens, lensFrom, shiftDay, today, writeLens } from './lens.ts'

const site: Site = {
  key: 'shop',
  name: 'Shop',
  origins: [],
  timeZone: 'Europe/Dublin',
  currency: 'EUR',
  rates: [],
  thresholds: {},
  strainWeights: {},
  capture: { text: 'patterns', consent: 'free', share: 1, drawings: false, pictures: 'kept' },
  sessionLimitMin: 30,
  damaged: [],
  full: [],
  loading: null,
  streamed: 0,
  retentionDays: null,
  recordingDays: null,
  auditDays: 730,
  goal: '/thanks',
  goals: [],
  pageGroups: [],
  days: { from: '2026-01-01', to: '2026-03-31' },
  sessions: 1,
  lastMs: 0,
}
const parameters = (text: string) => new URLSearchParams(text)

describe('today', () => {
  afterEach(() => {
    vi.useRealTimers()
  })
  it('is that of the site, on both sides of midnight', () => {
    vi.useFakeTimers({ now: Date.UTC(2026, 6, 1, 23, 30) })
    expect(today('UTC')).toBe('2026-07-01')
    expect(today('Europe/Dublin')).toBe('2026-07-02')
    vi.setSystemTime(Date.UTC(2026, 6, 2, 0, 30))
    expect(today('UTC')).toBe('2026-07-02')
    expect(today('America/New_York')).toBe('2026-07-01')
  })
})

describe('the lens in the address', () => {
  it('comes out as it went in', () => {
    const lens = { from: '2026-02-01', to: '2026-02-03', devices: ['mobile' as const, 'tablet' as const] }
    expect(lensFrom(writeLens(parameters('page=x'), lens), site)).toEqual(lens)
    expect(writeLens(parameters('page=x'), lens).get('page')).toBe('x')
  })
  it('is the last two weeks with data where the address says nothing', () => {
    expect(defaultLens(site)).toEqual({ from: '2026-03-18', to: '2026-03-31', devices: [] })
    expect(lensFrom(parameters(''), site)).toEqual(defaultLens(site))
  })
  it.each([
    ['from=2026-02-01'],
    ['from=2026-02-05&to=2026-02-01'],
    ['from=soon&to=later'],
    ['from=2026-02-01&to=%3Cscript%3E'],
  ])('is the default where the address makes no sense: %s', (text) => {
    expect(lensFrom(parameters(text), site)).toEqual(defaultLens(site))
  })
  it('leaves out devices that do not exist', () => {
    expect(lensFrom(parameters('device=mobile,fridge'), site).devices).toEqual(['mobile'])
  })
  it('goes along to other sections, and what belongs to one screen does not', () => {
    const now = parameters('site=shop&from=2026-02-01&to=2026-02-03&device=mobile&close=%7B%7D&page=x')
    expect(keepLens('/pages', now, { page: 'y' })).toBe(
      '/pages?site=shop&from=2026-02-01&to=2026-02-03&device=mobile&page=y',
    )
    expect(keepLens('/pages', parameters(''))).toBe('/pages')
  })
  it('counts days across the change of clocks and of years', () => {
    expect(shiftDay('2026-03-30', -1)).toBe('2026-03-29')
    expect(shiftDay('2026-03-29', 1)).toBe('2026-03-30')
    expect(shiftDay('2025-12-31', 1)).toBe('2026-01-01')
  })
})
