import type { Block } from '../../columns/block.ts'
import { isView, viewsBefore } from '../../columns/block.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import type { Names } from '../../labels/names.ts'
import type { LeakKind } from '../grammar/leak-kinds.ts'
import { LEAK_KINDS } from '../grammar/leak-kinds.ts'

export interface Leak {
  kind: LeakKind
  /** group of the page they went back or on to; 0 where they went nowhere or an error came first */
  toGroup: number
}

/** Looks at what came after an event of a session. */
export interface LeakReader {
  /** the reason where no error that was met counts as one, as a number so that very many can be counted: see leakOf */
  reason: (session: number, event: number) => number
  /**
   * the errors met from an event on until a page of another group was seen, or `untilMs` after the session's start: each
   * once, in order of time, by ids that are the same in all blocks of a site
   */
  errors: (session: number, event: number, untilMs?: number) => readonly number[]
  /** all errors of a session, in order of time */
  allErrors: (session: number) => readonly MetError[]
  /** when a session saw a page of another group after an event, milliseconds after its start; Infinity where it never did */
  elsewhereMs: (session: number, event: number) => number
}

/** An error that a session met. */
export interface MetError {
  id: number
  /** milliseconds after the session's start */
  ms: number
}

/** Of the errors those that were met at or after one moment and before another, each once. */
export function errorsWithin(
  errors: readonly MetError[],
  fromMs: number,
  untilMs: number,
): readonly number[] {
  if (!errors.length) return NO_ERRORS
  return [...new Set(errors.filter(({ ms }) => ms >= fromMs && ms < untilMs).map(({ id }) => id))]
}

const NO_ERRORS: readonly never[] = []

/** Reads the sessions of a block; pages are compared by group. */
export function leakReader(block: Block, names: Names): LeakReader {
  const { events, views, signals } = block
  const { page, atMs } = events
  const { firstView, firstSignal } = block.sessions
  const { event: eventOf, page: viewed } = views
  const { groupOf } = names.groups
  /** number of the first view after an event, and of the next one of another page group */
  const viewsAfter = (session: number, event: number): [after: number, next: number] => {
    const group = groupOf[page[event]!]!
    const to = firstView[session + 1]!
    // Views up to this event, it included.
    const after = viewsBefore(events, event) + (isView(events, event) ? 1 : 0)
    let next = after
    while (next < to && groupOf[viewed[next]!] === group) next++
    return [after, next]
  }
  /** The same error: of one kind, with one message or address; of pages that were not found, one page group. */
  const errorId = (signal: number): number => {
    const kind = signals.kind[signal]!
    const event = signals.event[signal]!
    const [code, of] =
      kind === NOT_FOUND
        ? [groupOf[page[event]!]!, 0]
        : events.text[event]
          ? [events.text[event], 1]
          : [events.name[event]!, 0]
    return (code * 2 + of) * SIGNAL_KINDS.length + kind
  }
  const allErrors = (session: number): readonly MetError[] => {
    if (firstSignal[session] === firstSignal[session + 1]) return NO_ERRORS
    return signalsBetween(block, session, -Infinity, Infinity)
      .filter((signal) => FAULT[signals.kind[signal]!])
      .map((signal) => ({ id: errorId(signal), ms: atMs[signals.event[signal]!]! }))
  }
  const elsewhereMs = (session: number, event: number): number => {
    const [, next] = viewsAfter(session, event)
    return next < firstView[session + 1]! ? atMs[eventOf[next]!]! : Infinity
  }
  return {
    reason(session, event) {
      const to = firstView[session + 1]!
      const [after, next] = viewsAfter(session, event)
      if (next === to) {
        if (firstSignal[session] === firstSignal[session + 1]) return LEFT
        const met = signalsBetween(block, session, atMs[event]!, Infinity)
        return met.some((signal) => TROUBLING[signals.kind[signal]!]) ? TROUBLE : LEFT
      }
      const toGroup = groupOf[viewed[next]!]!
      let seen = firstView[session]!
      while (seen < after && groupOf[viewed[seen]!] !== toGroup) seen++
      return toGroup * LEAK_KINDS.length + (seen < after ? BACK : OTHER)
    },
    errors(session, event, untilMs = Infinity) {
      const all = allErrors(session)
      if (!all.length) return NO_ERRORS
      return errorsWithin(all, atMs[event]!, Math.min(untilMs, elsewhereMs(session, event)))
    },
    allErrors,
    elsewhereMs,
  }
}

/** What somebody has met who is said to have left in trouble. */
const TROUBLING = SIGNAL_KINDS.map((kind) => /^(rage|dead) click$/.test(kind))
/** What somebody meets who is said to have met an error. */
const FAULT = SIGNAL_KINDS.map((kind) => /^(script error|failed request|not found)$/.test(kind))
const NOT_FOUND = SIGNAL_KINDS.indexOf('not found')

const [ERROR, BACK, OTHER, TROUBLE, LEFT] = LEAK_KINDS.map((_, kind) => kind) as [
  number,
  number,
  number,
  number,
  number,
]

/** A reason, as a number, where one of the errors that were met counts. */
export function reasonWith(errors: readonly number[], counting: ReadonlySet<number>, reason: number): number {
  return errors.some((error) => counting.has(error)) ? ERROR : reason
}

/** What a number that LeakReader gave as a reason stands for. */
export function leakOf(code: number): Leak {
  return {
    kind: LEAK_KINDS[code % LEAK_KINDS.length]!,
    toGroup: Math.floor(code / LEAK_KINDS.length),
  }
}

/** Signals of a session that begin at or after one moment and before another. */
export function signalsBetween(block: Block, session: number, fromMs: number, toMs: number): number[] {
  const found: number[] = []
  for (let i = block.sessions.firstSignal[session]!; i < block.sessions.firstSignal[session + 1]!; i++) {
    const at = block.events.atMs[block.signals.event[i]!]!
    if (at >= fromMs && at < toMs) found.push(i)
  }
  return found
}
