import type { FunnelOptions, Step } from '@dust-trail/core'
import { stepName } from '@dust-trail/core'
import { plural } from '../../ui/format.ts'
import { eventWords, TEXT_WORDS } from '../../words/sentences.ts'

export const TIME_UNITS = { minutes: 60_000, hours: 3_600_000, days: 86_400_000 } as const
export type TimeUnit = keyof typeof TIME_UNITS

/** A length of time in the largest unit in which it is whole. */
export function inUnits(ms: number): { amount: number; unit: TimeUnit } {
  const unit = (['days', 'hours', 'minutes'] as const).find((one) => ms % TIME_UNITS[one] === 0) ?? 'minutes'
  return { amount: ms / TIME_UNITS[unit], unit }
}

function span(ms: number): string {
  const { amount, unit } = inUnits(ms)
  return plural(amount, unit.slice(0, -1))
}

/** What is counted, exactly, in one sentence. */
export function definition(steps: readonly Step[], options: FunnelOptions): string {
  const { per, between, entry, withinMs, without, by } = options
  const whose = per === 'visitor' ? 'visitors, over all their sessions in the lens,' : 'sessions'
  const parts = [
    `Counts ${whose} that did these steps in this order`,
    between === 'nothing'
      ? 'one directly after the other, with no other event of the kinds that the steps are about in between'
      : 'with anything in between',
    ...(entry === 'first' ? ['beginning with the first step as their first page view'] : []),
    withinMs === null
      ? per === 'visitor'
        ? 'however long it took'
        : 'within one session'
      : `within ${span(withinMs)} of the first step`,
    ...without.map(
      ({ after, event }) =>
        `without ${eventWords(event)} between “${steps[after] ? stepName(steps[after]) : `step ${after + 1}`}” and the next step`,
    ),
  ]
  return `${parts.join(', ')}${by ? `; for each ${TEXT_WORDS[by]}` : ''}.`
}

/** Why a funnel shows nothing, where it does: which step nobody reaches, and what may be the matter. */
export function whatIsBroken(
  steps: readonly Step[],
  result: { sessions: number; steps: readonly { sessions: number }[] },
  alone: readonly number[] | undefined,
): string | undefined {
  if (result.sessions === 0) return undefined
  const step = result.steps.findIndex(({ sessions }) => sessions === 0)
  if (step < 0) return undefined
  const name = stepName(steps[step]!)
  const matching = alone?.[step]
  if (matching === undefined) return undefined
  const fix = 'Change the step, or take it out.'
  if (matching === 0)
    return `Nobody in the lens did “${name}” at all: the page or element may have another name by now, or lie outside these dates. ${fix}`
  if (step === 0)
    return `Nobody counts as having begun with “${name}”, though ${matching} did it. Look at how it counts.`
  const before = stepName(steps[step - 1]!)
  return `${matching} did “${name}”, but nobody after “${before}”: the two may stand in the wrong order. ${fix}`
}
