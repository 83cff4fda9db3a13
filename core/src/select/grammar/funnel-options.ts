import { z } from 'zod'
import { eventConditionSchema } from '../../labels/event-condition.ts'
import { SESSION_TEXTS } from './attributes.ts'
import { MOST_STEPS } from './steps.ts'

export const TREND_UNITS = ['day', 'week', 'month'] as const
export type TrendUnit = (typeof TREND_UNITS)[number]

/** What a funnel counts as the way from step to step. The defaults are those of docs/funnel.md. */
export const funnelOptionsSchema = z.strictObject({
  per: z
    .enum(['session', 'visitor'])
    .default('session')
    .describe('sessions, or visitors over all their sessions in the lens'),
  between: z
    .enum(['anything', 'nothing'])
    .default('anything')
    .describe('`nothing`: no other event of the kinds that the steps are about lies between two steps'),
  entry: z
    .enum(['anywhere', 'first'])
    .default('anywhere')
    .describe(
      '`first`: only who begins with the first step, as the first page view of the session or visitor',
    ),
  withinMs: z
    .number()
    .min(0)
    .nullable()
    .default(null)
    .describe('from the first step to any other at most so long; null = no limit'),
  /** nothing of this between step `after` (from 0) and the one that follows it */
  without: z
    .array(
      z.strictObject({
        after: z
          .number()
          .int()
          .min(0)
          .max(MOST_STEPS - 2),
        event: eventConditionSchema,
      }),
    )
    .max(MOST_STEPS - 1)
    .default([]),
  by: z
    .enum(SESSION_TEXTS)
    .nullable()
    .default(null)
    .describe('side by side for each value of what sessions are known by'),
  trend: z.enum(TREND_UNITS).nullable().default(null).describe('over time, by when a session began'),
})
export type FunnelOptions = z.infer<typeof funnelOptionsSchema>

/** Refuses what may not happen after a step that is not there, or after the last one. */
export function refineWithout(
  { steps, options }: { steps: readonly unknown[]; options?: FunnelOptions | undefined },
  context: z.RefinementCtx,
): void {
  options?.without.forEach(({ after }, k) => {
    if (after >= steps.length - 1)
      context.addIssue({
        code: 'custom',
        path: ['options', 'without', k, 'after'],
        message: `no step follows step ${after}, counted from 0`,
      })
  })
}

export const DEFAULT_OPTIONS: FunnelOptions = funnelOptionsSchema.parse({})

/** True where each step may simply be taken at its first chance. */
export function isPlain({ between, withinMs, without }: FunnelOptions): boolean {
  return between === 'anything' && withinMs === null && without.length === 0
}
