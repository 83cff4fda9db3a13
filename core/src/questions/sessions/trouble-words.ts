import type { SignalKind } from '../../events/signal-kinds.ts'
import type { StrainWeights } from '../../labels/strain-weights.ts'

/** Trouble of one kind at one place, and how often. */
export interface Met {
  kind: SignalKind
  /** what it was at; empty where it has no name */
  label: string
  times: number
}

/** How much of a session's strain it makes: the n-th of a kind weighs its weight / n, as in docs/strain.md. */
export function burden({ kind, times }: Met, weights: StrainWeights): number {
  let sum = 0
  for (let n = 1; n <= times; n++) sum += weights[kind] / n
  return sum
}

const LONGEST = 60

/** What was met, as the object of a sentence: “a dead click (“Picture”)”, “3 × rage click (“Continue”)”. */
export function troubleWords({ kind, label, times }: Met): string {
  const what = times === 1 ? `${article(kind)} ${kind}` : `${times} × ${kind}`
  return label ? `${what} (“${shortened(label)}”)` : what
}

/** Why a session stands high in a list: the hardest trouble, and where it ended. */
export function whyOf({ kind, label, times }: Met, exit: string): string {
  const what = times === 1 ? kind : `${times} × ${kind}`
  return `${what}${label ? ` on “${shortened(label)}”` : ''}, left at ${exit}`
}

/** The indefinite article of a word. */
export const article = (word: string) => (/^[aeiou]/.test(word) ? 'an' : 'a')

const shortened = (label: string) => (label.length > LONGEST ? `${label.slice(0, LONGEST - 1)}…` : label)
