import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { answer } from '../../columns/scan.ts'
import { SessionSet } from '../../columns/session-set.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { signalsOfLines } from '../../testing/signals-of-lines.ts'
import { about, answerTo, namesOf, rowsOf, worlds } from '../../testing/world.ts'
import { sessionIds } from '../session-ids/session-ids.ts'
import { sessions } from './sessions.ts'
import type { SessionSummary, WatchOrder } from './summary.ts'
import { WATCH_ORDERS } from './summary.ts'

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
  /** @param cursor  `next` of the page before */
  const ask = (
    asked: { order: WatchOrder; most: number; within?: { fromMs: number; toMs: number } },
    cursor?: string | null,
  ) => {
    const { most: limit, ...rest } = asked
    const after = cursor ? sessions.asked.shape.cursor.parse(cursor) : undefined
    // What is asked is as the schema gives it.
    const spec = { selection: everyone, offset: 0, limit, cursor: after, ...rest, ...about(names) }
    return answer(sessions, of, spec)
  }
  return { rows, of, names, ask }
}

describe('a list of sessions', () => {
  it('is in the order asked for, whole however it is cut into pages', () => {
    fc.assert(
      fc.property(worlds, fc.nat(12), orders, fc.integer({ min: 1, max: 5 }), (world, cut, order, most) => {
        const { rows, ask } = listed(world, cut)
        const telling = (row: (typeof rows)[number]) => signalsOfLines(row.lines).length
        const length = ({ lines }: (typeof rows)[number]) => lines[lines.length - 1]!.t - lines[0]!.t
        const by = { telling, longest: length, newest: () => 0 }[order]
        const wanted = [...rows].sort((a, b) => by(b) - by(a) || b.lines[0]!.t - a.lines[0]!.t)
        const whole = ask({ order, most: Infinity })
        expect(whole.total).toBe(rows.length)
        expect(whole.next).toBeNull()
        expect(whole.sessions.map(({ id }) => Number(id))).toEqual(wanted.map(({ id }) => id))
        const paged: string[] = []
        let after: string | null = null
        do {
          const page = ask({ order, most }, after)
          expect(page.total).toBe(rows.length)
          expect(page.sessions.length).toBeLessThanOrEqual(most)
          paged.push(...page.sessions.map(({ id }) => id))
          after = page.next
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
          const found: SessionSummary[] = []
          let after: string | null = null
          do {
            const page = ask({ order: 'newest', most: 2, within: { fromMs, toMs } }, after)
            found.push(...page.sessions)
            after = page.next
          } while (after)
          return found
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
        const ask = (asked: { most?: number }) =>
          answerTo(sessionIds, of, { selection: everyone, ...asked }, about(names)).ids
        expect(ask({})).toEqual(ids)
        expect(ask({ most })).toEqual(most === 0 ? [] : ids.slice(-most))
      }),
      { numRuns: 200 },
    )
  })
})
