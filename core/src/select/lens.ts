import { TZDate } from '@date-fns/tz'
import { addDays } from 'date-fns'
import type { Block } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Names } from '../labels/names.ts'
import type { Lens } from './grammar/conditions.ts'
import { sessionsWithin } from './sessions.ts'

/**
 * The instants a lens spans in the site's time zone: [from, to). A day has 23 or 25 hours where clocks change.
 *
 * @param timeZone  IANA name
 */
export function lensSpan(lens: Lens, timeZone: string): { fromMs: number; toMs: number } {
  const cached = spans.get(lens)
  if (cached?.timeZone === timeZone) return cached
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

function startOfDay(date: string, timeZone: string): TZDate {
  const [year, month, dayOfMonth] = date.split('-').map(Number)
  return new TZDate(year!, month! - 1, dayOfMonth!, timeZone)
}
