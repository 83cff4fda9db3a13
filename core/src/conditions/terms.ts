import { z } from 'zod'
import { EFFECTS, KINDS } from '../events/line.ts'

const text = z.string().max(2048)
const some = z.array(text).min(1, { error: 'name at least one' }).max(1000, { error: 'name at most 1,000' })

/**
 * A test on a text. `matches` takes a pattern in which * stands for any run of characters and ? for any one: it cannot
 * be made to run for long, as other patterns can.
 */
export const textTestSchema = z.discriminatedUnion('is', [
  z.object({ is: z.literal('equal'), to: text }),
  z.object({ is: z.literal('not equal'), to: text }),
  z.object({ is: z.literal('one of'), to: some }),
  z.object({ is: z.literal('none of'), to: some }),
  z.object({ is: z.literal('containing'), to: text.min(1) }),
  z.object({ is: z.literal('not containing'), to: text.min(1) }),
  z.object({ is: z.literal('starting with'), to: text.min(1) }),
  z.object({ is: z.literal('ending with'), to: text.min(1) }),
  z.object({ is: z.literal('matching'), to: text.min(1) }),
  z.object({ is: z.literal('known') }),
  z.object({ is: z.literal('not known') }),
])
export type TextTest = z.infer<typeof textTestSchema>

export const number = z.number({ error: 'must be a number' })

/** A test on a number. A number that is not known passes none of them. */
export const numberTestSchema = z
  .discriminatedUnion('is', [
    z.object({ is: z.literal('equal'), to: number }),
    z.object({ is: z.literal('not equal'), to: number }),
    z.object({ is: z.literal('at least'), to: number }),
    z.object({ is: z.literal('at most'), to: number }),
    z.object({ is: z.literal('more than'), to: number }),
    z.object({ is: z.literal('less than'), to: number }),
    z.object({ is: z.literal('between'), from: number, to: number }),
  ])
  .refine((test) => test.is !== 'between' || test.from <= test.to, {
    error: 'the lower end lies above the upper one',
    path: ['from'],
  })
export type NumberTest = z.infer<typeof numberTestSchema>

/** What makes an event count. All that is named must hold. */
export interface EventCondition {
  /** name of an action: what the site calls so by its rules, or what its own code reports by that name */
  action?: string | undefined
  kinds?: (typeof KINDS)[number][] | undefined
  /** group of the page on which it happened */
  page?: TextTest | undefined
  /** path of that page, whatever its group */
  path?: TextTest | undefined
  /** selector of the element, entries of a list being one */
  element?: TextTest | undefined
  /** text of the element; the variant; the answer */
  text?: TextTest | undefined
  /** name of an action, gesture or signal; path of a request; message of an error; experiment; question */
  name?: TextTest | undefined
  effect?: (typeof EFFECTS)[number] | undefined
  friction?: 'rage' | 'dead' | undefined
  /** status, depth, length or score, by kind */
  number?: NumberTest | undefined
  /** value of an action, milliseconds of a request, or until a page was there */
  amount?: NumberTest | undefined
  prop?: { key: string; text?: TextTest | undefined; number?: NumberTest | undefined } | undefined
  all?: EventCondition[] | undefined
  any?: EventCondition[] | undefined
  not?: EventCondition | undefined
}

export const eventConditionSchema: z.ZodType<EventCondition> = z.lazy(() =>
  z.strictObject({
    action: text.min(1).max(120).optional(),
    kinds: z.array(z.enum(KINDS)).min(1).optional(),
    page: textTestSchema.optional(),
    path: textTestSchema.optional(),
    element: textTestSchema.optional(),
    text: textTestSchema.optional(),
    name: textTestSchema.optional(),
    effect: z.enum(EFFECTS).optional(),
    friction: z.enum(['rage', 'dead']).optional(),
    number: numberTestSchema.optional(),
    amount: numberTestSchema.optional(),
    prop: z
      .object({ key: text.min(1), text: textTestSchema.optional(), number: numberTestSchema.optional() })
      .optional(),
    all: z.array(eventConditionSchema).min(1).max(20).optional(),
    any: z.array(eventConditionSchema).min(1).max(20).optional(),
    not: eventConditionSchema.optional(),
  }),
)

/** What a session is known by. */
export const SESSION_TEXTS = [
  'device',
  'browser',
  'system',
  'country',
  'channel',
  'source',
  'campaign',
  'visitor',
  'entry page',
  'exit page',
] as const
export type SessionText = (typeof SESSION_TEXTS)[number]

/** What can be counted or measured of a session. Durations in milliseconds, value in the site's currency. */
export const SESSION_NUMBERS = [
  'duration',
  'pages',
  'clicks',
  'events',
  'signals',
  'value',
  'width',
  'height',
] as const
export type SessionNumber = (typeof SESSION_NUMBERS)[number]

export const SEQUENCE_ANCHORS = ['anywhere', 'starts with', 'ends with', 'only'] as const

export const sequenceStep = z.object({
  event: eventConditionSchema,
  /** how it follows the step before: with anything in between, or with nothing that any step or `without` names */
  how: z.enum(['later', 'directly']).default('later'),
  /** at most so long after the step before */
  withinMs: number.min(0).optional(),
  /** nothing of this between the step before and this one */
  without: eventConditionSchema.optional(),
})
export type SequenceStep = z.infer<typeof sequenceStep>
