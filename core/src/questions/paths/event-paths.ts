import type { Block } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { SelectedSessions } from '../../select/selected-sessions.ts'
import { NO_EVENT } from '../../select/selected-sessions.ts'
import type { PathSpec } from './path-options.ts'
import type { PathTree } from './path-tree.ts'
import { FAMILIES } from './path-tree.ts'

/** Adds what came after or before the moment in each session, event by event; returns how many sessions these are. */
export function addEvents(
  block: Block,
  { sessions, event }: SelectedSessions,
  { of, direction, depth, fold, names }: PathSpec,
  tree: PathTree,
): number {
  const { kind, page, target } = block.events
  const { groupOf } = names.groups
  const { familyOf } = names.families
  const { firstEvent } = block.sessions
  const codeOf = (i: number) => {
    const group = groupOf[page[i]!]!
    return of !== 'pages' && kind[i] === KIND_CODE.click
      ? tree.click(group * FAMILIES + familyOf[target[i]!]!)
      : group
  }
  const step = direction === 'onward' ? 1 : -1
  sessions.forEach((s) => {
    const from = firstEvent[s]!
    const to = firstEvent[s + 1]!
    let at = step === 1 ? from : to - 1
    let last = -1
    if (event[s] !== NO_EVENT) {
      last = codeOf(event[s]!)
      at = event[s]! + step
    }
    let goesOn = false
    for (let walked = 0; at >= from && at < to; at += step) {
      if (kind[at] !== KIND_CODE.page && (of === 'pages' || kind[at] !== KIND_CODE.click)) continue
      const code = codeOf(at)
      if (fold && code === last) continue
      if (walked === depth) {
        goesOn = true
        break
      }
      last = code
      walked++
      tree.step(code)
    }
    tree.end(goesOn)
  })
  return sessions.count()
}
