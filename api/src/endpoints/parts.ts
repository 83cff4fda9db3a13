import { z } from 'zod'
import type { Interval, Rate } from '@dust-trail/core'
import { lensSchema, selectionSchema } from '@dust-trail/core'

/* What several endpoints share. */

export const nothing = z.undefined()

export const done = z.object({ done: z.literal(true) })

export const count = z.number().int().min(0)

export const interval = z.tuple([z.number(), z.number()]) satisfies z.ZodType<Interval>

export const rateSchema = z.object({
  hits: count,
  base: count,
  share: z.number().nullable(),
  interval,
}) satisfies z.ZodType<Rate>

export const named = z
  .string()
  .trim()
  .min(1, { error: 'Give it a name.' })
  .max(120, { error: 'At most 120 characters.' })

export const owner = z.string().trim().max(120, { error: 'At most 120 characters.' }).default('')

export const question = { lens: lensSchema, selection: selectionSchema }

export const questionSchema = z.object(question)
export type Question = z.infer<typeof questionSchema>
