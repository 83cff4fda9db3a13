import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { buildBlock } from '../events/columns.ts'
import { Dictionaries } from '../events/dictionaries.ts'
import type { Answering } from '../test-questions.ts'
import { allAnswers, topics } from '../test-questions.ts'
import { namesOf, rowsOf, worlds } from '../test-world.ts'
import type { Selected } from './analysis.ts'
import { answer, scanOnto } from './analysis.ts'
import { SessionSet } from './session-set.ts'

/** What several threads find, each in its share of the blocks, as it is brought together. */
const sharing =
  (shares: readonly (readonly Selected[])[], backwards: boolean): Answering =>
  <Spec, Partial, Result>(
    analysis: Parameters<typeof answer<Spec, Partial, Result>>[0],
    spec: Spec,
  ): Result => {
    const found = shares.flatMap((share) => {
      let total: Partial | undefined
      for (const { block, sessions } of share) total = scanOnto(analysis, block, sessions, spec, total)
      if (total === undefined) return []
      // As it is after it went from one thread to another.
      return [structuredClone(analysis.pack ? analysis.pack(total) : total)]
    })
    if (backwards) found.reverse()
    return analysis.finish(
      found.reduce((a, b) => analysis.merge(a, b)),
      spec,
    )
  }

describe('of sessions in many blocks', () => {
  it('threads say together what one says of all in one block, whoever takes which share', () => {
    fc.assert(
      fc.property(
        worlds.filter((world) => world.length > 0),
        topics,
        fc.array(fc.nat(2), { minLength: 12, maxLength: 12 }),
        fc.array(fc.nat(2), { minLength: 12, maxLength: 12 }),
        fc.boolean(),
        (world, topic, blockOf, threadOf, backwards) => {
          // Sessions of one visitor come one after the other.
          const rows = rowsOf(
            world.map((lines, s) => lines.map((line) => ({ ...line, t: line.t + s * 1_000_000 }))),
          )
          const dictionaries = new Dictionaries()
          const select = (own: typeof rows): Selected => ({
            block: buildBlock(own, dictionaries),
            sessions: SessionSet.all(own.length),
          })
          const whole = select(rows)
          const shares: Selected[][] = [[], [], []]
          let from = 0
          for (let k = 0; from < rows.length; k++) {
            const to = from + 1 + (blockOf[k] ?? 0)
            shares[threadOf[k] ?? 0]!.push(select(rows.slice(from, to)))
            from = to
          }
          const names = namesOf(dictionaries)
          expect(allAnswers(topic, names, sharing(shares, backwards))).toEqual(
            allAnswers(topic, names, (analysis, spec) => answer(analysis, [whole], spec)),
          )
        },
      ),
      { numRuns: 300 },
    )
  })
})
