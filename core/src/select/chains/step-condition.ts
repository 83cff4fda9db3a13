import { familyName } from '../../labels/element-families.ts'
import type { EventCondition } from '../../labels/event-condition.ts'
import type { Step } from '../grammar/steps.ts'

/** What makes an event count as a step, as a condition: the same one each time, so that its tables are made once. */
export function stepCondition(step: Step): EventCondition {
  if (step.type === 'event') return step.event
  let condition = conditions.get(step)
  if (!condition) conditions.set(step, (condition = made(step)))
  return condition
}

const conditions = new WeakMap<Step, EventCondition>()

function made(step: Exclude<Step, { type: 'event' }>): EventCondition {
  const page = step.page === undefined ? undefined : ({ is: 'equal', to: step.page } as const)
  if (step.type === 'page') return { kinds: ['page'], page }
  return { kinds: ['click'], page, element: { is: 'equal', to: familyName(step.selector) } }
}
