import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { FRICTION_BIT, KIND_CODE } from '../../columns/event-codes.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import type { Names } from '../../labels/names.ts'
import { signalsBetween } from '../../select/chains/leaks.ts'
import type { VisitorWays } from '../../select/chains/visitor-ways.ts'
import { visitorWays } from '../../select/chains/visitor-ways.ts'
import { funnelWalk } from '../../select/chains/walk.ts'
import { DEFAULT_OPTIONS, funnelOptionsSchema } from '../../select/grammar/funnel-options.ts'
import { EXAMPLE_STEPS, stepsSchema } from '../../select/grammar/steps.ts'
import { addCounts, addOne } from '../../stats/counts.ts'
import { lowerBound } from '../../stats/lower-bound.ts'
import { countSchema, difference, differenceShape, rate, rateSchema } from '../../stats/rate.ts'
import type { AnswerOf } from '../question.ts'
import { question } from '../question.ts'

/** What can go wrong with a page, and what is hard about it. */
export const CAUSES = ['error', 'failed request', 'freeze', 'slow page', 'rage click', 'dead click'] as const
export type Cause = (typeof CAUSES)[number]
export const TECHNICAL_CAUSES: readonly Cause[] = ['error', 'failed request', 'freeze', 'slow page']

/** What a signal is a case of; others are causes by their own name. */
const CASES: Partial<Record<string, Cause>> = { 'script error': 'error', 'not found': 'error' }

function causeOf(signal: SignalKind): Cause | undefined {
  return CASES[signal] ?? CAUSES.find((cause) => cause === signal)
}

interface StepFound {
  continued: number
  lost: number
  /** page group -> continuers that saw it on the way to the next step */
  pages: Map<number, number>
  /** "lost/cause", "continued/cause", and "any" for technical ones -> sessions or visitors */
  causes: Map<string, number>
}

interface BetweenFound {
  steps: StepFound[]
  /** what visitors saw on a way through several sessions, each once: visitor, step and page group as one number */
  seen: Set<number>
}

/** A page that so many continuers see is worth proposing as a step. */
export const MISSING_SHARE = 0.5

/** Part of a session: what lies after one of its events and before another; ends are events that may lie outside. */
interface Stretch {
  session: number
  from: number
  to: number
}

/**
 * What lies between the steps of a funnel: pages that most of those who go on see on the way, and what went wrong for
 * those who were lost and for those who went on, while they were at the step: from when they reached it (the lost: from
 * the last time they were there) until they saw another page or the next step, or the session ended.
 *
 * @throws RangeError where visitors are counted and nobody found out which way they came
 */
export const between = question({
  name: 'between',
  summary: 'what lies between the steps of a funnel: missing steps, and what went wrong',
  asked: z.strictObject({ steps: stepsSchema, options: funnelOptionsSchema.optional() }),
  answer: z.array(
    z.object({
      continued: countSchema,
      lost: countSchema,
      missing: z
        .array(z.object({ page: z.string(), rate: rateSchema }))
        .describe(
          'pages that most continuers see before the next step, and that are no step themselves: perhaps a step is missing',
        ),
      /** how many of the lost and of the continuers met each while they were at the step */
      causes: z.array(
        z.object({
          cause: z.enum([...CAUSES, 'any technical']),
          lost: rateSchema,
          continued: rateSchema,
          ...differenceShape,
        }),
      ),
    }),
  ),
  example: EXAMPLE_STEPS,
  /** where visitors are counted: their ways */
  needs: async ({ steps, options }, { ask }): Promise<{ ways?: VisitorWays }> =>
    options?.per === 'visitor' ? { ways: await ask(visitorWays, { steps, options }) } : {},

  scan(block, among, { steps, options = DEFAULT_OPTIONS, names, ways }) {
    const found: BetweenFound = {
      steps: steps.map(() => ({ continued: 0, lost: 0, pages: new Map(), causes: new Map() })),
      seen: new Set(),
    }
    const look = lookers(block, names)
    const causesOf = (side: 'continued' | 'lost', step: number, stretch: Stretch) => {
      const stepFound = found.steps[step]!
      stepFound[side]++
      for (const cause of look.causes(stretch)) addOne(stepFound.causes, `${side}/${cause}`)
    }
    const { firstEvent, id } = block.sessions
    if (options.per === 'visitor') {
      if (!ways) throw new RangeError('a funnel over visitors must be asked for their ways first')
      among.forEach((s) => {
        for (let row = lowerBound(ways.session, id[s]!); ways.session[row] === id[s]; row++) {
          const begins = ways.from[row]! >= 0
          const ends = ways.to[row]! >= 0
          const step = ways.step[row]!
          const stretch = {
            session: s,
            from: begins ? firstEvent[s]! + ways.from[row]! : firstEvent[s]! - 1,
            to: ends ? firstEvent[s]! + ways.to[row]! : firstEvent[s + 1]!,
          }
          if (ways.lost[row]) {
            causesOf('lost', step, stretch)
            continue
          }
          if (begins) causesOf('continued', step, stretch)
          for (const group of look.pages(stretch))
            if (begins && ends) addOne(found.steps[step]!.pages, group)
            else
              found.seen.add((ways.visitor[row]! * steps.length + step) * names.groups.names.length + group)
        }
      })
      return found
    }
    const walk = funnelWalk(block, among, steps, options, names)
    among.forEach((s) => {
      const depth = walk.depths[s]!
      for (let k = 0; k + 1 < depth; k++) {
        const stretch = { session: s, from: walk.event(s, k), to: walk.event(s, k + 1) }
        causesOf('continued', k, stretch)
        for (const group of look.pages(stretch)) addOne(found.steps[k]!.pages, group)
      }
      if (depth > 0 && depth < steps.length)
        causesOf('lost', depth - 1, {
          session: s,
          from: walk.lasts(depth - 1)[s]!,
          to: firstEvent[s + 1]!,
        })
    })
    return found
  },

  merge(a, b) {
    b.steps.forEach(({ continued, lost, pages, causes }, k) => {
      const ofA = a.steps[k]!
      ofA.continued += continued
      ofA.lost += lost
      addCounts(ofA.pages, pages)
      addCounts(ofA.causes, causes)
    })
    for (const one of b.seen) a.seen.add(one)
    return a
  },

  finish({ steps: total, seen }, { steps, names }) {
    const groups = names.groups.names.length
    for (const one of seen) addOne(total[Math.floor(one / groups) % steps.length]!.pages, one % groups)
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
          const ofLost = rate(causes.get(`lost/${cause}`) ?? 0, lost)
          const ofContinued = rate(causes.get(`continued/${cause}`) ?? 0, continued)
          return { cause, lost: ofLost, continued: ofContinued, ...difference(ofLost, ofContinued) }
        })
        .filter((one) => one.lost.hits + one.continued.hits > 0),
    }))
  },

  table: (steps) =>
    steps.flatMap(({ missing, causes }, k) => [
      ...missing.map((row) => ({ step: k + 1, part: 'missing', ...row })),
      ...causes.map((row) => ({ step: k + 1, part: 'cause', ...row })),
    ]),
})

/** What happened in parts of a block's sessions. */
function lookers(block: Block, names: Names) {
  const { events, sessions, signals, views } = block
  const { groupOf } = names.groups
  /** When a session saw a page of another group after an event. */
  const untilElsewhere = (s: number, event: number): number => {
    const group = groupOf[events.page[event]!]!
    for (let v = sessions.firstView[s]!; v < sessions.firstView[s + 1]!; v++)
      if (views.event[v]! > event && groupOf[views.page[v]!] !== group) return events.atMs[views.event[v]!]!
    return Infinity
  }
  return {
    /** page groups that were viewed within */
    pages({ session: s, from, to }: Stretch): Set<number> {
      const seen = new Set<number>()
      for (let v = sessions.firstView[s]!; v < sessions.firstView[s + 1]!; v++)
        if (views.event[v]! > from && views.event[v]! < to) seen.add(groupOf[views.page[v]!]!)
      return seen
    },
    /** what went wrong, its first event included, before another page was seen */
    causes({ session: s, from, to }: Stretch): Set<string> {
      const until = Math.min(
        untilElsewhere(s, from),
        to < sessions.firstEvent[s + 1]! ? events.atMs[to]! : Infinity,
      )
      const causes = new Set<string>()
      for (const signal of signalsBetween(block, s, events.atMs[from]!, until)) {
        const cause = causeOf(SIGNAL_KINDS[signals.kind[signal]!]!)
        if (cause) causes.add(cause)
      }
      for (let i = from; i < sessions.firstEvent[s + 1]! && events.atMs[i]! < until; i++) {
        if (events.kind[i] === KIND_CODE.freeze) causes.add('freeze')
        if (events.friction[i]! & FRICTION_BIT.slow) causes.add('slow page')
      }
      if (TECHNICAL_CAUSES.some((cause) => causes.has(cause))) causes.add('any technical')
      return causes
    },
  }
}

export type BetweenStep = AnswerOf<typeof between>[number]
