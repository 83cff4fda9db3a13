import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { buildBlock } from '../events/columns.ts'
import { Dictionaries } from '../events/dictionaries.ts'
import { answer } from '../sets/analysis.ts'
import { SessionSet } from '../sets/session-set.ts'
import { detectSignals } from '../signals/detect.ts'
import { namesOf, rowsOf, worlds } from '../test-world.ts'
import type { ListPlace, WatchListSpec } from './lists.ts'
import { sessionIds, watchList } from './lists.ts'
import type { SessionSummary } from './watch.ts'
import { WATCH_ORDERS } from './watch.ts'

const everyone = { type: 'everyone' as const }
const orders = fc.constantFrom(...WATCH_ORDERS)

/** Sessions in two blocks, a quarter of an hour apart. */
function listed(world: Parameters<typeof rowsOf>[0], cut: number) {
  const rows = rowsOf(world.map((lines, s) => lines.map((line) => ({ ...line, t: line.t + s * 900_000 }))))
  const dictionaries = new Dictionaries()
  const at = cut % (rows.length + 1)
  const of = [rows.slice(0, at), rows.slice(at)].map((own) => ({
    block: buildBlock(own, dictionaries),
    sessions: SessionSet.all(own.length),
  }))
  const names = namesOf(dictionaries)
  const ask = (spec: Pick<WatchListSpec, 'order' | 'most'> & Partial<WatchListSpec>) =>
    answer(watchList, of, { selection: everyone, names, ...spec })
  return { rows, of, names, ask }
}

describe('watchList', () => {
  it('is in the order asked for, whole however it is cut into pages', () => {
    fc.assert(
      fc.property(worlds, fc.nat(12), orders, fc.integer({ min: 1, max: 5 }), (world, cut, order, most) => {
        const { rows, ask } = listed(world, cut)
        const telling = (row: (typeof rows)[number]) => detectSignals(row.lines).length
        const length = ({ lines }: (typeof rows)[number]) => lines[lines.length - 1]!.t - lines[0]!.t
        const by = { telling, longest: length, newest: () => 0 }[order]
        const wanted = [...rows].sort((a, b) => by(b) - by(a) || b.lines[0]!.t - a.lines[0]!.t)
        const whole = ask({ order, most: Infinity })
        expect(whole.total).toBe(rows.length)
        expect(whole.last).toBeUndefined()
        expect(whole.sessions.map(({ id }) => Number(id))).toEqual(wanted.map(({ id }) => id))
        const paged: string[] = []
        let after: ListPlace | undefined
        do {
          const page = ask({ order, most, after })
          expect(page.total).toBe(rows.length)
          expect(page.sessions.length).toBeLessThanOrEqual(most)
          paged.push(...page.sessions.map(({ id }) => id))
          after = page.last
        } while (after)
        expect(paged).toEqual(whole.sessions.map(({ id }) => id))
      }),
      { numRuns: 200 },
    )
  })
  it('falls into parts by when sessions began, none twice and none left out', () => {
    fc.assert(
      fc.property(worlds, fc.nat(12), fc.nat(12 * 900_000), (world, cut, at) => {
        const { ask } = listed(world, cut)
        /** page by page, as a table of all sessions is made */
        const part = (fromMs: number, toMs: number) => {
          const sessions: SessionSummary[] = []
          let after: ListPlace | undefined
          do {
            const page = ask({ order: 'newest', most: 2, after, within: { fromMs, toMs } })
            sessions.push(...page.sessions)
            after = page.last
          } while (after)
          return sessions
        }
        const whole = ask({ order: 'newest', most: Infinity }).sessions
        expect([...part(at, Infinity), ...part(-Infinity, at)]).toEqual(whole)
        expect(part(at, Infinity).every(({ startMs }) => startMs >= at)).toBe(true)
      }),
      { numRuns: 200 },
    )
  })
})

describe('sessionIds', () => {
  it('are all ids in order, or the highest so many', () => {
    fc.assert(
      fc.property(worlds, fc.nat(12), fc.nat(14), (world, cut, most) => {
        const { rows, of, names } = listed(world, cut)
        const ids = rows.map(({ id }) => id)
        const ask = (spec: { most?: number }) =>
          answer(sessionIds, of, { selection: everyone, names, ...spec }).ids
        expect(ask({})).toEqual(ids)
        expect(ask({ most })).toEqual(most === 0 ? [] : ids.slice(-most))
      }),
      { numRuns: 200 },
    )
  })
})
