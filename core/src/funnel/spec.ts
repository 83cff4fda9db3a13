import { z } from 'zod'
import { eventConditionSchema } from '../conditions/terms.ts'

const label = z.string().min(1, { error: 'must not be empty' }).max(2048)

/** what the step is called, where it is not called after what it is */
const name = label.max(120).optional()

/** What makes an event count as a step. */
export const stepSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('page'), page: label, name }),
  z.object({
    type: z.literal('click'),
    page: label.optional(),
    selector: label,
    text: z.string().max(80).optional(),
    name,
  }),
  /** any event that a condition names; several alternatives are its `any` */
  z.object({ type: z.literal('event'), name: label.max(120), event: eventConditionSchema }),
])
export type Step = z.infer<typeof stepSchema>

export const MOST_STEPS = 8

export const stepsSchema = z
  .array(stepSchema)
  .min(1, { error: 'a funnel needs at least one step' })
  .max(MOST_STEPS, { error: `a funnel has at most ${MOST_STEPS} steps` })

/** How a step is called where people read it. */
export function stepName(step: Step): string {
  if (step.type === 'event') return step.name
  if (step.name !== undefined) return step.name
  if (step.type === 'page') return step.page
  return `Click on ${step.text ? `“${step.text}”` : step.selector}`
}
