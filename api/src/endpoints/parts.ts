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

/** Characters of a password. */
export const LEAST_PASSWORD = 12

/** What somebody may do on a site: look; change what is kept of it; decide about people, secrets and what is deleted. */
export const ROLES = ['reader', 'editor', 'owner'] as const
export type Role = (typeof ROLES)[number]

/** Whether one role may do what another one may. */
export function mayAs(role: Role, needed: Role): boolean {
  return ROLES.indexOf(role) >= ROLES.indexOf(needed)
}
