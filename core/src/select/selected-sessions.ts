import type { Block } from '../columns/block.ts'
import { SessionSet } from '../columns/session-set.ts'

export interface SelectedSessions {
  sessions: SessionSet
  /** what the selection is a share of */
  base: SessionSet
  /** the event that is the moment in each selected session; NO_EVENT where there is none */
  event: Uint32Array
}

export const NO_EVENT = 0xffff_ffff

/** The moment in a selected session, in milliseconds since its start; NaN where there is none. */
export function momentOf(block: Block, { event }: Pick<SelectedSessions, 'event'>, session: number): number {
  const at = event[session]!
  return at === NO_EVENT ? NaN : block.events.atMs[at]!
}

/** No session of a block. */
export function empty(block: Block): SelectedSessions {
  const { count } = block.sessions
  return { sessions: new SessionSet(count), base: new SessionSet(count), event: noEvents(block) }
}

/** No moment in any session of a block: a column to be filled. */
export function noEvents(block: Block): Uint32Array {
  return new Uint32Array(block.sessions.count).fill(NO_EVENT)
}
