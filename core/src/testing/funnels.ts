import fc from 'fast-check'
import type { EventCondition } from '../labels/event-condition.ts'
import type { FunnelOptions } from '../select/grammar/funnel-options.ts'
import type { Step } from '../select/grammar/steps.ts'
import { PAGES } from './world.ts'

/** Random funnels over the small random sessions of test-world.ts. For tests only. */
const conditions: EventCondition[] = [
  { kinds: ['page'], page: { is: 'one of', to: ['/a', '/b'] } },
  { kinds: ['error', 'click'] },
  { kinds: ['page', 'click'], any: [{ kinds: ['click'] }, { page: { is: 'equal', to: '/c' } }] },
]
const step: fc.Arbitrary<Step> = fc.oneof(
  { weight: 4, arbitrary: fc.constantFrom(...PAGES).map((page): Step => ({ type: 'page', page })) },
  { weight: 1, arbitrary: fc.constant<Step>({ type: 'click', selector: '#x' }) },
  {
    weight: 2,
    arbitrary: fc
      .constantFrom(...conditions)
      .map((event): Step => ({ type: 'event', name: 'either', event })),
  },
)

export const funnelSteps = fc.array(step, { minLength: 1, maxLength: 4 })
export const funnelOptions: fc.Arbitrary<FunnelOptions> = fc.record({
  per: fc.constantFrom('session' as const, 'visitor' as const),
  between: fc.constantFrom('anything' as const, 'nothing' as const),
  entry: fc.constantFrom('anywhere' as const, 'first' as const),
  withinMs: fc.option(fc.oneof(fc.nat(9000), fc.nat(4_000_000)), { nil: null }),
  // Often several after the same step.
  without: fc.array(
    fc.record({ after: fc.oneof(fc.constant(0), fc.nat(2)), event: fc.constantFrom(...conditions) }),
    { maxLength: 3 },
  ),
  by: fc.constant(null),
  trend: fc.constant(null),
})
