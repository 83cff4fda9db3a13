import { selectionSchema } from '@dust-trail/core'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { inTransaction } from '../../server/src/store/database.ts'
import { testDatabase } from '../../server/src/test-database.ts'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import { DEMO_GOALS, layOut } from './ready.ts'
import { designed } from './simulator/scenario.ts'
import { simulate } from './simulator/simulate.ts'

const END_MS = Date.UTC(2026, 5, 15, 12)
let database: Awaited<ReturnType<typeof testDatabase>>
beforeAll(async () => {
  database = await testDatabase()
})
afterAll(() => database.close())

it('the work on the table is what the product takes, with numbers counted from the demo’s own data', async () => {
  const sessions = simulate(
    { ...{ seed: 5, sessions: 2500, days: 60, endMs: END_MS, scenario: designed() }, recorded: false },
    readLayouts(LAYOUTS_FILE),
  )
  const pageGroups = [
    ['Home', '/'],
    ['Observing nights', '/nights'],
    ['A night', '/nights/:night'],
    ['Booking: details', '/book/:night/details'],
    ['Booked', '/booked'],
  ].map(([name, pattern]) => ({ name: name!, pattern: pattern! }))
  const site = { ...database.site, pageGroups, goal: 'Booked', goals: DEMO_GOALS }
  await inTransaction(database.sequelize, (connection) => layOut(connection, site, sessions, END_MS))
  const { actions, segments, funnels, trails, marks, fixes, fixEvents } = database.models

  expect(await actions.count()).toBe(4)
  expect(await segments.count()).toBe(3)
  expect(await funnels.count()).toBe(1)
  expect(await trails.count()).toBe(2)
  for (const row of await marks.findAll()) {
    const { then, question, shows } = row.get({ plain: true })
    expect(selectionSchema.safeParse(question.selection).error).toBeUndefined()
    expect(then.hits).toBeGreaterThan(0)
    if (shows) expect(['trend', 'table']).toContain(shows.form)
    expect(then.base - then.hits).toBeGreaterThan(question.selection.type === 'everyone' ? -1 : 0)
  }
  const kept = (await fixes.findAll({ order: ['id'] })).map((row) => row.get({ plain: true }))
  expect(kept.map(({ status }) => status)).toEqual(['ready', 'in work', 'idea', 'verified'])
  for (const { evidence } of kept) expect(evidence.met.base).toBeGreaterThan(0)
  const verified = kept[3]!
  expect(verified.shippedDay! < '2026-06-14').toBe(true)
  expect(verified.verified!.met.base).toBeGreaterThan(0)
  expect(await fixEvents.count({ where: { fixId: verified.id } })).toBe(4)
})
