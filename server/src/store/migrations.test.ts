import { randomBytes } from 'node:crypto'
import { QueryTypes } from 'sequelize'
import { afterEach, expect, it } from 'vitest'
import { connect } from './database.ts'
import { lineKey } from './event-row.ts'
import { migrate } from './migrations.ts'
import { readOpenSessions } from './sessions.ts'

const ends: (() => Promise<void>)[] = []
afterEach(async () => {
  for (const end of ends.splice(0)) await end()
})

/** A database with nothing in it. */
async function emptyDatabase() {
  const server = process.env['TEST_DATABASE_URL']!
  const name = `dust_trail_${randomBytes(6).toString('hex')}`
  const admin = connect(server)
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`)
  const sequelize = connect(server.replace(/\/[^/]*$/, `/${name}`))
  ends.push(async () => {
    await sequelize.close()
    await admin.query(`DROP DATABASE ${name}`)
    await admin.close()
  })
  return sequelize
}
type Database = Awaited<ReturnType<typeof emptyDatabase>>
const select = <T extends object>(database: Database, sql: string) =>
  database.query<T>(sql, { type: QueryTypes.SELECT })
const columnsOf = async (database: Database) =>
  (
    await select<{ at: string }>(
      database,
      `SELECT CONCAT(table_name, '.', column_name, ' ', column_type, ' ', COALESCE(collation_name, '')) AS at
       FROM information_schema.columns WHERE table_schema = DATABASE() ORDER BY 1`,
    )
  ).map(({ at }) => at)

it('takes tables of the version before along, with all that is in them', async () => {
  const database = await emptyDatabase()
  await migrate(database, '0006-labels-and-segments')
  // As that version noted it.
  await database.query(
    "UPDATE migrations SET name = LEFT(name, LENGTH(name) - 2) WHERE name LIKE '0001%' AND name LIKE '% 1'",
  )
  await database.query(
    `INSERT INTO sessions (id, site_id, visitor, start_ms, end_ms, returning_visitor, device, channel, session_key)
     VALUES (7, 1, 'ann', 1700000000000, 1700000001000, 1, '{"class":"mobile"}', 'Email', NULL)`,
  )
  for (const [t, id] of [
    [1_700_000_000_000, 'one'],
    [1_700_000_001_000, 'two'],
  ] as const)
    await database.query('INSERT INTO events (session_id, t, kind, line_key, body) VALUES (7, ?, ?, ?, ?)', {
      replacements: [
        t,
        'page',
        lineKey(1, id),
        JSON.stringify({
          visitor: 'ann',
          t,
          kind: 'page',
          url: '/?utm_medium=email',
          id,
          device: { class: 'mobile' },
        }),
      ],
    })
  await migrate(database)
  const sessions = []
  for await (const rows of readOpenSessions(database, { id: 1, origins: [] })) sessions.push(...rows)
  expect(sessions).toHaveLength(1)
  expect(sessions[0]).toMatchObject({
    id: 7,
    visitor: 'ann',
    returning: true,
    device: { class: 'mobile' },
    channel: 'Email',
  })
  expect(sessions[0]!.lines).toHaveLength(2)
  // The same tables as those that are made at once.
  const fresh = await emptyDatabase()
  await migrate(fresh)
  expect(await columnsOf(database)).toEqual(await columnsOf(fresh))
})

it('goes on with what was broken off between any two statements', async () => {
  const whole = await emptyDatabase()
  await migrate(whole)
  const steps = (await select<{ name: string }>(whole, 'SELECT name FROM migrations ORDER BY name')).map(
    ({ name }) => name,
  )
  const expected = await columnsOf(whole)
  // The last statement was committed and not noted, as when the process ends in between.
  for (const step of [steps[3]!, steps[steps.length - 4]!, steps[steps.length - 1]!]) {
    await whole.query('DELETE FROM migrations WHERE name = ?', { replacements: [step] })
    await migrate(whole)
    expect(await columnsOf(whole)).toEqual(expected)
  }
})

it('refuses tables of a later version, and lets one server at a time change them', async () => {
  const database = await emptyDatabase()
  await Promise.all([migrate(database), migrate(database)])
  await database.query("INSERT INTO migrations (name) VALUES ('9999-from-the-future 1')")
  await expect(migrate(database)).rejects.toThrow(/later version.*9999-from-the-future/)
})
