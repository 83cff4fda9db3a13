import { funnelOptionsSchema } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { definition, inUnits, whatIsBroken } from './definition.ts'

const steps = ['Home', 'Basket', 'Paid'].map((page) => ({ type: 'page' as const, page }))
const options = (more: object = {}) => funnelOptionsSchema.parse(more)

describe('inUnits', () => {
  it.each([
    [60_000, 1, 'minutes'],
    [90 * 60_000, 90, 'minutes'],
    [2 * 3_600_000, 2, 'hours'],
    [86_400_000, 1, 'days'],
    [36 * 3_600_000, 36, 'hours'],
  ])('says %d ms as %d %s', (ms, amount, unit) => {
    expect(inUnits(ms)).toEqual({ amount, unit })
  })
})

describe('definition', () => {
  it('says what is counted unless something else is chosen', () => {
    expect(definition(steps, options())).toBe(
      'Counts sessions that did these steps in this order, with anything in between, within one session.',
    )
  })
  it('says every choice', () => {
    const without = [{ after: 1, event: { kinds: ['error' as const] } }]
    const said = definition(
      steps,
      options({ between: 'nothing', entry: 'first', withinMs: 7_200_000, without, by: 'device' }),
    )
    expect(said).toContain('one directly after the other')
    expect(said).toContain('beginning with the first step as their first page view')
    expect(said).toContain('within 2 hours of the first step')
    expect(said).toMatch(/without .*error.* between “Basket” and the next step/)
    expect(said).toMatch(/; for each device.*\.$/)
    expect(definition(steps, options({ withinMs: 86_400_000 }))).toContain('within 1 day of the first step')
  })
  it('counts visitors over all their sessions', () => {
    expect(definition(steps, options({ per: 'visitor' }))).toBe(
      'Counts visitors, over all their sessions in the lens, that did these steps in this order, with anything in between, however long it took.',
    )
  })
  it('names what may not lie in between by its number where the step has gone', () => {
    const without = [{ after: 5, event: { kinds: ['error' as const] } }]
    expect(definition(steps, options({ without }))).toContain('between “step 6” and the next step')
  })
})

describe('whatIsBroken', () => {
  const result = (...counts: number[]) => ({
    sessions: 100,
    steps: counts.map((sessions) => ({ sessions })),
  })
  it('says nothing of a funnel that works, of an empty lens, or while it is not known', () => {
    expect(whatIsBroken(steps, result(50, 20, 10), [50, 30, 20])).toBeUndefined()
    expect(whatIsBroken(steps, { ...result(0, 0, 0), sessions: 0 }, [0, 0, 0])).toBeUndefined()
    expect(whatIsBroken(steps, result(50, 0, 0), undefined)).toBeUndefined()
  })
  it('tells a step that nobody did from one in an impossible place', () => {
    expect(whatIsBroken(steps, result(50, 0, 0), [50, 0, 20])).toMatch(
      /^Nobody in the lens did “Basket” at all/,
    )
    expect(whatIsBroken(steps, result(50, 0, 0), [50, 30, 20])).toBe(
      '30 did “Basket”, but nobody after “Home”: the two may stand in the wrong order. Change the step, or take it out.',
    )
  })
  it('looks at how it counts where the first step is done but never counts', () => {
    expect(whatIsBroken(steps, result(0, 0, 0), [40, 30, 20])).toBe(
      'Nobody counts as having begun with “Home”, though 40 did it. Look at how it counts.',
    )
  })
})
