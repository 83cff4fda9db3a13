import { z } from 'zod'
import { EFFECTS, KINDS } from '../events/line.ts'

const text = z.string().max(2048)
const some = z.array(text).min(1, { error: 'name at least one' }).max(1000, { error: 'name at most 1,000' })

/**
 * A test on a text. `matches` takes a pattern in which * stands for any run of characters and ? for any one: it cannot
 * be made to run for long, as other patterns can.
 */
export const textTestSchema = z.discriminatedUnion('is', [
  z.strictObject({ is: z.literal('equal'), to: text }),
  z.strictObject({ is: z.literal('not equal'), to: text }),
  z.strictObject({ is: z.literal('one of'), to: some }),
  z.strictObject({ is: z.literal('none of'), to: some }),
  z.strictObject({ is: z.literal('containing'), to: text.min(1) }),
  z.strictObject({ is: z.literal('not containing'), to: text.min(1) }),
  z.strictObject({ is: z.literal('starting with'), to: text.min(1) }),
  z.strictObject({ is: z.literal('ending with'), to: text.min(1) }),
  z.strictObject({ is: z.literal('matching'), to: text.min(1) }),
  z.strictObject({ is: z.literal('known') }),
  z.strictObject({ is: z.literal('not known') }),
])
export type TextTest = z.infer<typeof textTestSchema>

export const number = z.number({ error: 'must be a number' })

/** A test on a number. A number that is not known passes none of them. */
export const numberTestSchema = z
  .discriminatedUnion('is', [
    z.strictObject({ is: z.literal('equal'), to: number }),
    z.strictObject({ is: z.literal('not equal'), to: number }),
    z.strictObject({ is: z.literal('at least'), to: number }),
    z.strictObject({ is: z.literal('at most'), to: number }),
    z.strictObject({ is: z.literal('more than'), to: number }),
    z.strictObject({ is: z.literal('less than'), to: number }),
    z.strictObject({ is: z.literal('between'), from: number, to: number }),
  ])
  .refine((test) => test.is !== 'between' || test.from <= test.to, {
    error: 'the lower end lies above the upper one',
    path: ['from'],
  })
export type NumberTest = z.infer<typeof numberTestSchema>

/** What can be known of a click by itself: see FRICTION_BIT in columns/event-codes.ts. */
export const CLICK_TRAITS = ['rage', 'dead', 'failing', 'near', 'rapid'] as const

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
  friction?: (typeof CLICK_TRAITS)[number] | undefined
  /** status, depth, length or score, by kind */
  number?: NumberTest | undefined
  /** value of an action, milliseconds of a request, or until a page was there */
  amount?: NumberTest | undefined
  /** an error by its message without what changes (events/error-text.ts), and where it came about; "" = not known */
  error?: { message: string; place: string } | undefined
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
    friction: z.enum(CLICK_TRAITS).optional(),
    number: numberTestSchema.optional(),
    amount: numberTestSchema.optional(),
    error: z
      .strictObject({
        message: z.string().max(2000).describe('message of an error, * for what changes'),
        place: z.string().max(300).describe('functions and files it came about in; "" = not known'),
      })
      .optional(),
    prop: z
      .strictObject({
        key: text.min(1),
        text: textTestSchema.optional(),
        number: numberTestSchema.optional(),
      })
      .optional(),
    all: z.array(eventConditionSchema).min(1).max(20).optional(),
    any: z.array(eventConditionSchema).min(1).max(20).optional(),
    not: eventConditionSchema.optional(),
  }),
)
