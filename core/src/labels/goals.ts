import { z } from 'zod'
import type { EventCondition } from './event-condition.ts'
import { eventConditionSchema } from './event-condition.ts'

/** What a site wants its visitors to do. */
export const goalSchema = z.strictObject({
  name: z
    .string()
    .trim()
    .min(1, { error: 'Give the goal a name.' })
    .max(120, { error: 'At most 120 characters.' }),
  event: eventConditionSchema.describe('what reaches it: a page view, an action, or any other event'),
  value: z
    .union([z.literal('event'), z.number().min(0, { error: 'must not be negative' })])
    .nullable()
    .describe(
      'what reaching it is worth: a fixed amount, "event" = the amount of the event, null = not known',
    ),
})
export type Goal = z.infer<typeof goalSchema>

/** The goal that seeing a page group is. */
export function pageGoal(page: string): Goal {
  return { name: page, event: { kinds: ['page'], page: { is: 'equal', to: page } }, value: null }
}

/** The page group whose view alone reaches a goal; undefined where something else does. */
export function pageOfGoal({ event }: { event: EventCondition }): string | undefined {
  const { kinds, page, ...others } = event
  const isView = kinds?.length === 1 && kinds[0] === 'page' && page?.is === 'equal'
  return isView && Object.values(others).every((part) => part === undefined) ? page.to : undefined
}
