import { Dictionaries } from '../columns/dictionaries.ts'
import { SessionSet } from '../columns/session-set.ts'
import type { Line } from '../events/line.ts'
import { candidates } from '../questions/candidates/candidates.ts'
import { buildBlock } from '../signals/blocks.ts'
import { about, answerTo, namesOf, rowsOf } from './world.ts'

/** Each session by a visitor of its own. For tests only. */
export function visited(lines: Line[][]) {
  const dictionaries = new Dictionaries()
  const rows = rowsOf(lines).map((row, i) => ({
    ...row,
    visitor: `v${i}`,
    returning: false,
    device: lines[i]!.find(({ device }) => device)?.device ?? row.device,
  }))
  return { block: buildBlock(rows, dictionaries), names: namesOf(dictionaries) }
}

/** What the product says costs conversions in some sessions. */
export function pricesIn(lines: Line[][], goal = '/done') {
  const { block, names } = visited(lines)
  const asked = { ...about(names, { goal }), sessions: lines.length }
  return answerTo(candidates, [{ block, sessions: SessionSet.all(block.sessions.count) }], {}, asked as never)
}
