import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { meanOf } from '../../stats/mean.ts'
import { rate } from '../../stats/rate.ts'
import type { Side } from './verify.ts'
import { hasComeBack, verify, verifyWindows } from './verify.ts'

const DAY_MS = 86_400_000
const daysOf = ({ from, to }: { from: string; to: string }) =>
  Array.from({ length: (Date.parse(to) - Date.parse(from)) / DAY_MS + 1 }, (_, k) =>
    new Date(Date.parse(from) + k * DAY_MS).toISOString().slice(0, 10),
  )
const weekday = (day: string) => new Date(day).getUTCDay()

describe('verifyWindows', () => {
  it('waits for a full day, takes whole weeks as soon as there is one, and no more than four', () => {
    expect(verifyWindows('2026-05-10', '2026-05-10')).toBeUndefined()
    expect(verifyWindows('2026-05-10', '2026-05-09')).toBeUndefined()
    expect(verifyWindows('2026-05-10', '2026-05-12')).toEqual({
      ...{ days: 2, after: { from: '2026-05-11', to: '2026-05-12' } },
      before: { from: '2026-05-04', to: '2026-05-05' },
    })
    expect(verifyWindows('2026-05-10', '2026-05-19')).toEqual({
      ...{ days: 7, after: { from: '2026-05-11', to: '2026-05-17' } },
      before: { from: '2026-05-03', to: '2026-05-09' },
    })
    expect(verifyWindows('2026-05-10', '2026-12-01')!.days).toBe(28)
  })
  it('holds the same weekdays against one another, neither side on the day it was shipped', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20_000, max: 21_000 }), fc.integer({ min: 1, max: 60 }), (day, since) => {
        const name = (n: number) => new Date(n * DAY_MS).toISOString().slice(0, 10)
        const { before, after, days } = verifyWindows(name(day), name(day + since))!
        const [b, a] = [daysOf(before), daysOf(after)]
        expect([b.length, a.length]).toEqual([days, days])
        expect(b.at(-1)! < name(day)).toBe(true)
        expect(a[0]! > name(day) && a.at(-1)! <= name(day + since)).toBe(true)
        expect(b.map(weekday).sort()).toEqual(a.map(weekday).sort())
      }),
    )
  })
})

describe('verify', () => {
  const calm = { n: 500, ...meanOf({ n: 500, sum: 5000, squares: 60_000 }) }
  const side = (met: [number, number], converted: [number, number], more: Partial<Side> = {}): Side => ({
    ...{ met: rate(...met), converted: rate(...converted), strain: calm, goals: [] },
    ...more,
  })
  it.each([
    ['works', side([300, 1000], [100, 1000]), side([20, 1000], [150, 1000])],
    ['met less', side([300, 1000], [100, 1000]), side([20, 1000], [104, 1000])],
    ['worse', side([20, 1000], [100, 1000]), side([300, 1000], [150, 1000])],
    ['worse', side([300, 1000], [150, 1000]), side([20, 1000], [90, 1000])],
    ['no change', side([3000, 10_000], [1000, 10_000]), side([3010, 10_000], [1000, 10_000])],
    ['cannot tell yet', side([3, 10], [1, 10]), side([2, 10], [1, 10])],
    ['cannot tell yet', side([3, 10], [1, 10]), side([0, 0], [0, 0])],
    ['cannot tell yet', side([0, 1000], [100, 1000]), side([0, 1000], [100, 1000])],
  ] as const)('says “%s”', (verdict, before, after) => {
    expect(verify(before, after).verdict).toBe(verdict)
  })
  it('names what became worse meanwhile', () => {
    const goals = (hits: number) => [
      { name: 'Booked', reached: rate(1, 2) },
      { name: 'Joined', reached: rate(hits, 1000) },
    ]
    const hard = { n: 500, ...meanOf({ n: 500, sum: 9000, squares: 200_000 }) }
    const { reason, guardrails } = verify(
      side([300, 1000], [100, 1000], { goals: goals(200) }),
      side([20, 1000], [150, 1000], { goals: goals(90), strain: hard }),
    )
    expect(reason).toContain('Became worse meanwhile: strain, reached “Joined”.')
    expect(guardrails.map(({ worse }) => worse)).toEqual([true, true])
  })
  it('notices what comes back, and not what is noise', () => {
    expect(hasComeBack(rate(20, 1000), rate(300, 1000))).toBe(true)
    expect(hasComeBack(rate(20, 1000), rate(25, 1000))).toBe(false)
    expect(hasComeBack(rate(20, 1000), rate(0, 0))).toBe(false)
  })
})
