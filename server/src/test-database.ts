import { randomBytes } from 'node:crypto'
import type { Sequelize } from 'sequelize'
import { tmpdir } from 'node:os'
import type { Express } from 'express'
import { pino } from 'pino'
import { createApp } from './app.ts'
import { Engines } from './engine/engines.ts'
import { ImportJobs } from './import/jobs.ts'
import { connect } from './store/database.ts'
import { Keeper } from './store/retention.ts'
import { migrate } from './store/migrations.ts'
import type { Models, SiteRow } from './store/models.ts'
import { defineModels } from './store/models.ts'

/** A database of its own on the tests' MariaDB, with one site; dropped by `close`. For tests only. */
export async function testDatabase(): Promise<{
  url: string
  sequelize: Sequelize
  models: Models
  site: SiteRow
  close: () => Promise<void>
}> {
  const server = process.env['TEST_DATABASE_URL']
  if (!server)
    throw new Error(
      'TEST_DATABASE_URL is missing: run the tests with npm test, which starts a MariaDB for them.',
    )
  const name = `dust_trail_${randomBytes(6).toString('hex')}`
  const url = server.replace(/\/[^/]*$/, `/${name}`)
  const admin = connect(server)
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`)
  const sequelize = connect(url)
  await migrate(sequelize)
  const models = defineModels(sequelize)
  const row = await models.sites.create({
    key: 'shop',
    name: 'Shop',
    origins: ['https://shop.example'],
    timeZone: 'UTC',
    currency: 'EUR',
    sessionLimitMin: 30,
    goal: '/thanks',
    retentionDays: null,
    recordingDays: null,
    pageGroups: [{ name: 'An item', pattern: '/items/:item' }],
  })
  return {
    url,
    sequelize,
    models,
    site: row.get({ plain: true }),
    close: async () => {
      await sequelize.close()
      await admin.query(`DROP DATABASE ${name}`)
      await admin.close()
    },
  }
}

/** The HTTP side over a test's database, with what is in it loaded. For tests only. */
export async function testApp({
  url,
  sequelize,
  models,
}: Pick<Awaited<ReturnType<typeof testDatabase>>, 'url' | 'sequelize' | 'models'>): Promise<{
  app: Express
  engines: Engines
  jobs: ImportJobs
}> {
  const engines = new Engines(sequelize, models, (error) => {
    throw error
  })
  await (
    await engines.load()
  ).loaded
  const jobs = new ImportJobs(
    models,
    engines,
    url,
    new URL('../../dist/import-worker.mjs', import.meta.url),
    (error) => {
      throw error
    },
  )
  const app = createApp({
    sequelize,
    models,
    engines,
    keeper: new Keeper(sequelize, engines, (error) => {
      throw error
    }),
    log: pino({ level: 'silent' }),
    files: undefined,
    ownOrigins: ['http://127.0.0.1:4180'],
    jobs,
    folder: tmpdir(),
  })
  return { app, engines, jobs }
}
