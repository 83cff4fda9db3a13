import type { Analysis } from '../sets/analysis.ts'
import { addCounts } from '../sets/analysis.ts'
import type { Interval } from '../stats/interval.ts'
import { wilson } from '../stats/interval.ts'
import { quantile } from '../stats/quantile.ts'
import type { Step } from './spec.ts'
import { stepName } from './spec.ts'
import type { LeakKind, Names } from './trace.ts'
import { LEAK_KINDS, stepMatchers, traceSession } from './trace.ts'

export interface FunnelSpec {
  steps: readonly Step[]
  names: Names
}

export interface FunnelPartial {
  sessions: number
  /** sessions that reached each step */
  reached: number[]
  /** milliseconds from each step to the next, one per session that made it */
  gapsMs: number[][]
  /** per step: "kind/group" -> sessions lost that way */
  leaks: Map<string, number>[]
}

export interface Rate {
  hits: number
  base: number
  /** null where the base is 0 */
  share: number | null
  interval: Interval
}

export interface LeakPart {
  kind: LeakKind
  /** name of the page they went back or on to; null for the other kinds */
  page: string | null
  sessions: number
}

export interface FunnelStepResult {
  name: string
  sessions: number
  /** of those who reached the step before; for the first step of all sessions looked at */
  ofPrevious: Rate
  /** of all who entered, that is who reached the first step */
  ofEntered: Rate
  /** sessions that reached this step and not the next; 0 at the last */
  lost: number
  leak: LeakPart[]
  /** how long those who went on took to the next step */
  toNext: { medianMs: number | null; p25Ms: number | null; p75Ms: number | null; histogram: number[] }
}

export interface FunnelResult {
  sessions: number
  entered: number
  converted: number
  steps: FunnelStepResult[]
}

/** Upper edges of the time bins, in seconds; the last bin is open. Equal ratios, since waiting times are skewed. */
export const TIME_BINS_S = [2, 4, 8, 15, 30, 60, 120, 240, 480, 960, 1800] as const

/**
 * An ordered funnel within sessions: docs/funnel.md has the definition. Counts are exact.
 * Complexity: one pass over the events of the sessions looked at, until each has reached its last step.
 */
export const funnel: Analysis<FunnelSpec, FunnelPartial, FunnelResult> = {
  scan(block, sessions, { steps, names }) {
    const matchers = stepMatchers(block, steps, names)
    const partial: FunnelPartial = {
      sessions: 0,
      reached: steps.map(() => 0),
      gapsMs: steps.map(() => []),
      leaks: steps.map(() => new Map<string, number>()),
    }
    for (const s of sessions) {
      partial.sessions++
      const { reached, lost } = traceSession(block, s, matchers, names)
      reached.forEach((event, k) => {
        partial.reached[k]!++
        if (k > 0)
          partial.gapsMs[k - 1]!.push(block.events.atMs[event]! - block.events.atMs[reached[k - 1]!]!)
      })
      if (lost) {
        const leaks = partial.leaks[reached.length - 1]!
        const { kind, toGroup } = lost.leak
        const key = `${kind}/${kind === 'back' || kind === 'other' ? names.groups.names[toGroup]! : ''}`
        leaks.set(key, (leaks.get(key) ?? 0) + 1)
      }
    }
    return partial
  },

  merge: (a, b) => ({
    sessions: a.sessions + b.sessions,
    reached: a.reached.map((n, k) => n + b.reached[k]!),
    gapsMs: a.gapsMs.map((gaps, k) => [...gaps, ...b.gapsMs[k]!]),
    leaks: a.leaks.map((leaks, k) => addCounts(new Map(leaks), b.leaks[k]!)),
  }),

  finish(total, { steps }) {
    const entered = total.reached[0] ?? 0
    return {
      sessions: total.sessions,
      entered,
      converted: total.reached[steps.length - 1] ?? 0,
      steps: steps.map((step, k) => {
        const sessions = total.reached[k]!
        return {
          name: stepName(step),
          sessions,
          ofPrevious: rate(sessions, k === 0 ? total.sessions : total.reached[k - 1]!),
          ofEntered: rate(sessions, entered),
          lost: k + 1 < steps.length ? sessions - total.reached[k + 1]! : 0,
          leak: leakParts(total.leaks[k]!),
          toNext: waiting(total.gapsMs[k]!),
        }
      }),
    }
  },
}

/** A share with its base and its Wilson interval; no share without a base. */
export function rate(hits: number, base: number): Rate {
  return { hits, base, share: base === 0 ? null : hits / base, interval: wilson(hits, base) }
}

function leakParts(leaks: ReadonlyMap<string, number>): LeakPart[] {
  return [...leaks]
    .map(([key, sessions]) => {
      const cut = key.indexOf('/')
      return { kind: key.slice(0, cut) as LeakKind, page: key.slice(cut + 1) || null, sessions }
    })
    .sort(
      (a, b) =>
        LEAK_KINDS.indexOf(a.kind) - LEAK_KINDS.indexOf(b.kind) ||
        b.sessions - a.sessions ||
        (a.page ?? '').localeCompare(b.page ?? ''),
    )
}

function waiting(gapsMs: readonly number[]): FunnelStepResult['toNext'] {
  const sorted = Float64Array.from(gapsMs).sort()
  const histogram: number[] = [...TIME_BINS_S, 0].map(() => 0)
  for (const gap of sorted) {
    const bin = TIME_BINS_S.findIndex((edge) => gap < edge * 1000)
    histogram[bin === -1 ? TIME_BINS_S.length : bin]!++
  }
  return {
    medianMs: quantile(sorted, 0.5),
    p25Ms: quantile(sorted, 0.25),
    p75Ms: quantile(sorted, 0.75),
    histogram,
  }
}
