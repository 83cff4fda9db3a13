import type { FunnelOptions } from '../grammar/funnel-options.ts'
import { isPlain } from '../grammar/funnel-options.ts'

/** What an event is to a funnel, in 16 bits: one for each step, for each exclusion after a step, and one more. */
export const STEP_BIT = (step: number) => 1 << step
export const WITHOUT_BIT = (after: number) => 1 << (8 + after)
/** an event of the kinds that the steps are about */
export const ACT_BIT = 1 << 15

/** Events [from, to) of one who may come through the steps, in order of time. */
export interface Run {
  from: number
  to: number
  /** milliseconds */
  atMs: ArrayLike<number>
  /** what each event means, see STEP_BIT; 0 = nothing */
  masks: ArrayLike<number>
  /** which event is the first page view; -1 = none is */
  first: number
}

/**
 * How a funnel goes through runs. Writes the events of the chain, one for each step reached; returns how many.
 * `most`: no chain is longer than this; it ends the search early.
 */
export type Reach = (run: Run, chain: Uint32Array, most?: number) => number

/**
 * How far a run of events comes through the steps, as docs/funnel.md defines it: the deepest step for which there is a
 * chain of events, one for each step up to it, each later in the run than the one before, within the time limit from
 * its first, and with nothing between two of them that may not be there.
 *
 * For each step the chain that began last is kept, since of all chains that have come as far it is the one with the most
 * time left. So a chain is found whenever there is one, in one pass: events × steps.
 *
 * Of the chains that reach the deepest step it gives the one that reaches it first, and of these the one that began last.
 * Events of one time are taken in their order.
 */
export function reachFor(steps: number, options: FunnelOptions): Reach {
  const firstOnly = options.entry === 'first'
  if (isPlain(options)) return firstChances(steps, firstOnly)
  const directly = options.between === 'nothing'
  const withinMs = options.withinMs ?? Infinity
  /** for each step when the chain that has come so far began; NaN = none has */
  const begun = new Float64Array(steps)
  /** and its events */
  const chains = new Uint32Array(steps * steps)
  return ({ from, to, atMs, masks, first }, chain, most = steps) => {
    begun.fill(NaN)
    let best = 0
    for (let i = from; i < to && best < most; i++) {
      const mask = masks[i]!
      if (mask === 0) continue
      const t = atMs[i]!
      for (let j = best < steps ? best : steps - 1; j >= 0; j--) {
        let start = NaN
        if (mask & STEP_BIT(j)) {
          if (j === 0) start = firstOnly && i !== first ? NaN : t
          else if (t - begun[j - 1]! <= withinMs) start = begun[j - 1]!
        }
        // What may not lie between ends the chains that wait here; one that begins with this very event goes on.
        if (mask & WITHOUT_BIT(j) || (directly && mask & ACT_BIT)) begun[j] = NaN
        if (start !== start || begun[j]! >= start) continue
        begun[j] = start
        const row = j * steps
        for (let k = 0; k < j; k++) chains[row + k] = chains[row - steps + k]!
        chains[row + j] = i
        if (j + 1 > best) {
          best = j + 1
          for (let k = 0; k < best; k++) chain[k] = chains[row + k]!
        }
      }
    }
    return best
  }
}

/** Without limits or exclusions: each step at its first chance, which reaches as deep as any choice. */
function firstChances(steps: number, firstOnly: boolean): Reach {
  return ({ from, to, masks, first }, chain, most = steps) => {
    let depth = 0
    for (let i = from; i < to && depth < most; i++)
      if (masks[i]! & STEP_BIT(depth) && (depth > 0 || !firstOnly || i === first)) chain[depth++] = i
    return depth
  }
}
