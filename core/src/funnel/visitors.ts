import { textColumn } from '../conditions/sessions.ts'
import type { Block } from '../events/columns.ts'
import type { SessionSet } from '../sets/session-set.ts'
import type { FunnelOptions } from './options.ts'
import { DEFAULT_OPTIONS } from './options.ts'
import { reachFor } from './reach.ts'
import { lastAtStep, runReader } from './runs.ts'
import type { Step } from './spec.ts'
import type { Names } from './trace.ts'
import { leakReader } from './trace.ts'

/** One session of a visitor as the funnel sees it, in absolute time. */
export interface VisitorRun {
  /** id of the session */
  session: number
  startMs: number
  /** code of the value it is shown under */
  value: number
  /** the events that mean something: when, what, and the how manieth of the session it is */
  atMs: number[]
  masks: number[]
  events: number[]
  /** which of these is its first page view; -1 = none is */
  first: number
  /** for each step the last time it was there; undefined where it never was */
  lasts: (LastTime | undefined)[]
}

interface LastTime {
  /** the how manieth event of the session */
  event: number
  /** what came after it: see leakOf */
  leak: number
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
  const leakAfter = leakReader(block, names)
  const column = options.by ? textColumn(block, options.by, names) : undefined
  for (const s of sessions) {
    const run = read(s)
    const startMs = block.sessions.startMs[s]!
    const met: number[] = []
    for (let i = run.from; i < run.to; i++) if (run.masks[i] !== 0) met.push(i)
    const own: VisitorRun = {
      session: block.sessions.id[s]!,
      startMs,
      value: column ? column.codes(s) : 0,
      atMs: met.map((i) => startMs + run.atMs[i]!),
      masks: met.map((i) => run.masks[i]!),
      events: met.map((i) => i - run.from),
      first: met.indexOf(run.first),
      lasts: steps.map((_, k) => {
        const event = lastAtStep(run, k)
        return event === undefined ? undefined : { event: event - run.from, leak: leakAfter(s, event) }
      }),
    }
    const known = visitors.get(block.sessions.visitor[s]!)
    if (known) known.push(own)
    else visitors.set(block.sessions.visitor[s]!, [own])
  }
}

/** Adds those of b to a. */
export function joinVisitors(a: Visitors, b: Visitors): void {
  for (const [visitor, runs] of b) {
    const known = a.get(visitor)
    if (known) known.push(...runs)
    else a.set(visitor, runs)
  }
}

/** What is gathered of visitors before anything can be said of one: a visitor's sessions may lie in several blocks. */
export interface VisitorsPartial {
  visitors: Visitors
}

/** What every analysis of visitors has in common: it takes in all of them, and answers in the end. */
export const GATHERING = {
  adds: true,
  merge(a: VisitorsPartial, b: VisitorsPartial): VisitorsPartial {
    joinVisitors(a.visitors, b.visitors)
    return a
  },
}

/** Takes in the sessions of a block together with those before. */
export function gatherVisitors(
  block: Block,
  sessions: SessionSet,
  { steps, options = DEFAULT_OPTIONS, names }: Gathered,
  partial: VisitorsPartial = { visitors: new Map() },
): VisitorsPartial {
  readVisitors(block, sessions, { steps, names, options }, partial.visitors)
  return partial
}

interface Gathered {
  steps: readonly Step[]
  options?: FunnelOptions | undefined
  names: Names
}

/** One event of a visitor: in which session, the how manieth of it, and when. */
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
  for (const known of visitors.values()) {
    const runs = [...known].sort((a, b) => a.startMs - b.startMs)
    const [first] = runs
    // Sessions that the sender named itself may overlap: events in order of time, whatever session they are of.
    const events = runs
      .flatMap((run) =>
        run.masks.map((mask, i) => ({
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
      last: (step) => {
        const run = runs.findLast(({ lasts }) => lasts[step] !== undefined)!
        return { ...run.lasts[step]!, session: run.session }
      },
    })
  }
}
