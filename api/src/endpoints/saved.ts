import { z } from 'zod'
import {
  conditionSchema,
  eventConditionSchema,
  funnelOptionsSchema,
  noiseSchema,
  stepsSchema,
} from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { nothing, done, named, owner } from './parts.ts'
import { siteSchema } from './sites.ts'

/* What is kept by name: funnels, labels, segments */

const funnelFields = {
  name: named,
  steps: stepsSchema,
  options: funnelOptionsSchema.nullable().default(null),
  note: z.string().max(2000, { error: 'At most 2,000 characters.' }).default(''),
  owner,
  /** shown first */
  isDefault: z.coerce.boolean().default(false),
}

export const savedFunnelSchema = z.object({ id: z.number(), ...funnelFields })
export type SavedFunnel = z.infer<typeof savedFunnelSchema>

export const listFunnels = endpoint('GET', '/sites/:site/funnels', nothing, z.array(savedFunnelSchema))
export const createFunnel = endpoint(
  'POST',
  '/sites/:site/funnels',
  z.object(funnelFields),
  savedFunnelSchema,
)
export const updateFunnel = endpoint(
  'PUT',
  '/sites/:site/funnels/:id',
  z.object(funnelFields),
  savedFunnelSchema,
)
export const deleteFunnel = endpoint('DELETE', '/sites/:site/funnels/:id', nothing, done)

const actionFields = {
  name: named,
  rule: eventConditionSchema,
  description: z.string().max(2000).default(''),
  owner,
  isSignal: z.coerce.boolean().default(false).describe('it counts as friction: a signal of the site’s own'),
}

/** A named thing that visitors do, and what would not be the same without it. */
const actionSchema = z.object({ id: z.number(), ...actionFields, usedBy: z.array(z.string()) })
export type Action = z.infer<typeof actionSchema>

export const listActions = endpoint('GET', '/sites/:site/actions', nothing, z.array(actionSchema))
export const createAction = endpoint('POST', '/sites/:site/actions', z.object(actionFields), actionSchema)

export const updateAction = endpoint('PUT', '/sites/:site/actions/:id', z.object(actionFields), actionSchema)
export const deleteAction = endpoint('DELETE', '/sites/:site/actions/:id', nothing, done)

/** By page group what would not be the same without it, in words; those that nothing uses are left out. */
export const listPageGroupUses = endpoint(
  'GET',
  '/sites/:site/page-groups/uses',
  nothing,
  z.record(z.string(), z.array(z.string())),
)

/**
 * Replaces the rules of a site's page groups; they count for the past as well. Refused where a name would be gone that
 * something uses.
 */
export const savePageGroups = endpoint(
  'PUT',
  '/sites/:site/page-groups',
  z.object({
    pageGroups: z
      .array(
        z.object({
          name: named,
          pattern: z
            .string()
            .trim()
            .max(500)
            .regex(/^\//, { error: 'A pattern begins with /, as in /nights/:id.' }),
          description: z.string().max(2000, { error: 'At most 2,000 characters.' }).optional(),
          owner: owner.optional(),
        }),
      )
      .max(500, { error: 'At most 500 rules.' }),
  }),
  siteSchema,
)

/** What makes a segment out of the one it was cut from: a condition that its sessions meet, and noise that is left out. */
export const cutSchema = z.object({
  condition: conditionSchema.nullable(),
  clean: z.array(noiseSchema).max(10).default([]),
})
export type Cut = z.infer<typeof cutSchema>

const segmentFields = { name: named, note: z.string().max(2000).default(''), owner }

const segmentSchema = z.object({
  id: z.number(),
  parentId: z.number().nullable(),
  ...segmentFields,
  cut: cutSchema,
  createdMs: z.number(),
})
export type Segment = z.infer<typeof segmentSchema>

export const listSegments = endpoint('GET', '/sites/:site/segments', nothing, z.array(segmentSchema))
export const createSegment = endpoint(
  'POST',
  '/sites/:site/segments',
  z.object({ ...segmentFields, parentId: z.number().nullable().default(null), cut: cutSchema }),
  segmentSchema,
)
export const updateSegment = endpoint(
  'PUT',
  '/sites/:site/segments/:id',
  z.object(segmentFields),
  segmentSchema,
)
export const deleteSegment = endpoint('DELETE', '/sites/:site/segments/:id', nothing, done)
