import fc from 'fast-check'
import type { Condition } from '../select/grammar/conditions.ts'
import { PAGES } from './world.ts'

const page = fc.constantFrom(...PAGES)

/** Conditions of every kind on the small random sessions of test-world.ts. For tests only. */
export const someConditions = fc.oneof(
  page.map((to): Condition => ({ type: 'event', event: { kinds: ['page'], page: { is: 'equal', to } } })),
  fc.nat(3).map((to): Condition => ({
    type: 'event',
    event: { kinds: ['click'] },
    count: { is: 'at least', to },
  })),
  page.map((to): Condition => ({ type: 'text', of: 'entry page', test: { is: 'equal', to } })),
  fc.constantFrom<Condition>(
    { type: 'not', of: { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } } },
    { type: 'text', of: 'visitor', test: { is: 'equal', to: 'v1' } },
    { type: 'number', of: 'duration', test: { is: 'more than', to: 9000 } },
    { type: 'signal', kind: 'dead click' },
    { type: 'event', event: { path: { is: 'containing', to: 'a' } } },
    { type: 'event', event: { path: { is: 'starting with', to: '/new' } } },
    {
      type: 'sequence',
      anchor: 'anywhere',
      steps: [
        { event: { kinds: ['click'] }, how: 'later' },
        { event: { kinds: ['page'] }, how: 'directly' },
      ],
    },
  ),
)
