import { z } from 'zod'
import {
  conditionSchema,
  eventConditionSchema,
  funnelOptionsSchema,
  noiseSchema,
  selectionSchema,
  stepsSchema,
  walkSchema,
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

/** What paths are of: where they begin, in which direction, how far, and how they are read. */
const pathsAskedSchema = z.strictObject({
  page: z.string().nullable(),
  origin: selectionSchema
    .nullable()
    .describe('a selection from whose moments they go out, in place of a page'),
  way: z.enum(['onward', 'back', 'around']),
  depth: z.number().int().min(1).max(10),
  least: z.number().min(0).max(1).describe('share of those who entered that a route must have'),
  walk: walkSchema,
})
const pathFields = {
  name: named,
  note: z.string().max(2000, { error: 'At most 2,000 characters.' }).default(''),
  owner,
  asked: pathsAskedSchema,
}
const savedPathsSchema = z.object({ id: z.number(), ...pathFields })
export type SavedPaths = z.infer<typeof savedPathsSchema>

export const listPaths = endpoint('GET', '/sites/:site/saved-paths', nothing, z.array(savedPathsSchema))
export const createPaths = endpoint(
  'POST',
  '/sites/:site/saved-paths',
  z.object(pathFields),
  savedPathsSchema,
)
export const updatePaths = endpoint(
  'PUT',
  '/sites/:site/saved-paths/:id',
  z.object(pathFields),
  savedPathsSchema,
)
export const deletePaths = endpoint('DELETE', '/sites/:site/saved-paths/:id', nothing, done)

export const campaignCostSchema = z.strictObject({
  day: z.iso.date({ error: 'must be a day, such as 2026-05-01' }),
  campaign: z.string().trim().min(1, { error: 'Name the campaign.' }).max(500),
  cost: z.coerce
    .number()
    .min(0, { error: 'must not be negative' })
    .max(1e9)
    .describe('in the currency of the site'),
})
export type CampaignCost = z.infer<typeof campaignCostSchema>

/** What campaigns cost, day by day; those of one day and campaign add up. */
export const listCosts = endpoint('GET', '/sites/:site/costs', nothing, z.array(campaignCostSchema))
/** Replaces what campaigns cost on the days that are given; other days stay. */
export const saveCosts = endpoint(
  'PUT',
  '/sites/:site/costs',
  z.object({ costs: z.array(campaignCostSchema).max(5000, { error: 'At most 5,000 lines at a time.' }) }),
  z.object({ days: z.number().int(), lines: z.number().int() }),
)

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
