import type { Block } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Names } from '../labels/names.ts'
import { tokenReader, Tokens } from '../labels/tokens.ts'
import type { Selection } from './grammar/conditions.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty } from './selected-sessions.ts'

/** Calls with the token of each event of a session that is read at a level, equal ones one after another once; and its event. */
export function eachToken(
  { sessions }: Block,
  s: number,
  read: (event: number) => number,
  visit: (token: number, event: number) => void,
): void {
  let last = -1
  for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++) {
    const token = read(i)
    if (token < 0 || token === last) continue
    last = token
    visit(token, i)
  }
}

/**
 * Sessions that did these things in this order, with at most so many others in between; equal ones one after another count
 * as one. The moment is where the pattern is first complete.
 */
export function selectPattern(
  block: Block,
  among: SessionSet,
  { level, tokens: wanted, gap }: Extract<Selection, { type: 'pattern' }>,
  names: Names,
): SelectedSessions {
  const chosen = empty(block)
  chosen.base = among
  const tokens = new Tokens()
  const codes = wanted.map((token) => tokens.of(token))
  const read = tokenReader(block, level, names, tokens)
  const most = gap ?? Infinity
  /** by length of a beginning of the pattern the latest place where it ends, so far; -1 = nowhere */
  const ends = new Array<number>(codes.length)
  for (const s of among) {
    ends.fill(-1)
    let place = 0
    let complete = -1
    eachToken(block, s, read, (token, event) => {
      // From the longest on, so that one event does not stand for two.
      for (let k = codes.length - 1; k >= 0; k--) {
        if (token !== codes[k]) continue
        if (k > 0 && (ends[k - 1]! < 0 || place - ends[k - 1]! - 1 > most)) continue
        ends[k] = place
        if (k === codes.length - 1 && complete < 0) complete = event
      }
      place++
    })
    if (complete < 0) continue
    chosen.sessions.add(s)
    chosen.event[s] = complete
  }
  return chosen
}
