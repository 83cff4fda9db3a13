import { z } from 'zod'
import { eventConditionSchema, number } from '../../labels/event-condition.ts'

export const SEQUENCE_ANCHORS = ['anywhere', 'starts with', 'ends with', 'only'] as const

export const sequenceStep = z.strictObject({
  event: eventConditionSchema,
  how: z
    .enum(['later', 'directly'])
    .default('later')
    .describe(
      'how it follows the step before: with anything in between, or with nothing that any step or `without` names',
    ),
  withinMs: number.min(0).optional().describe('at most so long after the step before'),
  without: eventConditionSchema.optional().describe('nothing of this between the step before and this one'),
})

export type SequenceStep = z.infer<typeof sequenceStep>
