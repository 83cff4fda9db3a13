import { z } from 'zod'
import { eventConditionSchema } from '../../labels/event-condition.ts'

/** What is not to be counted as having happened. */
export const noiseSchema = z.discriminatedUnion('type', [
  /** events like the one before them in the session: same kind, page, element and name; `withinMs` after it at most */
  z.strictObject({
    type: z.literal('repeats'),
    withinMs: z.number().min(0).nullable().default(null),
    event: eventConditionSchema.optional(),
  }),
  /** all events that a condition names */
  z.strictObject({ type: z.literal('events'), event: eventConditionSchema }),
])

export type Noise = z.infer<typeof noiseSchema>
