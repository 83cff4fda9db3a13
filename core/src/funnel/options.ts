import { z } from 'zod'
import { SESSION_TEXTS, eventConditionSchema } from '../conditions/terms.ts'
import { MOST_STEPS } from './spec.ts'

export const TREND_UNITS = ['day', 'week', 'month'] as const
export type TrendUnit = (typeof TREND_UNITS)[number]

/** What a funnel counts as the way from step to step. The defaults are those of docs/funnel.md. */
export const funnelOptionsSchema = z.object({
  /** sessions, or visitors over all their sessions in the lens */
  per: z.enum(['session', 'visitor']).default('session'),
  /** `nothing`: no other event of the kinds that the steps are about lies between two steps */
  between: z.enum(['anything', 'nothing']).default('anything'),
  /** `first`: only who begins with the first step, as the first page view of the session or visitor */
  entry: z.enum(['anywhere', 'first']).default('anywhere'),
  /** from the first step to any other at most so long; null = no limit */
  withinMs: z.number().min(0).nullable().default(null),
  /** nothing of this between step `after` (from 0) and the one that follows it */
  without: z
    .array(
      z.object({
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
  /** side by side for each value of what sessions are known by */
  by: z.enum(SESSION_TEXTS).nullable().default(null),
  /** over time, by when a session began */
  trend: z.enum(TREND_UNITS).nullable().default(null),
})
export type FunnelOptions = z.infer<typeof funnelOptionsSchema>

export const DEFAULT_OPTIONS: FunnelOptions = funnelOptionsSchema.parse({})

/** True where each step may simply be taken at its first chance. */
export function isPlain({ between, withinMs, without }: FunnelOptions): boolean {
  return between === 'anything' && withinMs === null && without.length === 0
}
