import type { Block } from '../../columns/block.ts'
import type { SessionSet } from '../../columns/session-set.ts'
import type { Names } from '../../labels/names.ts'
import { textColumn } from '../attributes.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import { DEFAULT_OPTIONS } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import type { MetError } from './leaks.ts'
import { errorsWithin, leakReader } from './leaks.ts'
import { reachFor } from './reach.ts'
import { lastAtStep, runReader } from './runs.ts'

/** One session of a visitor as the funnel sees it, in absolute time. */
export interface VisitorRun {
  /** id of the session */
  session: number
  startMs: number
  /** code of the value it is shown under */
  value: number
  /** the events that mean something: when, what, and their numbers in the session, from 0 */
  atMs: number[]
  masks: number[]
  events: number[]
  /** which of these is its first page view; -1 = none is */
  first: number
  /** the errors it met, in its own time */
  errors: readonly MetError[]
  /** of each of its events when it saw another page after that, in its own time; empty where it met no error */
  elsewhereMs: number[]
  /** for each step the last time it was there; undefined where it never was */
  lasts: (LastTime | undefined)[]
}

interface LastTime {
  /** number of the event in the session, from 0 */
  event: number
  /** what came after it, where no error counts: see leakOf */
  reason: number
  /** ids of the errors that were met then */
  errors: readonly number[]
}

/** By visitor code. */
export type Visitors = Map<number, VisitorRun[]>

/** Takes in the sessions of a block, each under its visitor. */
export function readVisitors(
  block: Block,
  sessions: SessionSet,
  { steps, names, options }: { steps: readonly Step[]; names: Names; options: FunnelOptions },
  visitors: Visitors,
): void {
  const read = runReader(block, steps, options, names)
  const leaks = leakReader(block, names)
  const column = options.by ? textColumn(block, options.by, names) : undefined
  for (const s of sessions) {
    const run = read(s)
    const startMs = block.sessions.startMs[s]!
    const met: number[] = []
    for (let i = run.from; i < run.to; i++) if (run.masks[i] !== 0) met.push(i)
    const errors = leaks.allErrors(s)
    const visitorRun: VisitorRun = {
      session: block.sessions.id[s]!,
      startMs,
      value: column ? column.codes(s) : 0,
      atMs: met.map((i) => startMs + run.atMs[i]!),
      masks: met.map((i) => run.masks[i]!),
      events: met.map((i) => i - run.from),
      errors,
      elsewhereMs: errors.length ? met.map((i) => leaks.elsewhereMs(s, i)) : [],
      first: met.indexOf(run.first),
      lasts: steps.map((_, k) => {
        const event = lastAtStep(run, k)
        return event === undefined
          ? undefined
          : { event: event - run.from, reason: leaks.reason(s, event), errors: leaks.errors(s, event) }
      }),
    }
    const runs = visitors.get(block.sessions.visitor[s]!)
    if (runs) runs.push(visitorRun)
    else visitors.set(block.sessions.visitor[s]!, [visitorRun])
  }
}

/** Adds those of b to a. */
export function joinVisitors(a: Visitors, b: Visitors): void {
  for (const [visitor, runs] of b) {
    const runsOfA = a.get(visitor)
    if (runsOfA) runsOfA.push(...runs)
    else a.set(visitor, runs)
  }
}

/** What is gathered of visitors before anything can be said of one: a visitor's sessions may lie in several blocks. */
export interface VisitorsFound {
  visitors: Visitors
}

/** What all scans over visitors have in common: it takes in all of them, and answers in the end. */
export const GATHERING = {
  adds: true,
  merge(a: VisitorsFound, b: VisitorsFound): VisitorsFound {
    joinVisitors(a.visitors, b.visitors)
    return a
  },
}

/** Takes in the sessions of a block together with those before. */
export function gatherVisitors(
  block: Block,
  sessions: SessionSet,
  { steps, options = DEFAULT_OPTIONS, names }: Gathered,
  found: VisitorsFound = { visitors: new Map() },
): VisitorsFound {
  readVisitors(block, sessions, { steps, names, options }, found.visitors)
  return found
}

interface Gathered {
  steps: readonly Step[]
  options?: FunnelOptions | undefined
  names: Names
}

/** One event of a visitor: in which session, its number there, from 0, and when. */
export interface VisitorMoment {
  session: number
  event: number
  ms: number
}

/** How far a visitor came through the steps. */
export interface VisitorWalk {
  depth: number
  /** the visitor's sessions in order of time */
  runs: readonly VisitorRun[]
  /** where a step was reached that was reached */
  at: (step: number) => VisitorMoment
  /** ids of the errors that a visitor who went on met at a step, in the session in which it was reached */
  met: (step: number) => readonly number[]
  /** the last time at a step, of a visitor who was there */
  last: (step: number) => LastTime & { session: number }
}

/** Goes through visitors, each one's sessions in order of time as one run. What `visit` gets is good until the next. */
export function eachVisitor(
  visitors: Visitors,
  steps: number,
  options: FunnelOptions,
  visit: (walk: VisitorWalk) => void,
): void {
  const reach = reachFor(steps, options)
  const chain = new Uint32Array(steps)
  for (const unordered of visitors.values()) {
    // Of sessions that began at one instant the one that came in first: which thread found which must not show.
    const runs = [...unordered].sort((a, b) => a.startMs - b.startMs || a.session - b.session)
    const [first] = runs
    // Sessions that the sender named itself may overlap: events in order of time, whatever session they are of.
    const events = runs
      .flatMap((run) =>
        run.masks.map((mask, i) => ({
          run,
          index: i,
          session: run.session,
          event: run.events[i]!,
          ms: run.atMs[i]!,
          mask,
          first: run === first && i === run.first,
        })),
      )
      .sort((a, b) => a.ms - b.ms)
    const depth = reach(
      {
        from: 0,
        to: events.length,
        atMs: events.map(({ ms }) => ms),
        masks: events.map(({ mask }) => mask),
        first: events.findIndex((event) => event.first),
      },
      chain,
    )
    visit({
      depth,
      runs,
      at: (step) => events[chain[step]!]!,
      met: (step) => {
        const { run, index } = events[chain[step]!]!
        if (!run.errors.length) return run.errors as readonly never[]
        const next = events[chain[step + 1]!]!
        const untilMs = next.run === run ? next.ms - run.startMs : Infinity
        const fromMs = run.atMs[index]! - run.startMs
        return errorsWithin(run.errors, fromMs, Math.min(untilMs, run.elsewhereMs[index]!))
      },
      last: (step) => {
        const run = runs.findLast(({ lasts }) => lasts[step] !== undefined)!
        return { ...run.lasts[step]!, session: run.session }
      },
    })
  }
}
