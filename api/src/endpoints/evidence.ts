import { z } from 'zod'
import { lensSchema, priceSchema, rateSchema, selectionSchema } from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { done, nothing, questionSchema } from './parts.ts'

/* Fixes, and the trails that lead to them */

export const EFFORTS = ['hours', 'days', 'weeks'] as const

export const FIX_STATUSES = ['proposed', 'accepted', 'in work', 'shipped', 'dropped'] as const

const fixFields = {
  title: z
    .string()
    .trim()
    .min(1, { error: 'Give the fix a title.' })
    .max(160, { error: 'At most 160 characters.' }),
  hypothesis: z.string().trim().min(1, { error: 'Say what you saw and what you believe.' }).max(4000),
  change: z.string().trim().max(4000),
  effort: z.enum(EFFORTS),
  status: z.enum(FIX_STATUSES),
}

export const fixSchema = z.object({
  id: z.number(),
  ...fixFields,
  /** what was being looked at when the fix was proposed */
  lens: lensSchema,
  /** the problem: its sessions are those that met it */
  selection: selectionSchema,
  /** the numbers on the day it was written down, through the lens of that day */
  evidence: priceSchema,
  /** session that shows it best */
  sessionId: z.string().nullable(),
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
  z.object({ fix: fixSchema, price: priceSchema }),
)
export const createFix = endpoint(
  'POST',
  '/sites/:site/fixes',
  z.object({ ...fixFields, ...questionSchema.shape, sessionId: z.string().nullable() }),
  fixSchema,
)
export const updateFix = endpoint('PUT', '/sites/:site/fixes/:id', z.object(fixFields), fixSchema)
export const deleteFix = endpoint('DELETE', '/sites/:site/fixes/:id', nothing, done)

/** What a mark measures: a selection's sessions of its base, computed anew whenever it is looked at. */
const markFields = {
  /** where it was set, so that it can be gone back to: path and query of the address */
  address: z.string().startsWith('/').max(16_000),
  /** what the view showed, in words */
  view: z.string().min(1).max(300),
  sentence: z.string().trim().max(1000),
  question: questionSchema,
}

export const markSchema = z.object({
  id: z.number(),
  ...markFields,
  /** numbers on the day it was set */
  then: rateSchema,
  /** the same numbers now */
  now: rateSchema,
  createdMs: z.number(),
})
export type Mark = z.infer<typeof markSchema>

export const trailSchema = z.object({ id: z.number(), name: z.string(), marks: z.array(markSchema) })
export type Trail = z.infer<typeof trailSchema>

const trailName = z.object({
  name: z
    .string()
    .trim()
    .min(1, { error: 'Give the trail a name.' })
    .max(120, { error: 'At most 120 characters.' }),
})

export const listTrails = endpoint('GET', '/sites/:site/trails', nothing, z.array(trailSchema))
export const createTrail = endpoint('POST', '/sites/:site/trails', trailName, trailSchema)

export const renameTrail = endpoint('PUT', '/sites/:site/trails/:id', trailName, trailSchema)
export const deleteTrail = endpoint('DELETE', '/sites/:site/trails/:id', nothing, done)

export const addMark = endpoint('POST', '/sites/:site/trails/:id/marks', z.object(markFields), markSchema)
export const updateMark = endpoint(
  'PUT',
  '/sites/:site/marks/:id',
  z.object({ sentence: markFields.sentence }),
  markSchema,
)
export const deleteMark = endpoint('DELETE', '/sites/:site/marks/:id', nothing, done)
export const orderMarks = endpoint(
  'PUT',
  '/sites/:site/trails/:id/order',
  z.object({ marks: z.array(z.number()) }),
  trailSchema,
)
