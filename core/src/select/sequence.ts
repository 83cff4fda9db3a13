import type { EventMatcher } from './event-matcher.ts'
import type { Condition } from './grammar/conditions.ts'

export type Sequence = Extract<Condition, { type: 'sequence' }>

export interface SequenceMatchers {
  steps: readonly EventMatcher[]
  without: readonly (EventMatcher | undefined)[]
}

/** What a sequence is about: events that any of its steps or exclusions name. All others are passed over. */
function isAbout({ steps, without }: SequenceMatchers): EventMatcher {
  const all = [...steps, ...without.filter((one) => one !== undefined)]
  return (i) => all.some((test) => test(i))
}

/**
 * Whether the events [from, to) hold the sequence: an event for each step, each after the one before, such that
 * - `directly`: nothing that the sequence is about lies between the two,
 * - `withinMs` of a step: it comes at most so long after the step before,
 * - `without` of a step: nothing of that kind lies strictly between the two,
 * - `withinMs` of the sequence: the last comes at most so long after the first,
 * - anchored `starts with`: the first of the events that the sequence is about is its first step; `ends with`: the last
 *   of them is its last step; `only`: both, and nothing it is about lies outside of the chain.
 *
 * Finds a chain whenever there is one. Complexity: events² × steps at worst, over events the sequence is about.
 */
export function holdsSequence(
  atMs: ArrayLike<number>,
  from: number,
  to: number,
  sequence: Sequence,
  matchers: SequenceMatchers,
): boolean {
  const { steps, anchor } = sequence
  const about = isAbout(matchers)
  const met: number[] = []
  for (let i = from; i < to; i++) if (about(i)) met.push(i)
  if (met.length < steps.length) return false
  const fixed = anchor === 'only' && met.length !== steps.length
  if (fixed) return false
  // For every first step: the positions at which the steps so far can end.
  const lastFirst = anchor === 'starts with' || anchor === 'only' ? 0 : met.length - 1
  for (let start = 0; start <= lastFirst; start++) {
    if (!matchers.steps[0]!(met[start]!)) continue
    const limitMs = atMs[met[start]!]! + (sequence.withinMs ?? Infinity)
    let ends = [start]
    for (let k = 1; k < steps.length && ends.length; k++) ends = after(k, ends, limitMs)
    if (anchor === 'ends with' || anchor === 'only' ? ends.includes(met.length - 1) : ends.length) return true
  }
  return false

  function after(k: number, ends: readonly number[], limitMs: number): number[] {
    const { how, withinMs = Infinity } = steps[k]!
    const next: number[] = []
    const open = new Set(ends)
    const reach = matchers.steps[k]!
    const without = matchers.without[k]
    /** ends of the step before that are still good at this position, in order */
    let good: number[] = []
    for (let position = 0; position < met.length; position++) {
      const event = met[position]!
      if (atMs[event]! > limitMs) break
      if (reach(event)) {
        const reached =
          how === 'directly'
            ? good.some((end) => end === position - 1 && atMs[event]! - atMs[met[end]!]! <= withinMs)
            : good.some((end) => atMs[event]! - atMs[met[end]!]! <= withinMs)
        if (reached) next.push(position)
      }
      if (without?.(event)) good = []
      if (open.has(position)) good.push(position)
    }
    return next
  }
}
