/** What an event is to a funnel, in one number: a bit for each step, for each exclusion after a step, and two more. */
export const STEP_BIT = (step: number) => 1 << step
export const WITHOUT_BIT = (after: number) => 1 << (8 + after)
/** an event of the kinds that the steps are about */
export const ACT_BIT = 1 << 16
/** the first page view of all */
export const FIRST_BIT = 1 << 17

export interface Rules {
  steps: number
  /** nothing but the steps themselves between two of them */
  directly: boolean
  firstOnly: boolean
  /** Infinity = no limit */
  withinMs: number
}

/**
 * How far a run of events comes through the steps, as docs/funnel.md defines it: the deepest step for which there is a
 * chain of events, one for each step up to it, each later in the run than the one before, within the time limit from
 * its first, and with nothing between two of them that may not be there.
 *
 * For each step the chain that began last is kept, since of all chains that have come as far it is the one with the most
 * time left. So a chain is found whenever there is one, in one pass: events × steps.
 *
 * @param atMs   times of the events, ascending; events of one time are taken in their order
 * @param masks  what each event is to the funnel
 * @returns positions of the events of the chain, one for each step reached: of those that reach the deepest step the one
 *          that reaches it first, and of these the one that began last
 */
export function reachedChain(atMs: ArrayLike<number>, masks: ArrayLike<number>, rules: Rules): number[] {
  const { steps, directly, firstOnly, withinMs } = rules
  const begun = new Array<number>(steps).fill(NaN)
  const chains = new Array<number[]>(steps).fill([])
  let best: number[] = []
  for (let i = 0; i < masks.length; i++) {
    const mask = masks[i]!
    const t = atMs[i]!
    for (let j = steps - 1; j >= 0; j--) {
      let start = NaN
      if (mask & STEP_BIT(j)) {
        if (j === 0) start = firstOnly && !(mask & FIRST_BIT) ? NaN : t
        else if (t - begun[j - 1]! <= withinMs) start = begun[j - 1]!
      }
      // What may not lie between ends the chains that wait here; one that begins with this very event goes on.
      if (mask & WITHOUT_BIT(j) || (directly && mask & ACT_BIT)) begun[j] = NaN
      if (Number.isNaN(start) || begun[j]! >= start) continue
      begun[j] = start
      chains[j] = j === 0 ? [i] : [...chains[j - 1]!, i]
      if (j + 1 > best.length) best = chains[j]!
    }
  }
  return best
}

/** The same without limits or exclusions: each step at its first chance, which then reaches as deep as any choice. */
export function firstChances(masks: ArrayLike<number>, steps: number, firstOnly: boolean): number[] {
  const chain: number[] = []
  for (let i = 0; i < masks.length && chain.length < steps; i++) {
    const mask = masks[i]!
    if (mask & STEP_BIT(chain.length) && (chain.length > 0 || !firstOnly || mask & FIRST_BIT)) chain.push(i)
  }
  return chain
}
