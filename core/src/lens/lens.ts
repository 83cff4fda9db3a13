import { z } from 'zod'
import { TZDate } from '@date-fns/tz'
import { addDays } from 'date-fns'
import { noiseSchema } from '../clean/clean.ts'
import { conditionSchema } from '../conditions/schema.ts'
import { DEVICE_CLASSES } from '../events/line.ts'
import type { Names } from '../funnel/trace.ts'
import type { Block } from '../events/columns.ts'
import type { SessionSet } from '../sets/session-set.ts'
import { sessionsWithin } from './within.ts'

const day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, { error: 'must be a day such as 2026-03-31' })

/** What is being looked at everywhere: days of the site's calendar, both included, and devices; none = all. */
export const lensSchema = z
  .object({
    from: day,
    to: day,
    devices: z.array(z.enum(DEVICE_CLASSES)).default([]),
    /** and only sessions for which this holds */
    where: conditionSchema.optional(),
    /** what is not counted as having happened */
    clean: z.array(noiseSchema).max(10).optional(),
  })
  .refine((lens) => lens.from <= lens.to, { error: 'the first day lies after the last', path: ['from'] })
export type Lens = z.infer<typeof lensSchema>

/**
 * The instants a lens spans in the site's time zone: [from, to). A day has 23 or 25 hours where clocks change.
 *
 * @param timeZone  IANA name
 */
export function lensSpan(lens: Lens, timeZone: string): { fromMs: number; toMs: number } {
  const known = spans.get(lens)
  if (known?.timeZone === timeZone) return known
  const span = {
    timeZone,
    fromMs: startOfDay(lens.from, timeZone).getTime(),
    toMs: addDays(startOfDay(lens.to, timeZone), 1).getTime(),
  }
  spans.set(lens, span)
  return span
}

/** Asked for once a block, and slow to find out. */
const spans = new WeakMap<Lens, { timeZone: string; fromMs: number; toMs: number }>()

/** Sessions that began within the lens, on one of its devices, and meet its condition. */
export function lensSessions(block: Block, lens: Lens, timeZone: string, names: Names): SessionSet {
  return sessionsWithin(block, { ...lens, ...lensSpan(lens, timeZone) }, names)
}

/** The day of an instant in the site's calendar, as 2026-03-31. */
export function dayOf(ms: number, timeZone: string): string {
  const at = new TZDate(ms, timeZone)
  return [at.getFullYear(), at.getMonth() + 1, at.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-')
}

function startOfDay(date: string, timeZone: string): TZDate {
  const [year, month, dayOfMonth] = date.split('-').map(Number)
  return new TZDate(year!, month! - 1, dayOfMonth!, timeZone)
}
