import { z } from 'zod'
import { eventConditionSchema } from '../conditions/terms.ts'

const label = z.string().min(1, { error: 'must not be empty' }).max(2048)

/** What makes an event count as a step. */
export const stepSchema = z.discriminatedUnion('type', [
  z.object({ type: z.literal('page'), page: label }),
  z.object({
    type: z.literal('click'),
    page: label.optional(),
    selector: label,
    text: z.string().max(80).optional(),
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
  if (step.type === 'page') return step.page
  if (step.type === 'event') return step.name
  return `Click on ${step.text ? `“${step.text}”` : step.selector}`
}
