import { conditionSchema } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { sequenceOf } from './sequence-choice.tsx'

const page = (to: string) => ({ kinds: ['page' as const], page: { is: 'equal' as const, to } })
const eventOf = (key: string) => (key ? page(key) : undefined)
const row = (event: string, more: Partial<Parameters<typeof sequenceOf>[1][0]> = {}) => ({
  event,
  how: 'later' as const,
  seconds: '',
  without: '',
  ...more,
})

describe('sequenceOf', () => {
  it('is a condition once every step is chosen', () => {
    expect(sequenceOf('anywhere', [row('A'), row('')], '', eventOf)).toBeUndefined()
    const made = sequenceOf(
      'starts with',
      [
        row('A', { how: 'directly', seconds: '3' }),
        row('B', { how: 'directly', seconds: '20', without: 'C' }),
      ],
      '5',
      eventOf,
    )
    expect(made).toEqual({
      type: 'sequence',
      anchor: 'starts with',
      // The first step follows nothing.
      steps: [
        { event: page('A'), how: 'later' },
        { event: page('B'), how: 'directly', withinMs: 20_000, without: page('C') },
      ],
      withinMs: 300_000,
    })
    expect(conditionSchema.safeParse(made).success).toBe(true)
  })
})
