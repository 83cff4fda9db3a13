import { describe, expect, it } from 'vitest'
import { STRAIN_WEIGHTS } from '../../labels/strain-weights.ts'
import type { StoryMoment } from './story.ts'
import { storyOf } from './story.ts'
import { whyOf } from './trouble-words.ts'

const at = (s: number, kind: StoryMoment['kind'], page: string, label = '', signal = false): StoryMoment => ({
  ...{ atMs: s * 1000, kind, page, label, signal },
})
const summary = {
  ...{ durationMs: 200_000, device: 'mobile' as const, channel: 'Organic search' },
  ...{ pages: 2, returning: false },
}
const told = (
  moments: StoryMoment[],
  { strain = 10, reachedS = NaN }: { strain?: number; reachedS?: number } = {},
) =>
  storyOf({
    ...{ summary, moments, strain, weights: STRAIN_WEIGHTS },
    goal: { name: 'Booked', atMs: reachedS * 1000 },
  })

describe('a session in sentences', () => {
  const views = [at(0, 'page', 'Nights'), at(150, 'page', 'Details')]

  it('says what it came for, did, and how it ended, each with its moment', () => {
    const { tone, sentences, next } = told([
      ...views,
      at(160, 'input', 'Details', 'Name'),
      at(170, 'submit', 'Details'),
    ])
    expect(tone).toBe('smooth')
    expect(sentences).toEqual([
      { text: 'Came by organic search to Nights, on a phone, for the first time.', atMs: 0 },
      { text: 'Viewed 2 pages in 3 min, longest Nights (3 min).', atMs: 0 },
      { text: 'Filled in one field and sent a form.', atMs: 160_000 },
      { text: 'Left at Details without Booked.', atMs: 200_000 },
    ])
    expect(next).toEqual({ text: 'Where others left from Details', place: 'page', page: 'Details' })
  })

  it('tells the hardest trouble first, alike as one, and that it ended right after', () => {
    const { tone, sentences, next } = told([
      ...views,
      ...[10, 20, 30].map((s) => at(s, 'near miss', 'Nights', 'Month', true)),
      at(180, 'failed submit', 'Details', 'Send · 2 times', true),
    ])
    expect(tone).toBe('troubled')
    const words = sentences.map(({ text }) => text)
    const weighs = (kind: 'near miss' | 'failed submit', n: number) =>
      Array.from({ length: n }, (_, k) => STRAIN_WEIGHTS[kind] / (k + 1)).reduce((a, b) => a + b)
    const missed = 'Met 3 × near miss (“Month”) on Nights.'
    const failed = 'Met a failed submit (“Send”) on Details.'
    expect(words.slice(2, 4)).toEqual(
      weighs('near miss', 3) > weighs('failed submit', 1) ? [missed, failed] : [failed, missed],
    )
    expect(words[4]).toBe('Left at Details without Booked, 20 s after a failed submit.')
    expect(next).toMatchObject({ place: 'forms', page: 'Details' })
  })

  it('that reached the goal is mixed at worst below the band “hard”, troubled from it on', () => {
    const moments = [...views, at(190, 'rage click', 'Details', '', true)]
    expect(told(moments, { reachedS: 195, strain: 49 }).tone).toBe('mixed')
    expect(told(moments, { reachedS: 195, strain: 50 }).tone).toBe('troubled')
    expect(told(moments, { reachedS: 195 }).sentences.at(-1)!.text).toBe('Reached Booked after 3 min.')
    expect(told(views, { reachedS: 0 }).next).toBeNull()
  })

  it('of nothing at all is a story too', () => {
    expect(told([]).sentences.map(({ text }) => text)).toEqual([
      'Came by organic search to the site, on a phone, for the first time.',
      'Viewed 2 pages in 3 min.',
      'Left at an unknown page without Booked.',
    ])
  })
})

it('why a session stands high is said shortly', () => {
  const label = 'x'.repeat(100)
  expect(whyOf({ kind: 'rage click', label: 'Continue', times: 3 }, 'Payment')).toBe(
    '3 × rage click on “Continue”, left at Payment',
  )
  expect(whyOf({ kind: 'slow page', label, times: 1 }, 'Home').length).toBeLessThan(90)
})
