import { z } from 'zod'
import {
  countSchema,
  exchangeRateSchema,
  goalSchema,
  setThresholdsSchema,
  strainWeightsSchema,
  thresholdsSchema,
} from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { nothing } from './parts.ts'
import type { CaptureSettings } from '@dust-trail/core'

/* Sites, and what is kept of their visitors */

/** Through which of the script's ways something leaves a page. */
export const SINKS = ['events', 'page', 'changes', 'pointer', 'console', 'files', 'about'] as const

/** What a site lets leave its pages. Typed text never does. */
export const captureSettingsSchema = z.object({
  text: z
    .enum(['hidden', 'patterns', 'chosen'])
    .describe('controls and headings alone, all but what looks personal, all but what is marked'),
  consent: z
    .enum(['free', 'visit', 'asked'])
    .describe('visitors are known again at once, only once they allow it, or not watched before'),
  share: z
    .number()
    .min(0, { error: 'At least 0.' })
    .max(1, { error: 'At most 1.' })
    .describe('of visitors who are watched'),
  drawings: z.boolean().default(false).describe('stills of drawings on the page (canvas) are recorded'),
  pictures: z
    .enum(['kept', 'asked', 'none'])
    .default('kept')
    .describe(
      'pictures and fonts in recordings: kept here, also asked for at the recorded site by who watches, boxes',
    ),
}) satisfies z.ZodType<CaptureSettings>

export const siteSchema = z.object({
  key: z.string(),
  name: z.string(),
  origins: z.array(z.string()),
  timeZone: z.string(),
  currency: z.string(),
  /** what other currencies are worth in the site's own; amounts without a rate are counted apart */
  rates: z.array(exchangeRateSchema),
  sessionLimitMin: z.number(),
  goal: z.string(),
  /** what the site wants its visitors to do, the main goal first; empty: seeing the page alone that `goal` names */
  goals: z.array(goalSchema),
  /** days after which sessions, or only their recordings, are deleted; null keeps them */
  retentionDays: z.number().nullable(),
  recordingDays: z.number().nullable(),
  /** days after which what people of the site did is forgotten */
  auditDays: z.number().nullable(),
  pageGroups: z.array(
    z.object({
      name: z.string(),
      pattern: z.string(),
      description: z.string().optional(),
      owner: z.string().optional(),
    }),
  ),
  /** from where on something is friction, as far as the site has set it itself */
  thresholds: setThresholdsSchema,
  /** how hard a signal of each kind is, as far as the site has set it itself */
  strainWeights: strainWeightsSchema,
  capture: captureSettingsSchema,
  /** first and last day with data, in the site's calendar; null where there is none */
  days: z.object({ from: z.string(), to: z.string() }).nullable(),
  sessions: countSchema,
  /** when the last data arrived, milliseconds since 1970 */
  lastMs: z.number().nullable(),
  /** stored blocks that could not be read: their sessions are not in the answers */
  damaged: z.array(z.object({ id: z.number(), sessions: countSchema, reason: z.string() })),
  /** stored blocks read since the start, on which alone questions are answered so far; null when all are */
  loading: z.object({ blocks: countSchema, of: countSchema }).nullable(),
  /** of what the site has more different texts than are told apart: the rest counts as “(other)” */
  full: z.array(z.string()),
  /** blocks that do not fit into memory and are read from the database with each question */
  streamed: countSchema,
})
export type Site = z.infer<typeof siteSchema>

export const listSites = endpoint('GET', '/sites', nothing, z.array(siteSchema))

const siteAbout = z.object({
  name: z
    .string()
    .trim()
    .min(1, { error: 'Give the site a name.' })
    .max(80, { error: 'At most 80 characters.' }),
  origins: z.array(
    z.url({ error: 'Each address needs a scheme and a host, such as https://www.example.org.' }),
  ),
  timeZone: z
    .string()
    .refine(isTimeZone, { error: 'Give a time zone by its IANA name, such as Europe/Dublin.' }),
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, { error: 'Give a currency by its three letters (ISO 4217), such as EUR.' }),
  rates: z.array(exchangeRateSchema).max(1000, { error: 'At most 1000 rates.' }).default([]),
  sessionLimitMin: z
    .number()
    .int({ error: 'Give whole minutes.' })
    .min(1, { error: 'At least 1 minute.' })
    .max(1440, { error: 'At most a day, 1440 minutes.' }),
})

export const days = z
  .number()
  .int({ error: 'Give whole days.' })
  .min(1, { error: 'At least 1 day.' })
  .max(36_500, { error: 'At most 36,500 days.' })
  .nullable()

const retention = z.object({ retentionDays: days, recordingDays: days })

function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name })
    return name.length <= 64
  } catch {
    return false
  }
}

export const createSite = endpoint('POST', '/sites', siteAbout, siteSchema)
export const updateSite = endpoint(
  'PUT',
  '/sites/:site',
  z.object({
    ...siteAbout.shape,
    ...retention.shape,
    auditDays: days.optional(),
    goal: z.string().max(500, { error: 'At most 500 characters.' }),
  }),
  siteSchema,
)

/** Replaces the goals of a site; the first is the main one. They count for the past as well. */
export const saveGoals = endpoint(
  'PUT',
  '/sites/:site/goals',
  z.object({ goals: z.array(goalSchema).max(20, { error: 'At most 20 goals.' }) }),
  siteSchema,
)

/** From where on something is friction; what is left out is as it is by default. Holds for the past at once. */
export const setThresholds = endpoint('PUT', '/sites/:site/thresholds', thresholdsSchema, siteSchema)

/** How hard a signal of each kind is; what is left out is as it is by default. Holds for the past at once. */
export const setStrainWeights = endpoint(
  'PUT',
  '/sites/:site/strain-weights',
  strainWeightsSchema,
  siteSchema,
)

/** Deletes a site with all that is kept of it and its visitors. Its name is said once more, so that it is not done by mistake. */
export const deleteSite = endpoint(
  'POST',
  '/sites/:site/delete',
  z.object({ name: z.string().describe('of the site, as it stands in Setup') }),
  z.object({
    site: z.string(),
    sessions: countSchema.describe('that are deleted'),
    atMs: z.number().describe('when, milliseconds since 1970'),
  }),
)

/** What left a page, in the order in which it came. */
export const leftSchema = z.object({
  n: countSchema,
  atMs: z.number(),
  sink: z.enum(SINKS),
  /** as it was sent, cut where it is long */
  text: z.string(),
  length: countSchema,
})
export type Left = z.infer<typeof leftSchema>

/** What pages of the site send that are opened at the address from which this is asked: kept for a minute each time. */
export const lookAtPage = endpoint(
  'POST',
  '/sites/:site/look-at-page',
  z.object({ after: countSchema.describe('number of the last that is known; 0 at first') }),
  z.object({ left: z.array(leftSchema) }),
)

/** Visitors of whom a property that the site itself sends has a value: whom the site knows by an id of its own. */
export const findVisitors = endpoint(
  'POST',
  '/sites/:site/find-visitors',
  z.object({
    property: z.string().min(1).max(120).describe('as the site sends it, such as customer'),
    value: z.string().max(500).describe('that it has, exactly'),
  }),
  z.object({ visitors: z.array(z.string()).describe('at most a thousand') }),
)

/** Sets what leaves the pages of a site from now on. */
export const setCapture = endpoint('PUT', '/sites/:site/capture', captureSettingsSchema, siteSchema)

/** What would be deleted at once if data were kept no longer than this. */
export const previewRetention = endpoint(
  'POST',
  '/sites/:site/retention',
  retention,
  z.object({ sessions: countSchema, recordings: countSchema }),
)

/** Deletes all that is known of one visitor: sessions, events, recordings. */
export const deleteVisitor = endpoint(
  'DELETE',
  '/sites/:site/visitors/:visitor',
  nothing,
  z.object({
    visitor: z.string(),
    sessions: countSchema,
    ids: z.array(z.string()).describe('of the sessions that were deleted'),
    atMs: z.number().describe('when, milliseconds since 1970'),
    left: z
      .object({ sessions: countSchema, recordings: countSchema })
      .describe('what the database holds of the visitor after it, counted anew'),
  }),
)

/** What arrived and could not be taken, by reason: nothing is left out without a word. */
export const refusalSchema = z.object({
  what: z.enum(['batch', 'line', 'recording', 'time', 'budget']),
  reason: z.string(),
  n: countSchema,
  firstMs: z.number(),
  lastMs: z.number(),
})
export type Refusal = z.infer<typeof refusalSchema>

export const listRefusals = endpoint('GET', '/sites/:site/refusals', nothing, z.array(refusalSchema))
