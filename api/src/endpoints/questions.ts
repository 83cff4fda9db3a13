import { z } from 'zod'
import type { CloseUpResult, FunnelResult, PathNode, PriceResult } from '@dust-trail/core'
import {
  ATTRIBUTES,
  distributionOptionsSchema,
  funnelOptionsSchema,
  KINDS,
  LEAK_KINDS,
  lensSchema,
  LEVELS,
  pathOptionsSchema,
  selectionSchema,
  sequenceOptionsSchema,
  SIGNAL_KINDS,
  stepsSchema,
  CAUSES,
} from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { count, interval, question, questionSchema, rateSchema } from './parts.ts'

/* Questions about sessions */

const waiting = z.object({
  medianMs: z.number().nullable(),
  p25Ms: z.number().nullable(),
  p75Ms: z.number().nullable(),
  histogram: z.array(count),
})

const funnelPart = z.object({
  label: z.string(),
  sessions: count,
  entered: count,
  converted: count,
  conversion: rateSchema,
  reached: z.array(count),
})

export const funnelResultSchema = z.object({
  sessions: count,
  entered: count,
  converted: count,
  steps: z.array(
    z.object({
      name: z.string(),
      sessions: count,
      ofPrevious: rateSchema,
      ofEntered: rateSchema,
      lost: count,
      leak: z.array(z.object({ kind: z.enum(LEAK_KINDS), page: z.string().nullable(), sessions: count })),
      toNext: waiting,
    }),
  ),
  byValue: z.array(funnelPart).optional(),
  overTime: z.array(funnelPart).optional(),
}) satisfies z.ZodType<FunnelResult>

export const askFunnel = endpoint(
  'POST',
  '/sites/:site/funnel',
  z.object({
    lens: lensSchema,
    steps: stepsSchema,
    options: funnelOptionsSchema.optional(),
    /** only how many: no leaks, no times */
    counts: z.boolean().default(false),
    /** handles of the sets of each step as well */
    sets: z.boolean().default(false),
  }),
  funnelResultSchema.extend({
    /** for each step: who reached it, who went on, who dropped off there; null where there is no next step */
    sets: z
      .array(
        z.object({ reached: z.string(), continued: z.string().nullable(), dropped: z.string().nullable() }),
      )
      .optional(),
  }),
)

/** What lies between the steps of a funnel: pages that most see on the way, and what went wrong at each step. */
export const askBetween = endpoint(
  'POST',
  '/sites/:site/between',
  z.object({ lens: lensSchema, steps: stepsSchema, options: funnelOptionsSchema.optional() }),
  z.array(
    z.object({
      continued: count,
      lost: count,
      missing: z.array(z.object({ page: z.string(), rate: rateSchema })),
      causes: z.array(
        z.object({
          cause: z.enum([...CAUSES, 'any technical']),
          lost: rateSchema,
          continued: rateSchema,
          difference: z.number().nullable(),
          interval,
        }),
      ),
    }),
  ),
)

const compared = {
  selected: rateSchema,
  against: rateSchema,
  difference: z.number().nullable(),
  interval,
}

const contrast = {
  selected: rateSchema,
  everyone: rateSchema,
  difference: z.number().nullable(),
  interval,
}

export const closeUpSchema = z.object({
  size: rateSchema,
  everyone: count,
  who: z.array(z.object({ attribute: z.enum(ATTRIBUTES), value: z.string(), ...contrast })),
  next: z.array(z.object({ page: z.string().nullable(), rate: rateSchema })),
  previous: z.array(z.object({ page: z.string().nullable(), rate: rateSchema })),
  troubles: z.array(
    z.object({
      kind: z.enum(SIGNAL_KINDS),
      technical: z.boolean(),
      page: z.string(),
      selector: z.string(),
      text: z.string(),
      ...contrast,
    }),
  ),
}) satisfies z.ZodType<CloseUpResult>

export const askCloseUp = endpoint(
  'POST',
  '/sites/:site/close-up',
  questionSchema.extend({ against: selectionSchema.optional() }),
  closeUpSchema,
)

const pathNode: z.ZodType<PathNode> = z.lazy(() =>
  z.object({
    kind: z.enum(['page', 'click']),
    page: z.string(),
    selector: z.string().optional(),
    sessions: count,
    ended: count,
    next: z.array(pathNode),
  }),
)

/** Where the sessions of a selection went from its moment, or where they had come from; with a depth of 1 what came next. */
export const askPaths = endpoint(
  'POST',
  '/sites/:site/paths',
  z.object({ ...question, options: pathOptionsSchema.default(pathOptionsSchema.parse({})) }),
  z.object({ sessions: count, ended: count, places: count, next: z.array(pathNode) }),
)

/** Counts, quantiles and a histogram of a measure of the sessions of a selection, by any attribute. */
export const askDistribution = endpoint(
  'POST',
  '/sites/:site/distribution',
  z.object({
    ...question,
    options: distributionOptionsSchema.default(distributionOptionsSchema.parse({})),
  }),
  z.object({
    sessions: count,
    edges: z.array(z.number()),
    values: z.array(
      z.object({
        value: z.string(),
        sessions: count,
        known: count,
        mean: z.number().nullable(),
        least: z.number().nullable(),
        most: z.number().nullable(),
        quantiles: z.array(z.number().nullable()),
        histogram: z.array(count),
      }),
    ),
  }),
)

const token = z.object({ kind: z.enum(KINDS), page: z.string(), what: z.string() })

/** What happens in the sessions of a selection, beside others. */
export const askContents = endpoint(
  'POST',
  '/sites/:site/contents',
  z.object({ ...question, against: selectionSchema.optional(), level: z.enum(LEVELS).default('page') }),
  z.object({
    sessions: count,
    against: count,
    contents: z.array(token.extend({ events: count, ...compared })),
  }),
)

/** The sessions of a selection, event by event, the newest first. */
export const askSequences = endpoint(
  'POST',
  '/sites/:site/sequences',
  z.object({ ...question, options: sequenceOptionsSchema.default(sequenceOptionsSchema.parse({})) }),
  z.object({
    total: count,
    tokens: z.array(token),
    sequences: z.array(
      z.object({
        id: z.string(),
        startMs: z.number(),
        momentMs: z.number().nullable(),
        tokens: z.array(count),
        atMs: z.array(z.number()),
        more: count,
      }),
    ),
  }),
)
export type SequencesResult = z.infer<typeof askSequences.answer>
export type Token = z.infer<typeof token>

export const priceSchema = z.object({
  met: rateSchema,
  others: rateSchema,
  difference: z.number().nullable(),
  interval,
  lost: z.number().nullable(),
  lostInterval: interval,
}) satisfies z.ZodType<PriceResult>

export const askPrice = endpoint('POST', '/sites/:site/price', questionSchema, priceSchema)
