import { addCounts, addOne } from '../../stats/counts.ts'
import { difference, rate } from '../../stats/rate.ts'
import { Tally } from '../../stats/tally.ts'
import { reasonWith } from './leaks.ts'

/** What the lost at one step did instead, and which errors they and those who went on met while they were at it. */
export interface LeakCounts {
  /** reason of the lost who met no error -> how many */
  reasons: Map<number, number>
  /** reason and errors of the lost who met any, as JSON -> how many */
  met: Map<string, number>
  /** error -> how many of those who went on met it */
  ofContinued: Map<number, number>
}

/** Counts at one step, as long as more are added. */
export class LeakTally {
  readonly #reasons = new Tally()
  readonly #met = new Map<string, number>()
  readonly #ofContinued = new Map<number, number>()

  /** One more was lost. @param reason where no error counts @param errors ids, each once */
  addLost(reason: number, errors: readonly number[]): void {
    if (errors.length) addOne(this.#met, JSON.stringify([reason, ...errors]))
    else this.#reasons.add(reason)
  }

  /** One more went on, and met these errors. */
  addContinued(errors: readonly number[]): void {
    for (const error of errors) addOne(this.#ofContinued, error)
  }

  counts(): LeakCounts {
    return { reasons: this.#reasons.counts(), met: this.#met, ofContinued: this.#ofContinued }
  }
}

/** Nobody was lost. */
export function noLeaks(): LeakCounts {
  return { reasons: new Map(), met: new Map(), ofContinued: new Map() }
}

/** Adds the counts of b to those of a; a is changed. */
export function addLeaks(a: LeakCounts, b: LeakCounts): void {
  addCounts(a.reasons, b.reasons)
  addCounts(a.met, b.met)
  addCounts(a.ofContinued, b.ofContinued)
}

/**
 * The errors that count as the reason of a leak: those that the lost met clearly more often than those who went on, that
 * is, the 95 % interval of the difference of the two shares (Newcombe 1998, method 10) lies above zero. Where nobody went
 * on there is nobody to hold them against, and each error counts.
 *
 * @param lost  how many were lost at the step
 * @param continued  how many went on
 */
export function countingErrors(
  { met, ofContinued }: LeakCounts,
  lost: number,
  continued: number,
): Set<number> {
  const ofLost = new Map<number, number>()
  for (const [key, n] of met)
    for (const error of errorsIn(key)) ofLost.set(error, (ofLost.get(error) ?? 0) + n)
  const counting = [...ofLost].filter(([error, hits]) => {
    if (continued === 0) return true
    return difference(rate(hits, lost), rate(ofContinued.get(error) ?? 0, continued)).interval[0] > 0
  })
  return new Set(counting.map(([error]) => error))
}

/** How many were lost for each reason: see leakOf. */
export function reasonCounts(counts: LeakCounts, counting: ReadonlySet<number>): Map<number, number> {
  const reasons = new Map(counts.reasons)
  for (const [key, n] of counts.met) {
    const [reason] = JSON.parse(key) as [number]
    const counted = reasonWith(errorsIn(key), counting, reason)
    reasons.set(counted, (reasons.get(counted) ?? 0) + n)
  }
  return reasons
}

function errorsIn(key: string): number[] {
  return (JSON.parse(key) as number[]).slice(1)
}
