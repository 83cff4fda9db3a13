import { describe, expect, it } from 'vitest'
import type { Answered, True } from './judge.ts'
import { faultOf, judge, plainRankings, spearman } from './judge.ts'

const candidate = (more: Partial<Answered>): Answered => ({
  ...{
    rank: 1,
    pattern: '/nights',
    selector: 'ul.nights > li.night > div.night-picture > svg',
    kind: 'dead click',
  },
  ...{ confident: true, likely: 10, price: { value: 10, low: 5, high: 15 } },
  ...more,
})
const picture: True = {
  ...{ fault: 'deadPicture', page: '/nights', selector: 'ul.nights > li.night > div.night-picture > svg' },
  lost: 12,
}
const slow: True = { fault: 'slowPage', page: '/nights', selector: 'body', lost: 0.5 }

describe('faultOf', () => {
  it('wants page, element and kind right, whatever the place among siblings', () => {
    const selector = 'body > main > ul.nights > li.night > div.night-picture:nth-of-type(1) > svg'
    expect(faultOf(candidate({ selector }), [slow, picture])).toBe(picture)
    expect(faultOf(candidate({ selector: 'svg' }), [picture])).toBeUndefined()
    expect(faultOf(candidate({ pattern: '/hire' }), [picture])).toBeUndefined()
    expect(faultOf(candidate({ kind: 'script error' }), [picture])).toBeUndefined()
    expect(faultOf(candidate({ selector: '', kind: 'became slow' }), [picture, slow])).toBe(slow)
  })
})

describe('judge', () => {
  it('counts by hand what was found, priced and made up', () => {
    const judged = judge([
      {
        ...{ seed: 1, conversions: 100, truth: [picture, slow] },
        candidates: [
          candidate({}),
          candidate({ rank: 2, selector: 'p', confident: true }),
          candidate({ rank: 3, selector: '', kind: 'became slow', confident: false, likely: 1 }),
        ],
      },
      {
        seed: 2,
        conversions: 100,
        truth: [picture],
        candidates: [candidate({ rank: 16, price: { value: 24, low: 20, high: 28 } })],
      },
    ])
    expect(judged).toEqual({
      ...{ found: 1, costly: 2, falseAlarms: 0.5, inside: 1, priced: 2, confident: 3, harmless: 1, ratio: 2 },
      rank: expect.closeTo(1, 10) as number,
    })
  })
})

it('spearman agrees with a worked example, and with itself turned round', () => {
  // Source: Wikipedia, “Spearman's rank correlation coefficient”, IQ and hours of television (from memory): −29/165.
  const iq = [106, 100, 86, 101, 99, 103, 97, 113, 112, 110]
  const hours = [7, 27, 2, 50, 28, 29, 20, 12, 6, 17]
  expect(spearman(iq, hours)).toBeCloseTo(-29 / 165, 10)
  expect(
    spearman(
      iq,
      iq.map((n) => -n),
    ),
  ).toBeCloseTo(-1, 10)
})

it('rankings that need no method go by how many met a signal, and by how many fewer of these converted', () => {
  const spot = (kind: string, selector: string, hits: number, won: number, others: number) => ({
    ...{ kind, selector, page: '/book/:night/details', met: { hits } },
    ...{ converted: { hits: won, base: hits, share: won / hits }, others: { share: others } },
  })
  const { bySignals, againstEverybody } = plainRankings(
    [spot('rage click', '#a', 100, 50, 0.4), spot('failed submit', '#details', 40, 4, 0.5)],
    2,
  )
  expect(bySignals.map(({ rank, kind, selector }) => [rank, kind, selector])).toEqual([
    [1, 'dead click', '#a'],
    [2, 'refused form', '#details > button.button'],
  ])
  // 16 of 40 fewer, twice since the lens is half of 30 days; those who raged converted more than the others.
  expect(againstEverybody).toMatchObject([{ rank: 1, kind: 'refused form', price: { value: 32 } }])
})
