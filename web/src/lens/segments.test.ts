import type { Segment } from '@dust-trail/api'
import type { Condition, Noise } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { lensOf, lineageOf, MOST_SIDES, segmentCondition, SIDES } from './segments.ts'

const from = (country: string): Condition => ({
  type: 'text',
  of: 'country',
  test: { is: 'equal', to: country },
})
const repeats: Noise = { type: 'repeats', withinMs: null } as unknown as Noise
const segment = (
  id: number,
  parentId: number | null,
  condition: Condition | null,
  clean: Noise[] = [],
): Segment => ({
  id,
  parentId,
  name: `segment ${id}`,
  note: '',
  owner: '',
  cut: { condition, clean },
  createdMs: 0,
})
const all = [segment(1, null, from('IE'), [repeats]), segment(2, 1, null), segment(3, 2, from('FR'))]
const lens = { from: '2026-01-01', to: '2026-01-31', devices: [] }

describe('what a segment was cut from', () => {
  it('is told from the first cut on', () => {
    expect(lineageOf(all[2]!, all).map(({ id }) => id)).toEqual([1, 2, 3])
    expect(lineageOf(all[0]!, all).map(({ id }) => id)).toEqual([1])
  })
  it('ends where a segment is gone or would come again', () => {
    expect(lineageOf(segment(4, 99, null), all).map(({ id }) => id)).toEqual([4])
    const round = [segment(1, 2, null), segment(2, 1, null)]
    expect(lineageOf(round[0]!, round).map(({ id }) => id)).toEqual([2, 1])
  })
  it('must all hold', () => {
    expect(segmentCondition(all[2]!, all)).toEqual({ type: 'all', of: [from('IE'), from('FR')] })
    expect(segmentCondition(segment(4, null, null), all)).toBeUndefined()
  })
  it('narrows the lens down, beside what it had', () => {
    const where = from('DE')
    expect(lensOf({ ...lens, where }, all[2]!, all)).toEqual({
      ...lens,
      where: { type: 'all', of: [where, from('IE'), from('FR')] },
      clean: [repeats],
    })
    expect(lensOf(lens, segment(4, null, null), all)).toEqual(lens)
  })
})

it('nothing that lies side by side looks like another', () => {
  expect(new Set(SIDES.map(({ colour }) => colour)).size).toBe(MOST_SIDES)
  expect(new Set(SIDES.map(({ dash }) => dash)).size).toBe(MOST_SIDES)
})
