import { z } from 'zod'
import type { Names } from '../../labels/names.ts'

const MOST_DEEP = 10

/** What paths are made of: views of page groups alone, or clicks as well. */
export const PATH_PARTS = ['pages', 'pages and clicks'] as const

export const pathOptionsSchema = z.strictObject({
  of: z.enum(PATH_PARTS).default('pages'),
  direction: z.enum(['onward', 'back']).default('onward'),
  depth: z.number().int().min(1).max(MOST_DEEP).default(5).describe('how many steps from the moment'),
  fold: z.boolean().default(true).describe('views of one page group after another count as one'),
  most: z.number().int().min(1).nullable().default(2000).describe('only the most walked places; null = all'),
})
export type PathOptions = z.infer<typeof pathOptionsSchema>

/** What the walk along paths must know. */
export interface PathSpec extends PathOptions {
  names: Names
}
