import { z } from 'zod'
import { lensSchema, priceSchema, rateSchema, selectionSchema, verificationSchema } from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { done, nothing, owner, questionSchema } from './parts.ts'
import { pictureSchema, shownSchema } from './pictures.ts'

/* Fixes, and the trails that lead to them */

export const EFFORTS = ['hours', 'days', 'weeks'] as const

export const FIX_STATUSES = ['idea', 'ready', 'in work', 'shipped', 'verified', 'rejected'] as const
export type FixStatus = (typeof FIX_STATUSES)[number]

const day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, { error: 'must be a day such as 2026-03-31' })
const words = z.string().trim().max(4000, { error: 'At most 4,000 characters.' })

const fixFields = {
  title: z
    .string()
    .trim()
    .min(1, { error: 'Give the fix a title.' })
    .max(160, { error: 'At most 160 characters.' }),
  hypothesis: words
    .min(1, { error: 'Say what you saw and what you believe.' })
    .describe('because we saw this'),
  belief: words.default('').describe('we believe this, for these people'),
  change: words.describe('so we change this'),
  expectation: words.default('').describe('and expect this'),
  effort: z.enum(EFFORTS),
  status: z.enum(FIX_STATUSES),
  owner,
  links: z
    .array(z.url({ protocol: /^https?$/, error: 'A link begins with https:// or http://.' }).max(500))
    .max(20, { error: 'At most 20 links.' })
    .default([]),
  expectedGain: z
    .number()
    .nullable()
    .default(null)
    .describe('conversions more in 30 days that are hoped for; null = not said'),
  shippedDay: day.nullable().default(null).describe('the day it was shipped, in the calendar of the site'),
}

/** What it costs in 30 days, as it was when the fix was written down. */
const pricedSchema = z.object({
  value: z.number().describe('conversions lost in 30 days'),
  low: z.number(),
  high: z.number(),
  money: z.number().nullable(),
  whether: z.string(),
  compared: z.string(),
})

export const FIX_EVENT_KINDS = ['created', 'changed', 'status', 'comment', 'merged', 'split'] as const
const fixEventSchema = z.object({
  atMs: z.number(),
  kind: z.enum(FIX_EVENT_KINDS),
  words: z.string().describe('what changed, why, or what was said'),
})
export type FixEvent = z.infer<typeof fixEventSchema>

export const fixSchema = z.object({
  id: z.number(),
  ...fixFields,
  /** what was being looked at when the fix was proposed */
  lens: lensSchema,
  /** the problem: its sessions are those that met it */
  selection: selectionSchema,
  /** the numbers on the day it was written down, through the lens of that day */
  evidence: priceSchema,
  priced: pricedSchema.nullable(),
  /** session that shows it best */
  sessionId: z.string().nullable(),
  /** marks of trails that it rests on */
  markIds: z.array(z.number()).default([]),
  /** its place among those of the same status */
  position: z.number(),
  /** what was found when it was verified, and how many met the problem then */
  verified: z
    .object({ atMs: z.number(), verdict: z.string(), reason: z.string(), met: rateSchema })
    .nullable(),
  createdMs: z.number(),
  updatedMs: z.number(),
})
export type Fix = z.infer<typeof fixSchema>

export const listFixes = endpoint(
  'POST',
  '/sites/:site/fixes/list',
  z.object({ lens: lensSchema }),
  z.array(z.object({ fix: fixSchema, price: priceSchema })),
  (fixes) =>
    fixes.map(({ fix: { id, title, effort, status }, price }) => ({ id, title, effort, status, ...price })),
)
export const getFix = endpoint(
  'POST',
  '/sites/:site/fixes/:id/show',
  z.object({ lens: lensSchema }),
  z.object({ fix: fixSchema, price: priceSchema, history: z.array(fixEventSchema) }),
)
export const createFix = endpoint(
  'POST',
  '/sites/:site/fixes',
  z.object({
    ...fixFields,
    ...questionSchema.shape,
    sessionId: z.string().nullable(),
    priced: pricedSchema.nullable().default(null),
    markIds: z.array(z.number()).max(200).default([]),
  }),
  fixSchema,
)
export const updateFix = endpoint(
  'PUT',
  '/sites/:site/fixes/:id',
  z.object({
    ...fixFields,
    reason: words.default('').describe('why its status changes; kept in its history'),
  }),
  fixSchema,
)
export const deleteFix = endpoint('DELETE', '/sites/:site/fixes/:id', nothing, done)

/** Puts the fixes of a status in order; one that had another status takes this one. */
export const orderFixes = endpoint(
  'PUT',
  '/sites/:site/fixes/order',
  z.object({ status: z.enum(FIX_STATUSES), ids: z.array(z.number()).max(1000) }),
  z.array(fixSchema),
)
export const commentFix = endpoint(
  'POST',
  '/sites/:site/fixes/:id/comments',
  z.object({ text: words.min(1, { error: 'Write something.' }) }),
  z.array(fixEventSchema),
)
/** Takes what another fix rests on and what was said of it into this one; the other one is gone. */
export const mergeFix = endpoint(
  'POST',
  '/sites/:site/fixes/:id/merge',
  z.object({ other: z.number() }),
  fixSchema,
)
/** Makes a second fix of the same evidence, to be gone on with by itself. */
export const splitFix = endpoint(
  'POST',
  '/sites/:site/fixes/:id/split',
  z.object({ title: fixFields.title }),
  fixSchema,
)
/** Before and after the day it was shipped, on the same definition and the same weekdays. */
export const verifyFix = endpoint(
  'POST',
  '/sites/:site/fixes/:id/verify',
  nothing,
  z.object({
    windows: z
      .object({
        before: z.object({ from: day, to: day }),
        after: z.object({ from: day, to: day }),
        days: z.number(),
      })
      .nullable()
      .describe('null while there is no full day after it'),
    verification: verificationSchema.nullable(),
  }),
)

/** A problem that was found in the data and is not to be taken up. */
const dismissedSchema = z.object({
  id: z.number(),
  problem: z.object({ page: z.string(), selector: z.string(), kind: z.string(), name: z.string() }),
  reason: z.string().trim().min(1, { error: 'Say why.' }).max(500),
  atMs: z.number(),
})
export type Dismissed = z.infer<typeof dismissedSchema>
export const listDismissed = endpoint('GET', '/sites/:site/dismissed', nothing, z.array(dismissedSchema))
export const dismiss = endpoint(
  'POST',
  '/sites/:site/dismissed',
  dismissedSchema.pick({ problem: true, reason: true }),
  dismissedSchema,
)
export const undismiss = endpoint('DELETE', '/sites/:site/dismissed/:id', nothing, done)

/** What a mark measures: a selection's sessions of its base, computed anew whenever it is looked at. */
const markFields = {
  /** where it was set, so that it can be gone back to: path and query of the address */
  address: z.string().startsWith('/').max(16_000),
  /** what the view showed, in words */
  view: z.string().min(1).max(300),
  sentence: z.string().trim().max(1000),
  question: questionSchema,
  shows: shownSchema.default({ form: 'figure' }),
  heading: z.string().trim().max(80).default('').describe('under which it stands in its trail; "" = none'),
}

export const markSchema = z.object({
  id: z.number(),
  ...markFields,
  /** numbers on the day it was set */
  then: rateSchema,
  /** the same numbers now */
  now: rateSchema,
  dead: z.string().nullable().describe('why it finds nothing any more, in words; null where it does'),
  picture: pictureSchema.describe('what it showed on the day it was set; null where that is its number'),
  createdMs: z.number(),
})
export type Mark = z.infer<typeof markSchema>

export const trailSchema = z.object({
  id: z.number(),
  name: z.string(),
  own: z.boolean().describe('seen by the person alone whose it is'),
  marks: z.array(markSchema),
})
export type Trail = z.infer<typeof trailSchema>

const trailName = z.object({
  name: z
    .string()
    .trim()
    .min(1, { error: 'Give the trail a name.' })
    .max(120, { error: 'At most 120 characters.' }),
})

/** The trail whose marks stand on the first screen. */
export const PINNED = 'Pinned'

export const listTrails = endpoint('GET', '/sites/:site/trails', nothing, z.array(trailSchema))
export const createTrail = endpoint(
  'POST',
  '/sites/:site/trails',
  trailName.extend({ own: z.boolean().default(false).describe('for the person who is signed in alone') }),
  trailSchema,
)

export const renameTrail = endpoint('PUT', '/sites/:site/trails/:id', trailName, trailSchema)
export const deleteTrail = endpoint('DELETE', '/sites/:site/trails/:id', nothing, done)

export const addMark = endpoint('POST', '/sites/:site/trails/:id/marks', z.object(markFields), markSchema)
export const updateMark = endpoint(
  'PUT',
  '/sites/:site/marks/:id',
  z.object({ sentence: markFields.sentence.optional(), heading: markFields.heading.optional() }),
  markSchema,
)
/** What a mark shows, as it is now: through its own lens, or another. */
export const drawMark = endpoint(
  'POST',
  '/sites/:site/marks/:id/picture',
  z.object({ lens: lensSchema.nullable().default(null).describe('null = its own') }),
  pictureSchema,
)
export const deleteMark = endpoint('DELETE', '/sites/:site/marks/:id', nothing, done)
export const orderMarks = endpoint(
  'PUT',
  '/sites/:site/trails/:id/order',
  z.object({ marks: z.array(z.number()) }),
  trailSchema,
)
