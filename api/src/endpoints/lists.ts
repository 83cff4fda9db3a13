import { z } from 'zod'
import type { ClickHeatResult, SessionSummary } from '@dust-trail/core'
import {
  CLICK_SORTS,
  DEVICE_CLASSES,
  lensSchema,
  selectionSchema,
  SIGNAL_KINDS,
  WATCH_ORDERS,
  eventValuesSchema,
} from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { count, nothing, question, questionSchema, rateSchema } from './parts.ts'

/* What there is: pages, elements, addresses, values, sessions and sets of them */

/** Pages and clicked elements that a step can be made of, most seen first. */
export const catalogue = endpoint(
  'POST',
  '/sites/:site/catalogue',
  z.object({ lens: lensSchema }),
  z.object({
    sessions: count,
    pages: z.array(z.object({ page: z.string(), pattern: z.string(), sessions: count, clicks: count })),
    elements: z.array(
      z.object({ page: z.string(), selector: z.string(), text: z.string(), sessions: count }),
    ),
  }),
)
export type Catalogue = z.infer<typeof catalogue.answer>

/** A set of sessions by a short-lived handle, and what it stands for: what to make it of again when it is forgotten. */
const setSchema = z.object({
  set: z.string(),
  size: rateSchema,
  definition: z.object({ lens: lensSchema, selection: selectionSchema }),
})

export const makeSet = endpoint(
  'POST',
  '/sites/:site/sets',
  z.object({ lens: lensSchema, selection: selectionSchema }),
  setSchema,
)
export const getSet = endpoint('GET', '/sites/:site/sets/:set', nothing, setSchema)

/** How many sessions each of several questions picks. */
export const askSizes = endpoint(
  'POST',
  '/sites/:site/sizes',
  z.object({ questions: z.array(questionSchema).min(1).max(200) }),
  z.object({ sizes: z.array(rateSchema) }),
)

export const sessionSummarySchema = z.object({
  id: z.string(),
  visitor: z.string(),
  startMs: z.number(),
  durationMs: z.number(),
  device: z.enum(DEVICE_CLASSES).nullable(),
  browser: z.string(),
  system: z.string(),
  country: z.string(),
  channel: z.string(),
  returning: z.boolean(),
  pages: count,
  clicks: count,
  entry: z.string(),
  exit: z.string(),
  signals: z.array(z.object({ kind: z.enum(SIGNAL_KINDS), count })),
  momentMs: z.number().nullable(),
}) satisfies z.ZodType<SessionSummary>

export const listSessions = endpoint(
  'POST',
  '/sites/:site/sessions',
  z.object({
    ...question,
    order: z.enum(WATCH_ORDERS),
    offset: count.default(0),
    limit: count.min(1).max(200).default(50),
    /** `next` of the answer before: goes on after its last session, whatever has come in since */
    cursor: z.string().max(400).optional(),
  }),
  z.object({ total: count, sessions: z.array(sessionSummarySchema), next: z.string().nullable() }),
)

export const askClickHeat = endpoint(
  'POST',
  '/sites/:site/click-heat',
  z.object({ lens: lensSchema, page: z.string(), which: z.enum(CLICK_SORTS) }),
  z.object({
    viewers: count,
    clickers: rateSchema,
    clicks: count,
    elements: z.array(
      z.object({
        selector: z.string(),
        text: z.string(),
        texts: count,
        clicks: count,
        rage: count,
        dead: count,
        rate: rateSchema,
        spots: z.array(
          z.object({
            selector: z.string(),
            cells: z.array(z.tuple([count, count])),
            loose: z.array(z.tuple([z.number(), z.number(), count])),
          }),
        ),
      }),
    ),
    /** the recorded page to show it on: the one most of these sessions saw; null where none was recorded */
    snapshot: z.object({ hash: z.string(), sessions: count, of: count }).nullable(),
  }) satisfies z.ZodType<ClickHeatResult>,
)

/** What events of a kind hold, each value with the sessions in which it occurs. */
export const askEventValues = endpoint(
  'POST',
  '/sites/:site/event-values',
  z.object({ lens: lensSchema, ...eventValuesSchema.shape }),
  z.object({ values: z.array(z.object({ value: z.string(), sessions: count })) }),
)

/** All addresses that were seen, by sessions. */
export const listUrls = endpoint(
  'POST',
  '/sites/:site/urls',
  z.object({ lens: lensSchema }),
  z.array(z.object({ path: z.string(), sessions: count, views: count })),
)
