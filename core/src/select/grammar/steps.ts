import { z } from 'zod'
import { eventConditionSchema } from '../../labels/event-condition.ts'

const label = z.string().min(1, { error: 'must not be empty' }).max(2048)

/** what the step is called, where it is not called after what it is */
const name = label.max(120).optional()

/** What makes an event count as a step. */
export const stepSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('page'), page: label, name }),
  z.strictObject({
    type: z.literal('click'),
    page: label.optional(),
    selector: label,
    text: z.string().max(80).optional(),
    name,
  }),
  /** any event that a condition names; several alternatives are its `any` */
  z.strictObject({ type: z.literal('event'), name: label.max(120), event: eventConditionSchema }),
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

/** Two steps as an example of what can be asked. */
export const EXAMPLE_STEPS: { steps: Step[] } = {
  steps: [
    { type: 'page', page: '/' },
    { type: 'page', page: '/thanks' },
  ],
}
