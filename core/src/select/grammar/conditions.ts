import { z } from 'zod'
import type { SessionClass } from '../../events/traffic.ts'
import { SESSION_CLASSES } from '../../events/traffic.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import type { EventCondition, NumberTest, TextTest } from '../../labels/event-condition.ts'
import {
  CLICK_TRAITS,
  eventConditionSchema,
  number,
  numberTestSchema,
  textTestSchema,
} from '../../labels/event-condition.ts'
import { LEVELS, tokenSchema } from '../../labels/tokens.ts'
import type { SessionNumber, SessionText } from './attributes.ts'
import { SESSION_NUMBERS, SESSION_TEXTS } from './attributes.ts'
import { funnelOptionsSchema, refineWithout } from './funnel-options.ts'
import { LEAK_KINDS } from './leak-kinds.ts'
import type { Noise } from './noise.ts'
import { noiseSchema } from './noise.ts'
import type { SequenceStep } from './sequences.ts'
import { SEQUENCE_ANCHORS, sequenceStep } from './sequences.ts'
import { stepsSchema } from './steps.ts'
import { pathPartSchema, walkSchema } from './walk.ts'

const day = z
  .string({ error: 'must be a day such as 2026-03-31' })
  .regex(/^\d{4}-\d{2}-\d{2}$/, { error: 'must be a day such as 2026-03-31' })
  .refine(isDay, { error: 'is no day of the calendar' })

/** Days from then on, and until then, can be asked about. */
const [FIRST_DAY, LAST_DAY] = ['1970-01-01', '2999-12-31']

function isDay(text: string): boolean {
  const date = new Date(`${text}T00:00:00Z`)
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(text)
}

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
    z.strictObject({ type: z.literal('all'), of: z.array(level).max(50) }),
    z.strictObject({ type: z.literal('any'), of: z.array(level).min(1).max(50) }),
    z.strictObject({ type: z.literal('not'), of: level }),
    z.strictObject({ type: z.literal('text'), of: z.enum(SESSION_TEXTS), test: textTestSchema }),
    z.strictObject({ type: z.literal('number'), of: z.enum(SESSION_NUMBERS), test: numberTestSchema }),
    z.strictObject({ type: z.literal('visit'), is: z.enum(['first', 'returning']) }),
    z.strictObject({
      type: z.literal('event'),
      event: eventConditionSchema,
      count: numberTestSchema.optional(),
    }),
    z.strictObject({
      type: z.literal('signal'),
      kind: z.enum(SIGNAL_KINDS).optional(),
      page: textTestSchema.optional(),
      element: textTestSchema.optional(),
      count: numberTestSchema.optional(),
    }),
    z.strictObject({ type: z.literal('selected'), selection: selectionSchema }),
    z.strictObject({
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

/** What is shown on the map of a page: clicks of some kind, gestures of fingers, and where the pointer rested. */
export const CLICK_SORTS = ['all', ...CLICK_TRAITS, 'swipe', 'zoom', 'rest'] as const

export type ClickSort = (typeof CLICK_SORTS)[number]

const plain = [
  z
    .strictObject({
      type: z.literal('funnel'),
      steps: stepsSchema,
      options: funnelOptionsSchema.optional(),
      step: z.number().int().min(0),
      side: z.enum(['reached', 'continued', 'dropped']),
      leak: z.enum(LEAK_KINDS).optional(),
      page: z
        .string()
        .nullable()
        .optional()
        .describe('only those who went to this page instead; null: to none'),
    })
    .superRefine((selection, context) => {
      const { steps, step, side, leak, page } = selection
      if (step >= steps.length)
        context.addIssue({
          code: 'custom',
          path: ['step'],
          message: `there are only ${steps.length} steps, counted from 0`,
        })
      if (side !== 'dropped')
        for (const field of ['leak', 'page'] as const)
          if ({ leak, page }[field] !== undefined)
            context.addIssue({
              code: 'custom',
              path: [field],
              message: 'is of those alone who dropped off: side "dropped"',
            })
      refineWithout(selection, context)
    }),
  z.strictObject({
    type: z.literal('clicks'),
    page: z.string(),
    which: z.enum(CLICK_SORTS),
    selector: z.string().optional(),
    text: z.string().optional(),
  }),
  z.strictObject({
    type: z.literal('signal'),
    kind: z.enum(SIGNAL_KINDS),
    page: z.string(),
    selector: z.string(),
    text: z.string().optional(),
  }),
  z.strictObject({ type: z.literal('page'), page: z.string() }),
  z.strictObject({
    type: z.literal('path'),
    page: z
      .string()
      .nullable()
      .describe(
        'page group from whose first view on the path is walked; null: from where the session begins or ends',
      ),
    direction: z.enum(['onward', 'back']),
    parts: z
      .array(pathPartSchema)
      .min(1, { error: 'name at least one page' })
      .max(10, { error: 'a path has at most 10 steps' })
      .describe('page groups, or other places, one after the other; null = any'),
    from: z
      .lazy((): z.ZodType<object> => selectionSchema)
      .optional()
      .describe('from whose moments it is walked, not from a page')
      .refine((from) => !from || !('type' in from) || from.type !== 'path', {
        error: 'must not be a path itself',
      }),
    walk: walkSchema.optional().describe('how; left out: page groups, equal ones as one'),
    ended: z.boolean().optional().describe('true: only those with nothing further'),
  }),
  z.strictObject({
    type: z.literal('loop'),
    pages: z
      .array(z.string())
      .min(2)
      .max(5)
      .describe('page groups that were gone through at least twice in this order, wherever it was entered'),
  }),
  z.strictObject({
    type: z.literal('pattern'),
    level: z.enum(LEVELS),
    tokens: z.array(tokenSchema).min(1).max(10).describe('one after the other'),
    gap: z
      .number()
      .int()
      .min(0)
      .nullable()
      .describe('other things that may lie between one and the next; null = any number'),
  }),
  z.strictObject({ type: z.literal('everyone') }),
] as const

/** Visitors, each by the session in which the moment lies. */
export interface VisitorMoments {
  /** ids of the sessions in ascending order, and of each the number, from 0, of the event that is the moment */
  sessions: Float64Array
  events: Uint32Array
  /** ids of the sessions of those that it is a share of, ascending */
  base: Float64Array
}

/** What is found out first by whoever answers the question: see FindNeeds. */
export type FunnelSelection = z.infer<(typeof plain)[0]> & {
  /** of a funnel over visitors: which visitors it means */
  moments?: VisitorMoments | undefined
  /** of a funnel over sessions: ids of the errors that count as a reason at the step */
  errors?: readonly number[] | undefined
}

export type PathSelection = Omit<Extract<z.infer<(typeof plain)[number]>, { type: 'path' }>, 'from'> & {
  from?: Selection | undefined
  /** of paths over visitors: which visitors it means */
  moments?: VisitorMoments | undefined
}

/** Sessions, and what of each is looked at. */
export type Selection =
  | FunnelSelection
  | PathSelection
  | Exclude<z.infer<(typeof plain)[number]>, { type: 'funnel' | 'path' }>
  /** those for which a condition holds, without a moment */
  | { type: 'where'; condition: Condition }
  /** those of a set that was made before, known by its handle; `of` is what the handle stands for */
  | { type: 'set'; set: string; of?: ResolvedSet | undefined }

/** What the handle of a set stands for: a selection, and the lens through which it was made. */
export interface ResolvedSet {
  lens: Lens
  /** the instants the lens spans in the site's time zone: [fromMs, toMs) */
  fromMs: number
  toMs: number
  selection: Selection
}

/** What is being looked at everywhere: days of the site's calendar, both included, and devices; none = all that people use. */
export const lensSchema = z
  .strictObject({
    from: day,
    to: day,
    devices: z.array(z.enum(SESSION_CLASSES)).default([]),
    /** and only sessions for which this holds */
    where: z.lazy(() => conditionSchema).optional(),
    clean: z.array(noiseSchema).max(10).optional().describe('what is not counted as having happened'),
  })
  .refine((lens) => lens.from <= lens.to, { error: 'the first day lies after the last', path: ['from'] })
  .refine((lens) => lens.from >= FIRST_DAY && lens.to <= LAST_DAY, {
    error: `days lie between ${FIRST_DAY} and ${LAST_DAY}`,
    path: ['to'],
  })
export interface Lens {
  from: string
  to: string
  devices: SessionClass[]
  where?: Condition | undefined
  clean?: Noise[] | undefined
}

/** Anything on a screen that can be opened: a condition that picks sessions and, in each, a moment. */
export const selectionSchema: z.ZodType<Selection> = z.lazy((): z.ZodType<Selection> => selectionUnion())

const selectionUnion = () =>
  z.discriminatedUnion('type', [
    ...plain,
    z.strictObject({ type: z.literal('where'), condition: conditionSchema }),
    z.strictObject({ type: z.literal('set'), set: z.string().min(1).max(64) }),
  ]) as unknown as z.ZodType<Selection>
