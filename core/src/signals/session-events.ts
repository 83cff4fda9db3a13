import type { Columns, SignalTables } from '../columns/block.ts'
import type { SignalKind } from '../events/signal-kinds.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'

/** Events of one session that are looked at together, ascending; those below `count` count. */
export class EventList {
  count = 0
  readonly at: Uint32Array

  constructor(most: number) {
    this.at = new Uint32Array(most)
  }

  push(event: number): void {
    this.at[this.count++] = event
  }
}

/** One session of some columns, sorted by what signals are made of. Used for one session after the other. */
export interface SessionEvents {
  columns: Columns
  /** its events and its page views: from the first, below the second */
  from: number
  to: number
  fromView: number
  toView: number
  clicks: EventList
  errors: EventList
  inputs: EventList
  scrolls: EventList
  hides: EventList
}

/** The event after the last one of a view. */
export function endOfView({ columns, toView, to }: SessionEvents, view: number): number {
  return view + 1 < toView ? columns.views.event[view + 1]! : to
}

/** Code of each kind of signal. */
export const SIGNAL_CODE = Object.fromEntries(SIGNAL_KINDS.map((kind, k) => [kind, k])) as Record<
  SignalKind,
  number
>

/** What was found so far, session by session; within one in any order until it is closed. */
export class FoundSignals {
  /** the event with which each begins, of how many it consists, and its kind */
  readonly event: number[] = []
  readonly events: number[] = []
  readonly kind: number[] = []
  #open = 0

  /**
   * @param friction  FRICTION_BIT by event of the block
   * @param wanted    1 for each kind that is looked for, by its code: others are not taken
   */
  constructor(
    readonly friction: Uint8Array,
    private readonly wanted: Uint8Array,
  ) {}

  get count(): number {
    return this.event.length
  }

  add(kind: SignalKind, event: number, events: number): void {
    const code = SIGNAL_CODE[kind]
    if (this.wanted[code]) this.#push(code, event, events)
  }

  /** Takes over what was found before in a session, but for the kinds that are looked for. */
  keep({ signals, ofSessions }: SignalTables, session: number): void {
    for (let g = ofSessions.firstSignal[session]!; g < ofSessions.firstSignal[session + 1]!; g++)
      if (!this.wanted[signals.kind[g]!]) this.#push(signals.kind[g]!, signals.event[g]!, signals.events[g]!)
  }

  #push(code: number, event: number, events: number): void {
    this.event.push(event)
    this.events.push(events)
    this.kind.push(code)
  }

  /** Puts the signals of the session in order: of the event with which they begin, then of SIGNAL_KINDS. */
  closeSession(): void {
    const { event, events, kind } = this
    for (let g = this.#open + 1; g < event.length; g++) {
      const [e, n, k] = [event[g]!, events[g]!, kind[g]!]
      let at = g
      for (; at > this.#open && isAfter(event[at - 1]!, kind[at - 1]!, e, k); at--) {
        event[at] = event[at - 1]!
        events[at] = events[at - 1]!
        kind[at] = kind[at - 1]!
      }
      event[at] = e
      events[at] = n
      kind[at] = k
    }
    this.#open = event.length
  }
}

function isAfter(event: number, kind: number, otherEvent: number, otherKind: number): boolean {
  return event !== otherEvent ? event > otherEvent : kind > otherKind
}
