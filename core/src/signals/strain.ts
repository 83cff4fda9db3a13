import type { Block } from '../columns/block.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import type { StrainWeights } from '../labels/strain-weights.ts'

/** At this load strain is half of the most there can be: one rage click and what comes with it. */
const HALF_LOAD = 8
/** Strain is told in hundredths, so that sums of it are exact in any order. */
export const STRAIN_PARTS = 100

/** Bands of strain, each from its lower edge up to the next. */
export const STRAIN_BANDS = [
  ['easy', 0],
  ['uneven', 20],
  ['hard', 50],
  ['punishing', 75],
] as const

/**
 * Strain of a load of signals: 100 × (1 − 2^(−load / HALF_LOAD)), from 0 for none towards 100, rounded to hundredths. The
 * reasons stand in docs/strain.md.
 */
export function strainOf(load: number): number {
  return Math.round(STRAIN_PARTS * 100 * (1 - 2 ** (-load / HALF_LOAD))) / STRAIN_PARTS
}

/**
 * Adds up signals: the n-th of a kind weighs its weight / n. Make one for each thread of work; `load` empties it.
 */
export class StrainLoad {
  readonly #counts = new Uint32Array(SIGNAL_KINDS.length)
  readonly #weights: Float64Array
  #load = 0

  constructor(weights: StrainWeights) {
    this.#weights = Float64Array.from(SIGNAL_KINDS, (kind) => weights[kind])
  }

  /** @param kind  index into SIGNAL_KINDS */
  add(kind: number): void {
    this.#load += this.#weights[kind]! / ++this.#counts[kind]!
  }

  /** What was added since the last time. */
  take(): number {
    const load = this.#load
    this.#load = 0
    this.#counts.fill(0)
    return load
  }
}

/** Strain of each session: by its index a number from 0 to 100. */
export function sessionStrain(
  { sessions, signals }: Block,
  weights: StrainWeights,
): (session: number) => number {
  const load = new StrainLoad(weights)
  return (s) => {
    const to = sessions.firstSignal[s + 1]!
    for (let g = sessions.firstSignal[s]!; g < to; g++) load.add(signals.kind[g]!)
    return strainOf(load.take())
  }
}
