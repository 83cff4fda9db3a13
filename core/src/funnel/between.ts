import { isSlow } from '../sequences/tokens.ts'
import { KIND } from '../events/loose.ts'
import type { Rate } from './funnel.ts'
import { rate } from './funnel.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { SignalKind } from '../signals/detect.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'
import type { Interval } from '../stats/interval.ts'
import { newcombe } from '../stats/interval.ts'
import type { FunnelOptions } from './options.ts'
import { DEFAULT_OPTIONS } from './options.ts'
import type { Step } from './spec.ts'
import type { Names } from './trace.ts'
import { funnelWalk } from './trace.ts'

export interface BetweenSpec {
  steps: readonly Step[]
  options?: FunnelOptions | undefined
  names: Names
}

/** What can go wrong with a page, and what is hard about it. */
export const CAUSES = ['error', 'failed request', 'freeze', 'slow page', 'rage click', 'dead click'] as const
export type Cause = (typeof CAUSES)[number]
export const TECHNICAL_CAUSES: readonly Cause[] = ['error', 'failed request', 'freeze', 'slow page']

/** What a signal is a case of; others are causes by their own name. */
const CASES: Partial<Record<string, Cause>> = { 'script error': 'error', 'not found': 'error' }

function causeOf(signal: SignalKind): Cause | undefined {
  return CASES[signal] ?? CAUSES.find((cause) => cause === signal)
}

interface StepPartial {
  continued: number
  lost: number
  /** page group -> continuers that saw it on the way to the next step */
  pages: Map<number, number>
  /** "lost/cause", "continued/cause", and "any" for technical ones -> sessions */
  causes: Map<string, number>
}

export interface BetweenStep {
  continued: number
  lost: number
  /** pages that most continuers see before the next step, and that are no step themselves: perhaps a step is missing */
  missing: { page: string; rate: Rate }[]
  /** how many of the lost and of the continuers met each while they were at the step */
  causes: {
    cause: Cause | 'any technical'
    lost: Rate
    continued: Rate
    difference: number | null
    interval: Interval
  }[]
}

/** A page that so many continuers see is worth proposing as a step. */
export const MISSING_SHARE = 0.5

/**
 * What lies between the steps of a funnel: pages that most of those who go on see on the way, and what went wrong for
 * those who were lost and for those who went on, while they were at the step: from when they reached it (the lost: from
 * the last time they were there) until they saw another page or the next step.
 */
export const between: Analysis<BetweenSpec, StepPartial[], BetweenStep[]> = {
  scan(block, among, { steps, options = DEFAULT_OPTIONS, names }) {
    const { events, sessions, signals, views } = block
    const { groupOf } = names.groups
    const walk = funnelWalk(block, among, steps, options, names)
    const partial = steps.map((): StepPartial => ({
      continued: 0,
      lost: 0,
      pages: new Map(),
      causes: new Map(),
    }))
    const add = <K>(counts: Map<K, number>, key: K) => counts.set(key, (counts.get(key) ?? 0) + 1)
    const met = (s: number, from: number, until: number): Set<string> => {
      const causes = new Set<string>()
      for (let g = sessions.firstSignal[s]!; g < sessions.firstSignal[s + 1]!; g++)
        if (signals.atMs[g]! >= events.atMs[from]! && signals.atMs[g]! < until) {
          const cause = causeOf(SIGNAL_KINDS[signals.kind[g]!]!)
          if (cause) causes.add(cause)
        }
      for (let i = from; i < sessions.firstEvent[s + 1]! && events.atMs[i]! < until; i++) {
        if (events.kind[i] === KIND.freeze) causes.add('freeze')
        if (isSlow(block, i)) causes.add('slow page')
      }
      if (TECHNICAL_CAUSES.some((cause) => causes.has(cause))) causes.add('any technical')
      return causes
    }
    /** When a session saw a page of another group after an event. */
    const untilElsewhere = (s: number, event: number): number => {
      const group = groupOf[events.page[event]!]!
      for (let v = sessions.firstView[s]!; v < sessions.firstView[s + 1]!; v++)
        if (views.event[v]! > event && groupOf[views.page[v]!] !== group) return events.atMs[views.event[v]!]!
      return Infinity
    }
    among.forEach((s) => {
      const depth = walk.depths[s]!
      for (let k = 0; k + 1 < depth; k++) {
        const [from, to] = [walk.event(s, k), walk.event(s, k + 1)]
        const own = partial[k]!
        own.continued++
        const seen = new Set<number>()
        for (let v = sessions.firstView[s]!; v < sessions.firstView[s + 1]!; v++)
          if (views.event[v]! > from && views.event[v]! < to) seen.add(groupOf[views.page[v]!]!)
        for (const group of seen) add(own.pages, group)
        const until = Math.min(untilElsewhere(s, from), events.atMs[to]!)
        for (const cause of met(s, from, until)) add(own.causes, `continued/${cause}`)
      }
      if (depth === 0 || depth === steps.length) return
      const own = partial[depth - 1]!
      own.lost++
      const event = walk.lasts(depth - 1)[s]!
      for (const cause of met(s, event, untilElsewhere(s, event))) add(own.causes, `lost/${cause}`)
    })
    return partial
  },

  merge(a, b) {
    b.forEach(({ continued, lost, pages, causes }, k) => {
      const own = a[k]!
      own.continued += continued
      own.lost += lost
      for (const [page, n] of pages) own.pages.set(page, (own.pages.get(page) ?? 0) + n)
      for (const [cause, n] of causes) own.causes.set(cause, (own.causes.get(cause) ?? 0) + n)
    })
    return a
  },

  finish(total, { steps, names }) {
    const taken = new Set(steps.flatMap((step) => (step.type === 'page' ? [step.page] : [])))
    return total.map(({ continued, lost, pages, causes }) => ({
      continued,
      lost,
      missing: [...pages]
        .map(([group, n]) => ({ page: names.groups.names[group]!, rate: rate(n, continued) }))
        .filter(
          ({ page, rate: { share } }) => !taken.has(page) && page !== '' && (share ?? 0) >= MISSING_SHARE,
        )
        .sort((x, y) => y.rate.hits - x.rate.hits || x.page.localeCompare(y.page)),
      causes: (['any technical', ...CAUSES] as const)
        .map((cause) => {
          const [hitsLost, hitsContinued] = [
            causes.get(`lost/${cause}`) ?? 0,
            causes.get(`continued/${cause}`) ?? 0,
          ]
          return {
            cause,
            lost: rate(hitsLost, lost),
            continued: rate(hitsContinued, continued),
            ...newcombe(hitsLost, lost, hitsContinued, continued),
          }
        })
        .filter((one) => one.lost.hits + one.continued.hits > 0),
    }))
  },
}
