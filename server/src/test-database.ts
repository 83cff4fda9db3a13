import { randomBytes } from 'node:crypto'
import type { AnyQuestion } from '@dust-trail/core'
import type { Sequelize } from 'sequelize'
import { tmpdir } from 'node:os'
import type { Express } from 'express'
import { pino } from 'pino'
import { createApp } from './app.ts'
import { Engines } from './engine/engines.ts'
import type { Threads } from './engine/threads.ts'
import { ImportJobs } from './import/jobs.ts'
import type { CollectBudgets } from './ingest/budgets.ts'
import { Collector } from './ingest/collect.ts'
import { Refusals } from './ingest/refusals.ts'
import { connect } from './store/database.ts'
import { KeptFiles } from './store/kept-files.ts'
import { migrate } from './store/migrations.ts'
import type { Models, SiteRow } from './store/models.ts'
import { defineModels } from './store/models.ts'
import { RetentionJob } from './store/retention.ts'

/** A database of its own on the tests' MariaDB, with one site; dropped by `close`. For tests only. */
export async function testDatabase(): Promise<{
  url: string
  sequelize: Sequelize
  models: Models
  site: SiteRow
  /** what writes into it from time to time, and stops before it closes */
  writers: { close: () => Promise<void> }[]
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
    goals: [],
    retentionDays: null,
    recordingDays: null,
    auditDays: 730,
    rates: [],
    thresholds: {},
    strainWeights: {},
    capture: { text: 'patterns', consent: 'free', share: 1, drawings: false, pictures: 'kept' },
    pageGroups: [{ name: 'An item', pattern: '/items/:item' }],
  })
  const writers: { close: () => Promise<void> }[] = []
  return {
    url,
    sequelize,
    models,
    site: row.get({ plain: true }),
    writers,
    close: async () => {
      for (const writer of writers) await writer.close()
      await sequelize.close()
      await admin.query(`DROP DATABASE ${name}`)
      await admin.close()
    },
  }
}

/** The HTTP side over a test's database, with what is in it loaded. For tests only. */
export async function testApp(
  {
    url,
    sequelize,
    models,
    writers,
  }: Pick<Awaited<ReturnType<typeof testDatabase>>, 'url' | 'sequelize' | 'models' | 'writers'>,
  {
    threads,
    questions,
    budgets,
    publicUrl,
    trustProxy,
    collector = new Collector(sequelize),
  }: {
    threads?: Threads
    questions?: readonly AnyQuestion[]
    budgets?: CollectBudgets
    collector?: Collector
    publicUrl?: string
    trustProxy?: string
  } = {},
): Promise<{
  app: Express
  engines: Engines
  jobs: ImportJobs
}> {
  const failed = (error: unknown) => {
    throw error
  }
  const engines = new Engines(sequelize, models, failed, threads)
  await (
    await engines.load()
  ).loaded
  writers.push({ close: () => engines.stop() })
  const refusals = new Refusals(sequelize, failed)
  writers.push(refusals)
  const jobs = new ImportJobs(
    models,
    engines,
    collector,
    url,
    new URL('../../dist/import-worker.mjs', import.meta.url),
    (error) => {
      throw error
    },
  )
  const retention = new RetentionJob(sequelize, engines, new KeptFiles(sequelize), (error) => {
    throw error
  })
  writers.push({ close: () => retention.stop() })
  const app = createApp({
    sequelize,
    models,
    engines,
    retention,
    log: pino({ level: 'silent' }),
    files: undefined,
    ownOrigins: ['http://127.0.0.1:4180'],
    jobs,
    collector,
    refusals,
    folder: tmpdir(),
    ...(questions && { questions }),
    ...(budgets && { budgets }),
    ...{ publicUrl, trustProxy },
  })
  return { app, engines, jobs }
}
