import { lensSchema, rateSchema, selectionSchema } from '@dust-trail/core'
import { z } from 'zod'
import { endpoint } from '../endpoint.ts'
import { nothing, questionSchema } from './parts.ts'

/* Sets of sessions, and how many sessions several questions pick */

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
