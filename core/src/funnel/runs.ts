import { eventsWhere } from '../conditions/found.ts'
import type { EventCondition } from '../conditions/schema.ts'
import type { Block } from '../events/columns.ts'
import type { Kind } from '../events/line.ts'
import { KINDS } from '../events/line.ts'
import type { FunnelOptions } from './options.ts'
import type { Run } from './reach.ts'
import { ACT_BIT, STEP_BIT, WITHOUT_BIT } from './reach.ts'
import type { Step } from './spec.ts'
import { stepCondition } from './steps.ts'
import type { Names } from './trace.ts'

/** Kinds of what nobody does: they never lie "between" two steps. */
const PASSIVE: readonly Kind[] = ['leave', 'scroll', 'seen', 'hide', 'show', 'out', 'freeze', 'variant']

/** The kinds that steps are about: what may not lie between two of them that follow directly. */
function actKinds(steps: readonly Step[]): Kind[] {
  const kinds = steps.flatMap(
    (step) => stepCondition(step).kinds ?? KINDS.filter((kind) => !PASSIVE.includes(kind)),
  )
  return [...new Set(kinds)]
}

/** What events can mean to a funnel, each with the bit that says so. */
function meaningsOf(
  steps: readonly Step[],
  options: FunnelOptions,
): { bit: number; condition: EventCondition }[] {
  return [
    ...steps.map((step, k) => ({ bit: STEP_BIT(k), condition: stepCondition(step) })),
    ...options.without
      .filter(({ after }) => after < steps.length - 1)
      .map(({ after, event }) => ({ bit: WITHOUT_BIT(after), condition: event })),
    ...(options.between === 'nothing' ? [{ bit: ACT_BIT, condition: { kinds: actKinds(steps) } }] : []),
  ]
}

/** For each event of a block what it means; used again for the next block. One for readers of all, one for others. */
const spaces = { all: new Uint16Array(0), some: new Uint16Array(0) }

function emptySpace(which: keyof typeof spaces, events: number): Uint16Array {
  if (spaces[which].length < events) spaces[which] = new Uint16Array(2 * events)
  else spaces[which].fill(0, 0, events)
  return spaces[which]
}

/**
 * Reads sessions of a block as a funnel sees them. Each run is good until the next one is read, and all of them until
 * another reader of all, or of some, is made.
 * Complexity: the events that mean something, found by the index.
 *
 * @param open  marks with 1 the sessions that may be read; none given = all
 */
export function runReader(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
  open?: Uint8Array,
): (session: number) => Run {
  const { events, sessions, views } = block
  const masks = emptySpace(open ? 'some' : 'all', events.count)
  for (const { bit, condition } of meaningsOf(steps, options))
    for (const { event, session, ranges } of eventsWhere(block, condition, names))
      for (let r = 0; r < ranges.length; r += 2)
        for (let i = ranges[r]!; i < ranges[r + 1]!; i++)
          if (!open || open[session[i]!] === 1) masks[event[i]!]! |= bit
  const run: Run = { from: 0, to: 0, atMs: events.atMs, masks, first: -1 }
  return (session) => {
    run.from = sessions.firstEvent[session]!
    run.to = sessions.firstEvent[session + 1]!
    const view = sessions.firstView[session]!
    run.first = view < sessions.firstView[session + 1]! ? views.event[view]! : -1
    return run
  }
}

/** The last event of a run at a step; undefined where it never was there. */
export function lastAtStep({ from, to, masks }: Run, step: number): number | undefined {
  for (let i = to - 1; i >= from; i--) if (masks[i]! & STEP_BIT(step)) return i
  return undefined
}
