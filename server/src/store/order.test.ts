import type { Line, SessionRow } from '@dust-trail/core'
import { lineText } from '@dust-trail/core'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testDatabase } from '../test-database.ts'
import { inTransaction } from './database.ts'
import { packEnded } from './pack-sessions.ts'
import { placeLines } from './place-lines.ts'
import { placeVisitors, visitorGroups } from './place-visitors.ts'
import { allSessions } from '../routes/export.ts'
import { readSessionsById } from './sessions.ts'

const MINUTE = 60_000
const T = Date.UTC(2026, 4, 1, 9)
/** Long after all that happens here. */
const NOW = T + 40 * 86_400_000

let database: Awaited<ReturnType<typeof testDatabase>>
beforeAll(async () => {
  database = await testDatabase()
})
afterAll(() => database.close())

const line: fc.Arbitrary<Line> = fc
  .record(
    {
      visitor: fc.constantFrom('ann', 'ann ', 'Ann'),
      // Often at one instant, and over more than a day.
      t: fc
        .oneof(fc.nat(40), fc.nat(40), fc.nat(2000))
        .chain((n) => fc.constantFrom(n * MINUTE, n * MINUTE + 1))
        .map((ms) => T + ms),
      kind: fc.constantFrom('page' as const, 'click' as const, 'request' as const, 'leave' as const),
      url: fc.constantFrom('/a', '/b', 'https://shop.example/c?utm_source=x&utm_medium=email'),
      tab: fc.constantFrom('one', 'two'),
      device: fc.record({ class: fc.constantFrom('desktop' as const, 'mobile' as const) }),
      country: fc.constantFrom('IE', 'SE'),
      referrer: fc.constantFrom('https://news.example/', 'https://other.example/x'),
      campaign: fc.record({ source: fc.constantFrom('p', 'q'), name: fc.constant('n') }),
      returning: fc.boolean(),
      session: fc.constantFrom('s', 't'),
      id: fc.boolean(),
    },
    { requiredKeys: ['visitor', 't', 'kind'] },
  )
  .map(({ id, url, session, ...rest }) => {
    const known = {
      ...rest,
      ...(url !== undefined || rest.kind === 'page' ? { url: url ?? '/a' } : {}),
      ...(rest.kind === 'click' && { target: { selector: '#x' } }),
      ...(rest.kind === 'request' && { path: '/p' }),
      // Most senders leave it to us where sessions begin.
      ...(session && rest.t % 5 === 0 && { session }),
    }
    return id ? { ...known, id: lineText(known).slice(0, 128) } : known
  })
const worlds = fc
  .array(line, { minLength: 1, maxLength: 40 })
  .map((lines) => [...new Map(lines.map((one) => [one.id ?? lineText(one), one])).values()])

async function empty(): Promise<void> {
  for (const table of ['events', 'sessions', 'blocks']) await database.sequelize.query(`DELETE FROM ${table}`)
}
const place = (lines: readonly Line[]) =>
  inTransaction(database.sequelize, (connection) => placeLines(connection, database.site, lines))
const bring = async (lines: readonly Line[]) => {
  for (const visitors of visitorGroups(lines))
    await placeVisitors(database.sequelize, database.site, visitors, { nowMs: NOW })
}
/** All that is stored, whatever its numbers: what columns are made of. */
async function stored(): Promise<Omit<SessionRow, 'id'>[]> {
  const ids = await allSessions(database.sequelize, database.site.id)
  const rows = await readSessionsById(database.sequelize, database.site, ids)
  return rows
    .map(({ id: _, ...row }) => row)
    .sort((a, b) => compare(JSON.stringify(a.lines), JSON.stringify(b.lines)))
}
const compare = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)

const arrival = fc.record({
  size: fc.integer({ min: 1, max: 12 }),
  how: fc.nat(2),
  again: fc.boolean(),
  pack: fc.boolean(),
})

describe('what is stored', () => {
  it('is the same whatever the order and the pieces in which lines arrive, by file or batch, once or twice', async () => {
    await fc.assert(
      fc.asyncProperty(
        worlds.chain((lines) =>
          fc.tuple(fc.constant(lines), fc.shuffledSubarray(lines, { minLength: lines.length })),
        ),
        fc.array(arrival, { minLength: 1, maxLength: 8 }),
        async ([lines, shuffled], arrivals) => {
          await empty()
          await place(lines)
          const expected = await stored()
          await empty()
          const left = [...shuffled]
          for (let k = 0; left.length; k++) {
            const { size, how, again, pack } = arrivals[k % arrivals.length]!
            const piece = left.splice(0, size)
            const arrive = how === 0 ? bring : place
            await arrive(piece)
            if (again) await (how === 1 ? bring : place)(piece)
            if (pack) await packEnded(database.sequelize, database.site, NOW, 1)
          }
          expect(await stored()).toEqual(expected)
        },
      ),
      { numRuns: 60 },
    )
  }, 120_000)

  it('of a line more on top of a file is that line alone, and equal lines are as many as came together', async () => {
    await empty()
    const view = (minute: number): Line => ({ visitor: 'v', t: T + minute * MINUTE, kind: 'page', url: '/a' })
    const file = [view(0), view(1), view(1)]
    await bring(file)
    const again = await inTransaction(database.sequelize, (connection) =>
      placeLines(connection, database.site, [view(2), ...file]),
    )
    expect(again.repeated).toBe(3)
    expect((await stored())[0]!.lines).toHaveLength(4)
  })
})
