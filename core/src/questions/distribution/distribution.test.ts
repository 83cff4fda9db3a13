import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { SessionNumber } from '../../select/grammar/attributes.ts'
import { about, answerTo, blockOf, rowsOf, worlds } from '../../testing/world.ts'
import type { DistributionOptions } from './distribution.ts'
import { distribution, distributionOptionsSchema } from './distribution.ts'

const ask = (parts: Line[][][], options: Partial<DistributionOptions>) => {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  return answerTo(
    distribution,
    blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    { options: distributionOptionsSchema.parse(options), selection: { type: 'everyone' } },
    about(blocks[blocks.length - 1]!.names),
  )
}

const MEASURES: Partial<Record<SessionNumber, (lines: Line[]) => number>> = {
  duration: (lines) => lines[lines.length - 1]!.t - lines[0]!.t,
  pages: (lines) => lines.filter(({ kind }) => kind === 'page').length,
  events: (lines) => lines.length,
  width: () => NaN,
}

describe('distribution', () => {
  it('counts and measures as plain lists do', () => {
    fc.assert(
      fc.property(
        worlds,
        fc.constantFrom('duration' as const, 'pages' as const, 'events' as const, 'width' as const),
        fc.integer({ min: 1, max: 12 }),
        (world, measure, bins) => {
          const result = ask([world], { measure, by: 'device', bins, quantiles: [0, 0.5, 1] })
          expect(result.sessions).toBe(world.length)
          for (const one of result.values) {
            const own = world.filter((_, s) => rowsOf(world)[s]!.device.class === one.value)
            const numbers = own
              .map((lines) => MEASURES[measure]!(lines))
              .filter((n) => !Number.isNaN(n))
              .sort((a, b) => a - b)
            expect(one.sessions).toBe(own.length)
            expect(one.known).toBe(numbers.length)
            expect([one.least, one.most]).toEqual([numbers[0] ?? null, numbers[numbers.length - 1] ?? null])
            expect([one.quantiles[0], one.quantiles[2]]).toEqual([one.least, one.most])
            expect(one.histogram.reduce((a, b) => a + b, 0)).toBe(result.edges.length ? numbers.length : 0)
            one.histogram.forEach((count, i) => {
              const [low, high] = [result.edges[i]!, result.edges[i + 1]!]
              const last = i === one.histogram.length - 1
              expect(count).toBe(numbers.filter((n) => n >= low && (n < high || last)).length)
            })
          }
        },
      ),
    )
  })
  it('gives the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        // An even first part, so that devices fall to the same sessions.
        fc.pre(a.length % 2 === 0)
        const options = { measure: 'duration' as const, by: 'device' as const }
        expect(ask([a, b], options)).toEqual(ask([[...a, ...b]], options))
      }),
    )
  })
  it('only counts where nothing is measured', () => {
    const world: Line[][] = [[{ visitor: 'v', t: 0, kind: 'page', url: '/a' }]]
    expect(ask([world], { by: 'entry page' })).toMatchObject({
      sessions: 1,
      edges: [],
      values: [{ value: '/a', sessions: 1, known: 0, mean: null, quantiles: [null, null, null, null, null] }],
    })
  })
})
