import { describe, expect, it } from 'vitest'
import type { FunnelAnswer } from './funnel.ts'
import { largestLeaks } from './largest-leaks.ts'

const answer = (...reached: number[]) =>
  ({
    converted: reached.at(-1)!,
    steps: reached.map((sessions, k) => ({ name: `step ${k}`, sessions })),
  }) as unknown as FunnelAnswer
const part = (label: string, ...reached: number[]) => ({ label, reached })

describe('largestLeaks', () => {
  const now = answer(1000, 500, 200, 100)
  it('holds each step against the best of one’s own, at what going on is worth from there', () => {
    const leaks = largestLeaks(now, [part('desktop', 600, 420, 120, 60), part('mobile', 400, 80, 80, 40)])
    // 70 % go on from the first step on desktops, where 50 % do in all: 200 of 1,000 more, of whom one in five converts.
    expect(leaks.find(({ step }) => step === 0)).toMatchObject({
      step: 0,
      best: { label: 'desktop', rate: { hits: 420, base: 600 } },
    })
    expect(leaks.find(({ step }) => step === 0)!.lost).toBeCloseTo(1000 * 0.2 * (100 / 500), 9)
    // From the second step all on phones go on, where 40 % do in all.
    expect(leaks.find(({ step }) => step === 1)).toMatchObject({ step: 1, best: { label: 'mobile' } })
    expect(leaks.find(({ step }) => step === 1)!.lost).toBeCloseTo(500 * 0.6 * (100 / 200), 9)
    expect(leaks.map(({ lost }) => lost)).toEqual([...leaks.map(({ lost }) => lost)].sort((a, b) => b - a))
  })
  it('holds nothing up that is few, or no better than chance', () => {
    expect(largestLeaks(now, [part('few', 49, 49, 49, 49), part('same', 500, 260, 104, 50)])).toEqual([])
  })
  it('says nothing of a step from which nobody went on', () => {
    expect(largestLeaks(answer(100, 0), [part('best', 100, 90)])).toEqual([])
  })
})
