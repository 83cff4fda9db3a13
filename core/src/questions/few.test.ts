import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../columns/dictionaries.ts'
import type { Selected } from '../columns/scan.ts'
import { answer } from '../columns/scan.ts'
import { SessionSet } from '../columns/session-set.ts'
import type { Line } from '../events/line.ts'
import { sessionsWhere } from '../select/sessions.ts'
import { buildBlock } from '../signals/blocks.ts'
import { someConditions } from '../testing/conditions.ts'
import { allAnswers, topics } from '../testing/questions.ts'
import { namesOf, rowsOf, sessionLines } from '../testing/world.ts'

/*
 * Questions about a few of many sessions go other ways than questions about all: by search, session by session. However
 * it is done, what is said of some sessions is what is said where there are no others.
 */

/** Some sessions, and others around them that are not asked about. */
const crowds = fc
  .record({
    asked: fc.array(sessionLines, { minLength: 1, maxLength: 10 }),
    others: fc.array(sessionLines, { minLength: 1, maxLength: 10 }),
    /** how many others come before each one asked about */
    gap: fc.constantFrom(0, 1, 9, 30),
  })
  .map(({ asked, others, gap }) => {
    const world: Line[][] = []
    const places: number[] = []
    for (const [k, lines] of asked.entries()) {
      for (let i = 0; i < gap; i++) world.push(others[(k + i) % others.length]!)
      places.push(world.push(lines) - 1)
    }
    // Sessions of one visitor come one after the other.
    const rows = rowsOf(
      world.map((lines, s) => lines.map((line) => ({ ...line, t: line.t + s * 1_000_000 }))),
    )
    const dictionaries = new Dictionaries()
    const among: Selected = {
      block: buildBlock(rows, dictionaries),
      sessions: SessionSet.where(rows.length, (s) => places.includes(s)),
    }
    const own = places.map((s) => rows[s]!)
    const alone: Selected = { block: buildBlock(own, dictionaries), sessions: SessionSet.all(own.length) }
    return { among, alone, names: namesOf(dictionaries) }
  })

describe('of a few sessions among many', () => {
  it('a condition picks those that it picks where there are no others', () => {
    fc.assert(
      fc.property(crowds, someConditions, ({ among, alone, names }, condition) => {
        const picked = ({ block, sessions }: Selected) =>
          [...sessionsWhere(block, sessions, condition, names)].map((s) => block.sessions.id[s])
        expect(picked(among)).toEqual(picked(alone))
      }),
      { numRuns: 300 },
    )
  })
  it('every question is answered as where there are no others', async () => {
    await fc.assert(
      fc.asyncProperty(crowds, topics, async ({ among, alone, names }, topic) => {
        const told = (of: Selected) => allAnswers(topic, names, (scan, spec) => answer(scan, [of], spec))
        expect(await told(among)).toEqual(await told(alone))
      }),
      { numRuns: 300 },
    )
  })
})
