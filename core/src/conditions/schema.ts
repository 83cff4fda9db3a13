import { z } from 'zod'
import type { Selection } from '../closeup/selection-schema.ts'
import { selectionSchema } from '../closeup/selection-schema.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'
import type {
  EventCondition,
  NumberTest,
  SequenceStep,
  SessionNumber,
  SessionText,
  TextTest,
} from './terms.ts'
import {
  eventConditionSchema,
  number,
  numberTestSchema,
  SEQUENCE_ANCHORS,
  sequenceStep,
  SESSION_NUMBERS,
  SESSION_TEXTS,
  textTestSchema,
} from './terms.ts'

export * from './terms.ts'

/** Deepest nesting of groups: deeper ones are no question that people ask. */
const DEEPEST = 12

/** A condition on sessions. */
export type Condition =
  | { type: 'all'; of: Condition[] }
  | { type: 'any'; of: Condition[] }
  | { type: 'not'; of: Condition }
  | { type: 'text'; of: SessionText; test: TextTest }
  | { type: 'number'; of: SessionNumber; test: NumberTest }
  | { type: 'visit'; is: 'first' | 'returning' }
  /** has so many such events; at least one where no count is named */
  | { type: 'event'; event: EventCondition; count?: NumberTest | undefined }
  | {
      type: 'signal'
      kind?: (typeof SIGNAL_KINDS)[number] | undefined
      page?: TextTest | undefined
      element?: TextTest | undefined
      count?: NumberTest | undefined
    }
  /** is one of those that a selection picks */
  | { type: 'selected'; selection: Selection }
  | {
      type: 'sequence'
      steps: SequenceStep[]
      anchor: (typeof SEQUENCE_ANCHORS)[number]
      /** from first to last step at most so long */
      withinMs?: number | undefined
    }

const level: z.ZodType<Condition> = z.lazy(() =>
  z.discriminatedUnion('type', [
    z.object({ type: z.literal('all'), of: z.array(level).max(50) }),
    z.object({ type: z.literal('any'), of: z.array(level).min(1).max(50) }),
    z.object({ type: z.literal('not'), of: level }),
    z.object({ type: z.literal('text'), of: z.enum(SESSION_TEXTS), test: textTestSchema }),
    z.object({ type: z.literal('number'), of: z.enum(SESSION_NUMBERS), test: numberTestSchema }),
    z.object({ type: z.literal('visit'), is: z.enum(['first', 'returning']) }),
    z.object({
      type: z.literal('event'),
      event: eventConditionSchema,
      count: numberTestSchema.optional(),
    }),
    z.object({
      type: z.literal('signal'),
      kind: z.enum(SIGNAL_KINDS).optional(),
      page: textTestSchema.optional(),
      element: textTestSchema.optional(),
      count: numberTestSchema.optional(),
    }),
    z.object({ type: z.literal('selected'), selection: selectionSchema }),
    z.object({
      type: z.literal('sequence'),
      steps: z.array(sequenceStep).min(1).max(12),
      anchor: z.enum(SEQUENCE_ANCHORS).default('anywhere'),
      withinMs: number.min(0).optional(),
    }),
  ]),
)

/** The one schema of every condition, in questions, addresses and storage. */
export const conditionSchema: z.ZodType<Condition> = level.refine(
  (condition) => depth(condition) <= DEEPEST,
  {
    error: `groups may lie at most ${DEEPEST} deep in one another`,
  },
)

function depth(condition: Condition): number {
  if (condition.type === 'not') return 1 + depth(condition.of)
  if (condition.type === 'all' || condition.type === 'any')
    return 1 + condition.of.reduce((most, one) => Math.max(most, depth(one)), 0)
  if (condition.type === 'selected' && condition.selection.type === 'where')
    return 1 + depth(condition.selection.condition)
  return 1
}
