import { describe, expect, it } from 'vitest'
import { readCosts } from './costs.ts'

describe('readCosts', () => {
  it('takes the columns in any order, and amounts as they are', async () => {
    expect(
      await readCosts('Campaign,Day,Cost\r\nspring,2026-05-01,12.50\r\n"a, b",2026-05-02,0\r\n'),
    ).toEqual([
      { campaign: 'spring', day: '2026-05-01', cost: 12.5 },
      { campaign: 'a, b', day: '2026-05-02', cost: 0 },
    ])
  })
  it.each([
    ['day,cost\n2026-05-01,1', 'no column campaign'],
    ['day,campaign,cost\n2026-05-01,a,1\n2026-02-30,a,1', 'Line 3: day'],
    ['day,campaign,cost\n2026-05-01,a,', 'Line 2: cost'],
    ['day,campaign,cost\n2026-05-01,a,-1', 'must not be negative'],
    ['day,campaign,cost\n2026-05-01, ,1', 'Name the campaign'],
  ])('names what is wrong in %j', async (text, words) => {
    await expect(readCosts(text)).rejects.toThrow(words)
  })
})
