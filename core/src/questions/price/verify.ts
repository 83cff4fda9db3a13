import { z } from 'zod'
import type { Mean } from '../../stats/mean.ts'
import { meanDifference } from '../../stats/mean.ts'
import type { Rate } from '../../stats/rate.ts'
import { difference } from '../../stats/rate.ts'

/* Whether a repair did what it was meant to: the same definition before and after the day it was shipped. */

/** Days on each side, at most: longer ago other things have changed as well. */
const MOST_DAYS = 28
const DAY_MS = 86_400_000
/** With an interval wider than this share of what was before, “no change” would claim too much. */
const NARROW = 0.25

export interface Window {
  from: string
  to: string
}

export interface Windows {
  before: Window
  after: Window
  days: number
}

/**
 * The days that are held against one another: whole days after the one it was shipped on, up to the last full day with data,
 * and as many before it, on the same weekdays. Whole weeks where there is one at least, since weekdays differ.
 *
 * @param shipped  the day it was shipped, as 2026-05-31
 * @param last     the last full day with data
 * @returns undefined while there is no full day after it
 */
export function verifyWindows(shipped: string, last: string): Windows | undefined {
  const since = Math.round((Date.parse(last) - Date.parse(shipped)) / DAY_MS)
  if (!(since >= 1)) return undefined
  const all = Math.min(MOST_DAYS, since)
  const days = all >= 7 ? all - (all % 7) : all
  const after = { from: shift(shipped, 1), to: shift(shipped, days) }
  // The same weekdays, on the far side of the day itself.
  const back = 7 * Math.ceil((days + 1) / 7)
  const before =
    days % 7 === 0
      ? { from: shift(shipped, -days), to: shift(shipped, -1) }
      : { from: shift(after.from, -back), to: shift(after.to, -back) }
  return { before, after, days }
}

function shift(day: string, by: number): string {
  return new Date(Date.parse(day) + by * DAY_MS).toISOString().slice(0, 10)
}

/** What is measured on each side. */
export interface Side {
  /** those who met the problem, of all who could have */
  met: Rate
  /** those who converted, of all who could have met it */
  converted: Rate
  strain: Mean & { n: number }
  goals: readonly { name: string; reached: Rate }[]
}

export const VERDICTS = ['works', 'met less', 'no change', 'worse', 'cannot tell yet'] as const
export type Verdict = (typeof VERDICTS)[number]

const changeSchema = z.object({
  what: z.string(),
  before: z.number().nullable(),
  after: z.number().nullable(),
  difference: z.number().nullable(),
  interval: z.tuple([z.number(), z.number()]),
  worse: z.boolean().describe('beyond noise, in the bad direction'),
})
export const verificationSchema = z.object({
  verdict: z.enum(VERDICTS),
  reason: z.string(),
  met: changeSchema,
  converted: changeSchema,
  guardrails: z.array(changeSchema).describe('what must not have become worse: strain and the other goals'),
})
export type Verification = z.infer<typeof verificationSchema>
type Change = Verification['met']

/**
 * What can be said of a repair, by stated rules. “Beyond noise”: the 95 % interval of the difference (Newcombe for shares,
 * Welch for means) leaves zero out.
 *
 * - worse: the problem is met more, or fewer convert, beyond noise
 * - works: it is met less and more convert, both beyond noise
 * - met less: it is met less beyond noise, and of conversions it cannot be told
 * - no change: the interval of how much less it is met is narrow against what it was, and holds zero
 * - cannot tell yet: all else
 */
export function verify(before: Side, after: Side): Verification {
  const met = changeOf('met the problem', before.met, after.met, true)
  const converted = changeOf('converted', before.converted, after.converted, false)
  const guardrails = [
    strainChange(before.strain, after.strain),
    ...after.goals.slice(1).flatMap(({ name, reached }) => {
      const was = before.goals.find((goal) => goal.name === name)
      return was ? [changeOf(`reached “${name}”`, was.reached, reached, false)] : []
    }),
  ]
  const hurt = guardrails.filter(({ worse }) => worse).map(({ what }) => what)
  const beside = hurt.length ? ` Became worse meanwhile: ${hurt.join(', ')}.` : ''
  const say = (verdict: Verdict, reason: string): Verification => ({
    ...{ verdict, reason: reason + beside, met, converted, guardrails },
  })
  if (!before.met.base || !after.met.base)
    return say('cannot tell yet', 'On one of the sides nobody came where the problem was.')
  const less = met.interval[1] < 0
  const gained = converted.interval[0] > 0
  if (met.worse) return say('worse', 'The problem is met by a larger share than before, beyond noise.')
  if (converted.worse) return say('worse', 'A smaller share converts than before, beyond noise.')
  if (less && gained) return say('works', 'The problem is met less and more convert, both beyond noise.')
  if (less)
    return say(
      'met less',
      'The problem is met less, beyond noise; whether more convert for it cannot be told from these days.',
    )
  const width = Math.max(-met.interval[0], met.interval[1])
  return before.met.share! > 0 && width <= NARROW * before.met.share!
    ? say('no change', 'The problem is met as often as before.')
    : say('cannot tell yet', 'What was measured so far fits with a change as well as with none.')
}

/** Whether a problem that was gone is met again: by a larger share than when it was verified, beyond noise. */
export function hasComeBack(then: Rate, now: Rate): boolean {
  return difference(now, then).interval[0] > 0
}

function changeOf(what: string, before: Rate, after: Rate, moreIsWorse: boolean): Change {
  const gap = difference(after, before)
  const worse = gap.difference !== null && (moreIsWorse ? gap.interval[0] > 0 : gap.interval[1] < 0)
  return { what, before: before.share, after: after.share, ...gap, worse }
}

function strainChange(before: Side['strain'], after: Side['strain']): Change {
  const gap = meanDifference(after, before)
  const interval: [number, number] = gap?.interval ?? [-Infinity, Infinity]
  return {
    ...{ what: 'strain', before: before.mean, after: after.mean, difference: gap?.difference ?? null },
    interval: gap ? interval : [0, 0],
    worse: gap !== null && interval[0] > 0,
  }
}
