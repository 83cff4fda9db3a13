import type { Line } from '@dust-trail/core'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, expect, it } from 'vitest'
import { inTransaction } from '../../server/src/store/database.ts'
import { writeSessions } from '../../server/src/store/write-sessions.ts'
import { testApp, testDatabase } from '../../server/src/test-database.ts'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import { designed } from './simulator/scenario.ts'
import { simulate } from './simulator/simulate.ts'

const database = await testDatabase()
afterAll(() => database.close())

/** The steps, as names of page groups for the funnel and as patterns of addresses for SQL. */
const STEPS = [
  ['Observing nights', '/nights', '/nights'],
  ['A night', '/nights/:night', '/nights/%'],
  ['Booking: details', '/book/:night/details', '/book/%/details'],
  ['Booking: payment', '/book/:night/payment', '/book/%/payment'],
  ['Booked', '/booked', '/booked'],
] as const
const LIMIT_MS = 30 * 60_000

it('a funnel on the demo counts what a query in SQL over the exported rows counts', async () => {
  const world = {
    seed: 5,
    sessions: 1500,
    days: 30,
    endMs: Date.UTC(2026, 5, 15),
    scenario: designed(),
    recorded: false,
  }
  const sessions = simulate(world, readLayouts(LAYOUTS_FILE))
  const pageGroups = STEPS.map(([name, pattern]) => ({ name, pattern }))
  await database.models.sites.update({ pageGroups }, { where: { id: database.site.id } })
  await inTransaction(database.sequelize, (connection) =>
    writeSessions(
      connection,
      database.site,
      sessions.map(({ visitor, lines }) => ({ visitor, lines, documents: [] })),
    ),
  )
  const { app, engines } = await testApp(database)
  const funnel = await request(app)
    .post('/api/v1/sites/shop/funnel')
    .send({
      lens: { from: '2026-01-01', to: '2026-12-31' },
      steps: STEPS.map(([page]) => ({ type: 'page', page })),
    })
    .expect(200)

  const file = await request(app)
    .get('/api/v1/sites/shop/export.ndjson')
    .buffer(true)
    .parse((response, done) => {
      let text = ''
      response.on('data', (part: Buffer) => (text += part.toString()))
      response.on('end', () => done(null, text))
    })
    .expect(200)
  await engines.stop()
  const rows = (file.body as string)
    .trim()
    .split('\n')
    .map((text, i) => {
      const line = JSON.parse(text) as Line
      const path = line.kind === 'page' ? new URL(line.url!, 'https://observatory.example').pathname : null
      return [line.visitor, line.t, i, path]
    })
  await database.sequelize.query(
    'CREATE TABLE exported (visitor VARCHAR(128), t BIGINT, ord INT, path VARCHAR(500)) DEFAULT CHARSET=utf8mb4',
  )
  for (let from = 0; from < rows.length; from += 2000)
    await database.sequelize.query('INSERT INTO exported VALUES ?', {
      replacements: [rows.slice(from, from + 2000)],
    })
  // Sessions are cut anew, by 30 minutes without anything; then each step is the first view after the one before.
  const reached = STEPS.map(([, , like], k) =>
    k === 0
      ? `s0 AS (SELECT visitor, session, MIN(n) AS n FROM cut WHERE path LIKE '${like}' GROUP BY visitor, session)`
      : `s${k} AS (SELECT c.visitor, c.session, MIN(c.n) AS n FROM cut c JOIN s${k - 1} b ON b.visitor = c.visitor AND b.session = c.session AND c.n > b.n WHERE c.path LIKE '${like}' GROUP BY c.visitor, c.session)`,
  )
  const [counted] = await database.sequelize.query<Record<string, number>>(
    `WITH gaps AS (SELECT *, t - LAG(t) OVER (PARTITION BY visitor ORDER BY t, ord) > ${LIMIT_MS} AS begins FROM exported),
      cut AS (SELECT visitor, path, SUM(COALESCE(begins, 0)) OVER (PARTITION BY visitor ORDER BY t, ord) AS session,
        ROW_NUMBER() OVER (PARTITION BY visitor ORDER BY t, ord) AS n FROM gaps),
      ${reached.join(', ')}
      SELECT ${STEPS.map((_, k) => `(SELECT COUNT(*) FROM s${k}) AS s${k}`).join(', ')},
        (SELECT COUNT(DISTINCT visitor, session) FROM cut) AS sessions`,
    { type: QueryTypes.SELECT },
  )
  const answer = funnel.body as { sessions: number; steps: { sessions: number }[] }
  expect(answer.steps[4]!.sessions).toBeGreaterThan(20)
  expect(Number(counted!['sessions'])).toBe(answer.sessions)
  expect(STEPS.map((_, k) => Number(counted![`s${k}`]))).toEqual(answer.steps.map(({ sessions: n }) => n))
}, 120_000)
