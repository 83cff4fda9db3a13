import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { answer } from '../../columns/scan.ts'
import { SessionSet } from '../../columns/session-set.ts'
import { Dictionaries } from '../../columns/dictionaries.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf, namesOf, worlds } from '../../testing/world.ts'
import { friction } from './friction.ts'
import type { WorstSpots } from './worst-spots.ts'
import { worstSpots } from './worst-spots.ts'

const selected = (sessions: Line[][], dictionaries: Dictionaries) => {
  const { block } = blockOf(sessions, dictionaries)
  return { block, sessions: SessionSet.all(block.sessions.count) }
}

/** What the question finds out before it is scanned. */
const needed = (found: { worst: WorstSpots }) => found as Partial<typeof found> as Record<string, never>

describe('the worst spots', () => {
  it('are all there are, where there are few: what is told of each is the same with and without them', () => {
    fc.assert(
      fc.property(worlds, worlds, (one, other) => {
        const dictionaries = new Dictionaries()
        const blocks = [selected(one, dictionaries), selected(other, dictionaries)]
        const context = about(namesOf(dictionaries), { goal: '/d' })
        const worst = answer(worstSpots, blocks, context)
        expect(worst.more).toBe(0)
        const whole = answerTo(friction, blocks, {}, context)
        expect(worst.listed).toHaveLength(whole.spots.length)
        expect(answerTo(friction, blocks, needed({ worst }), context)).toEqual(whole)
      }),
    )
  })
  it('are the same however many threads counted them', () => {
    fc.assert(
      fc.property(fc.array(worlds, { minLength: 1, maxLength: 4 }), (all) => {
        const dictionaries = new Dictionaries()
        // A session counts once in each block: blocks have no sessions in common.
        const blocks = all.map((sessions) => selected(sessions, dictionaries))
        const context = about(namesOf(dictionaries))
        const shares = blocks.map(({ block, sessions }) =>
          worstSpots.pack!(worstSpots.scan(block, sessions, context)),
        )
        const merged = shares.reduce((a, b) => worstSpots.merge(a, b))
        const summed = worstSpots.finish(merged, context)
        const names = ({ listed }: typeof summed) => listed.map((spot) => JSON.stringify(spot)).sort()
        const alone = shares.map((share) => worstSpots.finish(share, context))
        expect(names(summed)).toEqual([...new Set(alone.flatMap(names))].sort())
      }),
    )
  })
  it('are five hundred where there are more, those that most sessions met', () => {
    const sessions = Array.from({ length: 700 }, (_, k): Line[] =>
      Array.from({ length: 2 }, (__, again) => ({
        ...{ visitor: 'v', t: again * 10_000, kind: 'click' as const, effect: 'none' as const, x: 1, y: 1 },
        ...{ url: '/a', target: { selector: `#n${again ? k : k % 600}`, tag: 'div' } },
      })),
    )
    const dictionaries = new Dictionaries()
    const blocks = [selected(sessions, dictionaries)]
    const context = about(namesOf(dictionaries))
    const worst = answer(worstSpots, blocks, context)
    expect([worst.listed.length, worst.more]).toEqual([500, 200])
    const { spots, more } = answerTo(friction, blocks, needed({ worst }), context)
    expect([spots.length, more]).toEqual([500, 200])
    // The first hundred were met by two sessions each.
    expect(spots.filter(({ met }) => met.hits === 2).map(({ selector }) => selector)).toEqual(
      Array.from({ length: 100 }, (_, k) => `#n${k}`).sort((a, b) => a.localeCompare(b)),
    )
  })
})
