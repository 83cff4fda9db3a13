import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../columns/dictionaries.ts'
import type { Scan, Selected } from '../columns/scan.ts'
import { answer, scanOnto } from '../columns/scan.ts'
import { SessionSet } from '../columns/session-set.ts'
import { buildBlock } from '../signals/blocks.ts'
import type { Answering } from '../testing/questions.ts'
import { allAnswers, topics } from '../testing/questions.ts'
import { namesOf, rowsOf, worlds } from '../testing/world.ts'

/** What several threads find, each in its share of the blocks, as it is brought together. */
const sharing =
  (shares: readonly (readonly Selected[])[], backwards: boolean): Answering =>
  <Spec, Found, Result>(scan: Scan<Spec, Found, Result>, spec: Spec): Result => {
    const found = shares.flatMap((share) => {
      let total: Found | undefined
      for (const { block, sessions } of share) total = scanOnto(scan, block, sessions, spec, total)
      if (total === undefined) return []
      // As it is after it went from one thread to another.
      return [structuredClone(scan.pack ? scan.pack(total) : total)]
    })
    if (backwards) found.reverse()
    return scan.finish(
      found.reduce((a, b) => scan.merge(a, b)),
      spec,
    )
  }

describe('of sessions in many blocks', () => {
  it('threads say together what one says of all in one block, whoever takes which share', async () => {
    await fc.assert(
      fc.asyncProperty(
        worlds.filter((world) => world.length > 0),
        topics,
        fc.array(fc.nat(2), { minLength: 12, maxLength: 12 }),
        fc.array(fc.nat(2), { minLength: 12, maxLength: 12 }),
        fc.boolean(),
        async (world, topic, blockOf, threadOf, backwards) => {
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
          expect(await allAnswers(topic, names, sharing(shares, backwards))).toEqual(
            await allAnswers(topic, names, (scan, spec) => answer(scan, [whole], spec)),
          )
        },
      ),
      { numRuns: 300 },
    )
  })
})
