import { describe, expect, it } from 'vitest'
import { heatColour } from '../sections/pages/ramp.ts'
import { describeSelection } from '../words/sentences.ts'
import {
  bucketWords,
  bytesText,
  clock,
  count,
  day,
  daysText,
  decimal,
  duration,
  moment,
  percent,
  plural,
  points,
  rateText,
} from './format.ts'

describe('numbers for people', () => {
  it('never shows a rate without its base', () => {
    expect(rateText({ hits: 1647, base: 4310, share: 1647 / 4310, interval: [0, 1] }, 'sessions')).toBe(
      '38.2 % of 4,310 sessions',
    )
    expect(percent(null)).toBe('–')
  })
  it('tells days with their year where it is not this one', () => {
    expect(daysText('2026-05-04', '2026-05-31', '2026-06-02')).toBe('4 May – 31 May')
    expect(daysText('2026-05-04', '2026-05-04', '2026-06-02')).toBe('4 May')
    expect(daysText('2020-01-01', '2020-01-02', '2026-06-02')).toBe('1 Jan – 2 Jan 2020')
    expect(daysText('2025-12-20', '2026-01-02', '2026-01-02')).toBe('20 Dec 2025 – 2 Jan 2026')
  })
  it('tells numbers below zero by a minus, and thousands apart', () => {
    expect([-2.4, -0.2, 1243.83].map((n) => decimal(n, 0))).toEqual(['−2', '0', '1,244'])
    expect([-2.44, -0.04, 1243.83].map((n) => decimal(n))).toEqual(['−2.4', '0.0', '1,243.8'])
  })
  it('tells weights in the unit that reads best', () => {
    expect([999, 1500, 12_400, 2_340_000].map(bytesText)).toEqual(['999 B', '1.5 kB', '12 kB', '2.3 MB'])
  })
  it('signs differences', () => {
    expect(points(0.0512)).toBe('+5.1 pp')
    expect(points(-0.0512)).toBe('−5.1 pp')
    expect(points(0.0001)).toBe('±0.0 pp')
  })
  it.each([
    [0, '0.0 s'],
    [9400, '9.4 s'],
    [59_400, '59 s'],
    [95_000, '1 min 35 s'],
    [3_600_000 * 3, '3 h 00 min'],
  ])('says %d ms as %s', (ms, text) => {
    expect(duration(ms)).toBe(text)
  })
  it('counts', () => {
    expect(plural(1, 'session')).toBe('1 session')
    expect(plural(1200, 'session')).toBe('1,200 sessions')
    expect(count(0)).toBe('0')
    expect(clock(187_400)).toBe('3:07')
  })
})

describe('times for people', () => {
  it('says a moment in the time of a place, whichever was asked about before', () => {
    const ms = Date.UTC(2026, 6, 1, 23, 30)
    for (let again = 0; again < 2; again++) {
      expect(moment(ms, 'UTC')).toBe('1 Jul, 23:30')
      expect(moment(ms, 'Europe/Dublin')).toBe('2 Jul, 00:30')
      expect(moment(ms, 'America/New_York')).toBe('1 Jul, 19:30')
    }
  })
  it('says a day of the calendar, whatever the time where one is', () => {
    expect(day('2026-11-27')).toBe('27 Nov')
    expect(day('2026-01-01')).toBe('1 Jan')
  })
  it('says the days, weeks and months of a trend in the same way', () => {
    expect(['2026-05-04', '2026-W09', '2026-05'].map(bucketWords)).toEqual([
      '4 May',
      'week 9 of 2026',
      'May 2026',
    ])
  })
})

describe('describeSelection', () => {
  const steps = [
    { type: 'page' as const, page: 'Home' },
    { type: 'click' as const, selector: 'a > b > c', text: 'Go' },
  ]
  it.each([
    [
      { type: 'funnel', steps, step: 0, side: 'dropped', leak: 'other', page: 'Help' },
      'Dropped off at “Home”: went to Help',
    ],
    [{ type: 'funnel', steps, step: 1, side: 'reached' }, 'Reached “Click on “Go””'],
    [{ type: 'clicks', page: 'Home', which: 'dead', selector: 'x > y > z' }, 'Dead clicks on y > z, Home'],
    [{ type: 'everyone' }, 'Everyone in the lens'],
  ] as const)('%j', (selection, words) => {
    expect(describeSelection(selection as never)).toBe(words)
  })
})

describe('heatColour', () => {
  it('goes from nothing to dark without turning back', () => {
    const light = (share: number) => {
      const [r, g, b, a] = heatColour(share)
      return (0.3 * r + 0.6 * g + 0.1 * b) * (a / 255) + 255 * (1 - a / 255)
    }
    let before = 256
    for (let share = 0; share <= 1; share += 0.05) {
      expect(light(share)).toBeLessThan(before)
      before = light(share)
    }
    expect(heatColour(0)[3]).toBe(0)
  })
})
