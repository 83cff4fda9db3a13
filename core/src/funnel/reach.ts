import type { FunnelOptions } from './options.ts'
import { isPlain } from './options.ts'

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

/** Events that mean something, in order of time; see STEP_BIT. */
export interface Masked {
  length: number
  atMs: ArrayLike<number>
  masks: ArrayLike<number>
}

/** How a funnel goes through runs. Writes the positions of the chain, one for each step reached; returns how many. */
export type Reach = (run: Masked, chain: Uint32Array) => number

/** The fastest way to go through runs that finds what the options ask for. */
export function reachFor(steps: number, options: FunnelOptions): Reach {
  const firstOnly = options.entry === 'first'
  const plain: Reach = (run, chain) => firstChances(run, steps, firstOnly, chain)
  if (isPlain(options)) return plain
  const rules: Rules = {
    steps,
    firstOnly,
    directly: options.between === 'nothing',
    withinMs: options.withinMs ?? Infinity,
  }
  const held = holder(steps)
  // Limits only ever take chains away: who does not enter, or enters and goes no further, needs no search for them.
  return (run, chain) => {
    const most = plain(run, chain)
    return most < 2 ? most : reachedChain(run, rules, chain, held)
  }
}

interface Held {
  begun: Float64Array
  chains: Uint32Array
}

function holder(steps: number): Held {
  return { begun: new Float64Array(steps), chains: new Uint32Array(steps * steps) }
}

/**
 * How far a run of events comes through the steps, as docs/funnel.md defines it: the deepest step for which there is a
 * chain of events, one for each step up to it, each later in the run than the one before, within the time limit from
 * its first, and with nothing between two of them that may not be there.
 *
 * For each step the chain that began last is kept, since of all chains that have come as far it is the one with the most
 * time left. So a chain is found whenever there is one, in one pass: events × steps.
 *
 * @param run    events of one time are taken in their order
 * @param chain  takes the positions of the chain's events, one for each step reached: of those that reach the deepest
 *               step the one that reaches it first, and of these the one that began last
 * @returns how many steps are reached
 */
export function reachedChain(
  { length, atMs, masks }: Masked,
  { steps, directly, firstOnly, withinMs }: Rules,
  chain: Uint32Array,
  { begun, chains }: Held = holder(steps),
): number {
  begun.fill(NaN)
  let best = 0
  for (let i = 0; i < length; i++) {
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
      if (start !== start || begun[j]! >= start) continue
      begun[j] = start
      const own = j * steps
      for (let k = 0; k < j; k++) chains[own + k] = chains[own - steps + k]!
      chains[own + j] = i
      if (j + 1 > best) {
        best = j + 1
        for (let k = 0; k < best; k++) chain[k] = chains[own + k]!
      }
    }
    if (best === steps) break
  }
  return best
}

/** The same without limits or exclusions: each step at its first chance, which then reaches as deep as any choice. */
export function firstChances(
  { length, masks }: Masked,
  steps: number,
  firstOnly: boolean,
  chain: Uint32Array,
): number {
  let depth = 0
  for (let i = 0; i < length && depth < steps; i++) {
    const mask = masks[i]!
    if (mask & STEP_BIT(depth) && (depth > 0 || !firstOnly || mask & FIRST_BIT)) chain[depth++] = i
  }
  return depth
}
