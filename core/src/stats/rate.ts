import { z } from 'zod'
import { newcombe, wilson } from './interval.ts'

export const intervalSchema = z.tuple([z.number(), z.number()])
/** How many there are of something. */
export const countSchema = z.number().int().min(0)

/** A share of a whole, with its base and its 95 % interval (Wilson). */
export const rateSchema = z.object({
  hits: countSchema,
  base: countSchema,
  /** hits of base, 0 to 1; null where the base is 0 */
  share: z.number().nullable(),
  interval: intervalSchema,
})
export type Rate = z.infer<typeof rateSchema>

/** A share with its base and its Wilson interval; no share without a base. @throws RangeError where hits exceed the base */
export function rate(hits: number, base: number): Rate {
  return { hits, base, share: base === 0 ? null : hits / base, interval: wilson(hits, base) }
}

/** The difference of two shares and its 95 % interval (Newcombe); null where one of the two has no base. */
export const differenceShape = { difference: z.number().nullable(), interval: intervalSchema }

/** The first rate minus the second, as shares. */
export function difference(a: Rate, b: Rate) {
  return newcombe(a, b)
}
