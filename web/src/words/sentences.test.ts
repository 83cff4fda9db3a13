import { DEFAULT_OPTIONS } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { comparedLens } from '../app/lens.ts'
import { lineageOf, segmentCondition, segmentNoise } from '../lens/segments.ts'
import { definition, whatIsBroken } from '../sections/funnels/definition.ts'
import { conditionWords, noiseWords, together } from './sentences.ts'

const page = (to: string) => ({ kinds: ['page' as const], page: { is: 'equal' as const, to } })
const mobile = { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } } as const
const first = { type: 'visit', is: 'first' } as const

describe('conditions in words', () => {
  it('read as a sentence', () => {
    expect(conditionWords({ type: 'all', of: [mobile, { type: 'not', of: first }] })).toBe(
      'device is mobile and not (first visit)',
    )
    expect(
      conditionWords({ type: 'event', event: page('A night'), count: { is: 'between', from: 2, to: 4 } }),
    ).toBe('saw A night 2 to 4 times')
    expect(conditionWords({ type: 'number', of: 'duration', test: { is: 'at least', to: 90_000 } })).toBe(
      'length at least 1 min 30 s',
    )
    const steps = [
      { event: page('A'), how: 'later' as const },
      { event: page('B'), how: 'directly' as const },
    ]
    expect(conditionWords({ type: 'sequence', steps, anchor: 'starts with', withinMs: 60_000 })).toBe(
      'began with A directly then B, all within 1 min 00 s',
    )
    const without = { event: page('B'), how: 'later' as const, withinMs: 20_000, without: page('C') }
    expect(
      conditionWords({
        type: 'sequence',
        steps: [{ event: page('A'), how: 'later' }, without],
        anchor: 'anywhere',
      }),
    ).toBe('did A then B within 20 s without C in between')
    expect(noiseWords({ type: 'repeats', withinMs: null })).toBe('repeats count once')
  })
  it('become one without nesting', () => {
    expect(together([mobile, null, { type: 'all', of: [first] }])).toEqual({
      type: 'all',
      of: [mobile, first],
    })
    expect(together([null, undefined])).toBeUndefined()
  })
})

describe('a segment', () => {
  const segment = (id: number, parentId: number | null, condition: typeof mobile | typeof first | null) => ({
    id,
    parentId,
    name: `s${id}`,
    note: '',
    owner: '',
    createdMs: 0,
    cut: { condition, clean: condition ? [] : [{ type: 'repeats' as const, withinMs: 1000 }] },
  })
  const all = [segment(1, null, mobile), segment(2, 1, null), segment(3, 2, first)]
  it('is what it and all it was cut from ask for', () => {
    expect(lineageOf(all[2]!, all).map(({ id }) => id)).toEqual([1, 2, 3])
    expect(segmentCondition(all[2]!, all)).toEqual({ type: 'all', of: [mobile, first] })
    expect(segmentNoise(all[2]!, all)).toEqual([{ type: 'repeats', withinMs: 1000 }])
  })
  it('whose parent is unknown, or that hangs from itself, does not go round for ever', () => {
    expect(lineageOf(segment(9, 8, first), all)).toHaveLength(1)
    const loop = [segment(1, 2, mobile), segment(2, 1, first)]
    expect(lineageOf(loop[0]!, loop)).toHaveLength(2)
  })
})

describe('the period compared with', () => {
  const lens = { from: '2026-03-09', to: '2026-03-18', devices: [] }
  it('is as long and just before, or on the same weekdays', () => {
    expect(comparedLens(lens, 'before')).toMatchObject({ from: '2026-02-27', to: '2026-03-08' })
    // Ten days: two weeks back, a Monday again.
    expect(comparedLens(lens, 'weekdays')).toMatchObject({ from: '2026-02-23', to: '2026-03-04' })
    expect(comparedLens(lens, { from: '2025-01-01', to: '2025-01-02' })).toMatchObject({ from: '2025-01-01' })
    expect(comparedLens(lens, 'none')).toBeNull()
  })
})

describe('a funnel in words', () => {
  const steps = ['A', 'B'].map((name) => ({ type: 'page' as const, page: name }))
  it('says exactly how it counts', () => {
    expect(definition(steps, DEFAULT_OPTIONS)).toBe(
      'Counts sessions that did these steps in this order, with anything in between, within one session.',
    )
    const options = {
      ...DEFAULT_OPTIONS,
      per: 'visitor' as const,
      withinMs: 10 * 86_400_000,
      without: [{ after: 0, event: page('Help') }],
      by: 'device' as const,
    }
    expect(definition(steps, options)).toContain(
      'within 10 days of the first step, without Help between “A” and the next step',
    )
  })
  it('that comes to nothing says why', () => {
    const result = (...counts: number[]) => ({ sessions: 9, steps: counts.map((sessions) => ({ sessions })) })
    expect(whatIsBroken(steps, result(5, 0), [5, 0])).toContain('Nobody in the lens did “B” at all')
    expect(whatIsBroken(steps, result(5, 0), [5, 3])).toContain('wrong order')
    expect(whatIsBroken(steps, result(5, 2), [5, 3])).toBeUndefined()
    expect(whatIsBroken(steps, result(5, 0), undefined)).toBeUndefined()
  })
})
