import type { Rate } from '../../stats/rate.ts'
import { difference, rate } from '../../stats/rate.ts'
import type { FunnelAnswer, FunnelPart } from './funnel.ts'

/** A step at which more go on elsewhere: with another value of an attribute, or in another period. */
export interface Leak {
  /** from 0: those who reached this step and not the next */
  step: number
  name: string
  next: string
  /** of those who reached it, who went on */
  wentOn: Rate
  /** the best of one's own, and what it is called */
  best: { label: string; rate: Rate }
  /** conversions more, if all went on as often as there; an upper bound, since they differ in more than that */
  lost: number
}

/** Fewer say too little to be held up as the best. */
const LEAST_REACHED = 50

/**
 * Where a funnel loses most against the best of one's own: each step is held against every part that is beyond noise better
 * (Newcombe interval above zero), and what is missing to the best of them is worth what going on from there is worth.
 * The most lost first. Complexity: steps × parts.
 *
 * @param parts  of the same funnel: its values, and itself in another period
 */
export function largestLeaks(
  { steps, converted }: FunnelAnswer,
  parts: readonly Pick<FunnelPart, 'label' | 'reached'>[],
): Leak[] {
  const leaks: Leak[] = []
  for (let k = 0; k + 1 < steps.length; k++) {
    const [here, next] = [steps[k]!, steps[k + 1]!]
    const wentOn = rate(next.sessions, here.sessions)
    if (wentOn.share === null || !next.sessions) continue
    let best: Leak['best'] | undefined
    for (const { label, reached } of parts) {
      if ((reached[k] ?? 0) < LEAST_REACHED) continue
      const own = rate(reached[k + 1] ?? 0, reached[k]!)
      if (difference(own, wentOn).interval[0] > 0 && (!best || own.share! > best.rate.share!))
        best = { label, rate: own }
    }
    if (!best) continue
    const worth = converted / next.sessions
    const lost = here.sessions * (best.rate.share! - wentOn.share) * worth
    leaks.push({ step: k, name: here.name, next: next.name, wentOn, best, lost })
  }
  return leaks.sort((a, b) => b.lost - a.lost || a.step - b.step)
}
