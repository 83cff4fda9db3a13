import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Tally } from './tally.ts'

describe('Tally', () => {
  it('counts what a map counts, codes small and large', () => {
    const code = fc.oneof(
      fc.nat(20),
      fc.integer({ min: 250, max: 600 }),
      fc.integer({ min: 65_530, max: 65_540 }),
      fc.nat(),
    )
    fc.assert(
      fc.property(fc.array(code), (codes) => {
        const tally = new Tally()
        const counts = new Map<number, number>()
        for (const one of codes) {
          tally.add(one)
          counts.set(one, (counts.get(one) ?? 0) + 1)
        }
        expect(tally.counts()).toEqual(counts)
      }),
    )
  })
})
