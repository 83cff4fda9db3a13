import { z } from 'zod'
import { lensSchema, selectionSchema } from '@dust-trail/core'

/* What several endpoints share. */

export const nothing = z.undefined()

export const done = z.object({ done: z.literal(true) })

export const named = z
  .string()
  .trim()
  .min(1, { error: 'Give it a name.' })
  .max(120, { error: 'At most 120 characters.' })

export const owner = z.string().trim().max(120, { error: 'At most 120 characters.' }).default('')

/** A selection, through a lens. */
export const questionSchema = z.strictObject({ lens: lensSchema, selection: selectionSchema })
export type Question = z.infer<typeof questionSchema>
