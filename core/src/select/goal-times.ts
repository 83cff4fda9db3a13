import type { Block } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import type { Goal } from '../labels/goals.ts'
import { pageGoal, pageOfGoal } from '../labels/goals.ts'
import type { Names } from '../labels/names.ts'
import { amountReader } from './amounts.ts'
import { eventMatcher } from './event-matcher.ts'

/** What a question is told of the goals of the site. */
export interface WithGoals {
  names: Names
  /** page whose view is the main goal, where that is all there is to it; "" where none is set */
  goal: string
  /** the main one first; where it is missing the page alone */
  goals?: readonly Goal[] | undefined
}

/** The goal by which conversions are counted; undefined where none is set. */
export function mainGoal({ goal, goals }: Omit<WithGoals, 'names'>): Goal | undefined {
  return goals?.[0] ?? (goal ? pageGoal(goal) : undefined)
}

/** The page group that is the main goal, by its index; -1 where it is something else or none is set. */
export function goalGroup(spec: WithGoals): number {
  const goal = mainGoal(spec)
  const page = goal && pageOfGoal(goal)
  return page === undefined ? -1 : spec.names.groups.find(page)
}

/** Visits the events of a session of a block that reach a goal, in order. Complexity: views of the session, or events. */
export function goalEvents(
  block: Block,
  goal: Goal | undefined,
  names: Names,
): (session: number, visit: (event: number) => void) => void {
  if (!goal) return () => undefined
  const { sessions, views } = block
  const page = pageOfGoal(goal)
  if (page !== undefined) {
    const group = names.groups.find(page)
    return (s, visit) => {
      for (let v = sessions.firstView[s]!; v < sessions.firstView[s + 1]!; v++)
        if (names.groups.groupOf[views.page[v]!] === group) visit(views.event[v]!)
    }
  }
  const reaches = eventMatcher(block, goal.event, names)
  return (s, visit) => {
    for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++) if (reaches(i)) visit(i)
  }
}

/** Reads what the event that reached a goal was worth, in the currency of the site: the value of an action; NaN of others. */
export function goalAmounts(block: Block, names: Names): (event: number) => number {
  const amount = amountReader(block, names)
  return (event) => (block.events.kind[event] === KIND_CODE.action ? amount(event) : NaN)
}

/**
 * The event with which a session of a block reached the main goal, first or last; -1 where it did not.
 * What came before and after it is told by the order of events: several may happen in the same millisecond.
 */
export function goalEvent(
  block: Block,
  spec: WithGoals,
  which: 'first' | 'last',
): (session: number) => number {
  const goal = mainGoal(spec)
  if (!goal) return () => -1
  const { sessions, views } = block
  const group = goalGroup(spec)
  const page = pageOfGoal(goal)
  // Asked for every session: nothing is made for each.
  const step = which === 'first' ? 1 : -1
  if (page !== undefined) {
    const { groupOf } = spec.names.groups
    return (s) => {
      const [low, high] = [sessions.firstView[s]!, sessions.firstView[s + 1]!]
      for (let v = step === 1 ? low : high - 1; v >= low && v < high; v += step)
        if (groupOf[views.page[v]!] === group) return views.event[v]!
      return -1
    }
  }
  const reaches = eventMatcher(block, goal.event, spec.names)
  return (s) => {
    const [low, high] = [sessions.firstEvent[s]!, sessions.firstEvent[s + 1]!]
    for (let i = step === 1 ? low : high - 1; i >= low && i < high; i += step) if (reaches(i)) return i
    return -1
  }
}

/** When a session of a block reached the main goal, first or last, in ms since its start; NaN where it did not. */
export function goalMs(block: Block, spec: WithGoals, which: 'first' | 'last'): (session: number) => number {
  const eventOf = goalEvent(block, spec, which)
  return (s) => {
    const event = eventOf(s)
    return event < 0 ? NaN : block.events.atMs[event]!
  }
}
