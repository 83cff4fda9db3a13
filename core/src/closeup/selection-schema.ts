import { z } from 'zod'
import type { Noise } from '../clean/clean.ts'
import type { Condition } from '../conditions/schema.ts'
import { conditionSchema } from '../conditions/schema.ts'
import type { DeviceClass } from '../events/line.ts'
import { funnelOptionsSchema } from '../funnel/options.ts'
import { LEAK_KINDS } from '../funnel/leak-kinds.ts'
import { stepsSchema } from '../funnel/spec.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'

export const CLICK_SORTS = ['all', 'rage', 'dead'] as const
export type ClickSort = (typeof CLICK_SORTS)[number]

const plain = [
  z.object({
    type: z.literal('funnel'),
    steps: stepsSchema,
    options: funnelOptionsSchema.optional(),
    step: z.number().int().min(0),
    side: z.enum(['reached', 'continued', 'dropped']),
    leak: z.enum(LEAK_KINDS).optional(),
    /** only those who went to this page instead; null: to none */
    page: z.string().nullable().optional(),
  }),
  z.object({
    type: z.literal('clicks'),
    page: z.string(),
    which: z.enum(CLICK_SORTS),
    selector: z.string().optional(),
    text: z.string().optional(),
  }),
  z.object({
    type: z.literal('signal'),
    kind: z.enum(SIGNAL_KINDS),
    page: z.string(),
    selector: z.string(),
    text: z.string().optional(),
  }),
  z.object({ type: z.literal('page'), page: z.string() }),
  z.object({ type: z.literal('everyone') }),
] as const

/** Visitors, each by the one session in which the moment lies. */
export interface VisitorMoments {
  /** ids of the sessions in ascending order, and of each the how manieth of its events is the moment */
  sessions: Float64Array
  events: Uint32Array
  /** ids of the sessions of those that it is a share of, ascending */
  base: Float64Array
}

/** `moments`: of a funnel over visitors, which visitors it means; found out by whoever answers the question */
export type FunnelSelection = z.infer<(typeof plain)[0]> & { moments?: VisitorMoments | undefined }

/** Sessions, and what of each is looked at. */
export type Selection =
  | FunnelSelection
  | Exclude<z.infer<(typeof plain)[number]>, { type: 'funnel' }>
  /** those for which a condition holds, without a moment */
  | { type: 'where'; condition: Condition }
  /** those of a set that was made before, known by its handle; `of` is what the handle stands for */
  | { type: 'set'; set: string; of?: SetDefinition | undefined }

/** Within what a set of sessions was made: [fromMs, toMs), devices (none = all), and a condition. */
export interface Origin {
  fromMs: number
  toMs: number
  devices: readonly DeviceClass[]
  where?: Condition | undefined
}
/** `clean`: what was not counted as having happened where the set was made */
export type SetDefinition = Origin & { selection: Selection; clean?: readonly Noise[] | undefined }

/** Anything on a screen that can be opened: a condition that picks sessions and, in each, a moment. */
export const selectionSchema: z.ZodType<Selection> = z.lazy(() =>
  z.discriminatedUnion('type', [
    ...plain,
    z.object({ type: z.literal('where'), condition: conditionSchema }),
    z.object({ type: z.literal('set'), set: z.string().min(1).max(64) }),
  ]),
)
