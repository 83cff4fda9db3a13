import { z } from 'zod'
import type { Names } from '../../labels/names.ts'
import { pathPartSchema, walkShape } from '../../select/grammar/walk.ts'

const MOST_DEEP = 10

export const pathOptionsSchema = z.strictObject({
  ...walkShape,
  direction: z.enum(['onward', 'back']).default('onward'),
  depth: z.number().int().min(1).max(MOST_DEEP).default(5).describe('how many steps from the moment'),
  through: z
    .array(pathPartSchema)
    .max(MOST_DEEP)
    .optional()
    .describe('only paths that begin with these places; null = any place'),
  most: z.number().int().min(1).nullable().default(2000).describe('only the most walked places; null = all'),
})
export type PathOptions = z.infer<typeof pathOptionsSchema>

/** What the walk along paths must know. */
export interface PathSpec extends PathOptions {
  names: Names
}

/** Whether the paths need more than the kernels for page groups and clicks can do. */
export function needsWalker({ of, ofSteps, leftOut, start, at, until, per, through }: PathOptions): boolean {
  const simple = of === 'pages' || of === 'pages and clicks'
  return (
    per === 'visitor' ||
    !!through?.length ||
    !simple ||
    !!ofSteps?.length ||
    !!leftOut?.length ||
    !!start ||
    (at ?? 'first') !== 'first' ||
    !!until
  )
}
