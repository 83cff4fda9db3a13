import { createServer } from 'node:http'
import { mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { pino } from 'pino'
import { createApp, createCollectApp } from './app.ts'
import { readConfig } from './config.ts'
import { Engines } from './engine/engines.ts'
import { startThreads } from './engine/threads.ts'
import { Health } from './health.ts'
import { ImportJobs } from './import/jobs.ts'
import { Collector } from './ingest/collect.ts'
import { Refusals } from './ingest/refusals.ts'
import { Looks } from './ingest/looks.ts'
import { Erased } from './store/erased.ts'
import { MailFolder } from './people/mail.ts'
import { People } from './people/people.ts'
import { connect } from './store/database.ts'
import { DatabaseHolder, undurable } from './store/holder.ts'
import { KeptFiles } from './store/kept-files.ts'
import { migrate } from './store/migrations.ts'
import { defineModels } from './store/models.ts'
import { PackerThread } from './store/packer-thread.ts'
import { RetentionJob } from './store/retention.ts'

/** How long a server waits for the one before it to let go of the database. */
const LOCK_PATIENCE_MS = 10_000

/** Whether an address is reached from this computer alone. */
const isLoopback = (host: string) => /^(localhost|127\.[\d.]+|::1)$/.test(host)

const config = readConfig(process.env)
const log = pino({ level: config.LOG_LEVEL })
const sequelize = connect(config.DATABASE_URL)
const holder = new DatabaseHolder(sequelize, () => {
  log.error('another server has taken the database over; this one stops')
  process.exitCode = 1
  void stop()
})
let stop: () => Promise<void> = async () => {
  await holder.stop()
  await sequelize.close()
  if (process.connected) process.disconnect()
}

try {
  await start()
} catch (error) {
  process.send?.({ type: 'failed', message: error instanceof Error ? error.message : String(error) })
  log.error({ err: error }, 'cannot start')
  process.exitCode = 1
  await stop()
}

async function start(): Promise<void> {
  if (!(await holder.take(LOCK_PATIENCE_MS)))
    throw new Error(
      'Another Dust Trail server works on this database. Stop it first, or give this one a database of its own (DATABASE_URL).',
    )
  const faults = config.DURABILITY === 'full' ? await undurable(sequelize) : []
  if (faults.length)
    throw new Error(
      `The database may lose what was acknowledged: ${faults.join('; ')}. Set it so, or start with DURABILITY=relaxed.`,
    )
  await migrate(sequelize)
  const published = config.PUBLIC_URL !== undefined && !isLoopback(new URL(config.PUBLIC_URL).hostname)
  if ((published || !isLoopback(config.HOST)) && !(await new People(sequelize).any()))
    throw new Error(
      `${published ? `PUBLIC_URL=${config.PUBLIC_URL}` : `HOST=${config.HOST}`} can be reached from elsewhere, and there is no account: everybody could read and delete everything. Make the first account: npm run account -- --email you@example.org --name "Your Name"`,
    )
  const models = defineModels(sequelize)
  const threads = startThreads(new URL('engine-worker.mjs', import.meta.url))
  const engines = new Engines(
    sequelize,
    models,
    (error) => log.error({ err: error }, 'live data could not be read; trying again'),
    threads,
    config.MEMORY_MB * 2 ** 20,
    config.QUESTION_S * 1000,
    {
      trendParts: config.TREND_PARTS,
      words: config.SITE_WORDS,
      sets: config.NESTED_SETS,
      answerBytes: config.ANSWERS_MB * 2 ** 20,
    },
  )
  const { loaded } = await engines.load()
  const ownOrigins = [...new Set([config.HOST, '127.0.0.1', 'localhost'])].map(
    (host) => `http://${host}:${config.PORT}`,
  )
  mkdirSync(config.IMPORT_FOLDER, { recursive: true })
  const collector = new Collector(sequelize, config.SESSIONS_PER_HOUR)
  const refusals = new Refusals(sequelize, (error) =>
    log.error({ err: error }, 'what was refused could not be noted; trying again'),
  )
  const jobs = new ImportJobs(
    models,
    engines,
    collector,
    config.DATABASE_URL,
    new URL('import-worker.mjs', import.meta.url),
    (error) => log.error({ err: error }, 'an import could not be noted'),
    config.INFLATED_MB * 2 ** 20,
  )
  const looks = new Looks()
  const kept = new KeptFiles(sequelize, config.KEPT_MB * 2 ** 20)
  const retention = new RetentionJob(sequelize, engines, kept, (error) =>
    log.error({ err: error }, 'old data could not be deleted; trying again within the hour'),
  )
  const packer = new PackerThread(
    new URL('packer.mjs', import.meta.url),
    { databaseUrl: config.DATABASE_URL },
    (message) => {
      if ('error' in message) log.error(message, 'sessions could not be packed; trying again')
      else if ('rewritten' in message) engines.rewritten(message.rewritten)
      else log.debug(message, 'packed')
    },
  )
  const health = new Health({ sequelize, engines, threads, packer })
  let stopping = false
  const budgets = {
    requestsPerAddress: config.COLLECT_REQUESTS_PER_ADDRESS,
    requestsPerSite: config.COLLECT_REQUESTS_PER_SITE,
    bytesPerAddress: config.COLLECT_BYTES_PER_ADDRESS,
    bytesPerSite: config.COLLECT_BYTES_PER_SITE,
    propsPerLine: config.LINE_PROPERTIES,
    treeDepth: config.RECORDED_DEPTH,
    sessionsPerHour: config.SESSIONS_PER_HOUR,
  }
  const files = dirname(fileURLToPath(import.meta.url))
  const trustProxy = config.TRUST_PROXY
  const erased = new Erased(sequelize)
  const collecting =
    config.COLLECT_PORT === undefined
      ? undefined
      : createServer(
          createCollectApp({
            ...{
              sequelize,
              engines,
              log,
              files,
              collector,
              refusals,
              budgets,
              trustProxy,
              erased,
              kept,
              looks,
            },
          }),
        )
  const server = createServer(
    createApp({
      ...{ sequelize, models, engines, log, ownOrigins, jobs, retention, collector, refusals, health },
      ...{ files, budgets, trustProxy, erased, kept, looks, collectsElsewhere: collecting !== undefined },
      folder: config.IMPORT_FOLDER,
      publicUrl: config.PUBLIC_URL,
      collectUrl: config.COLLECT_URL,
      mail: new MailFolder(config.MAIL_FOLDER),
      mostUploadBytes: config.UPLOAD_MB * 2 ** 20,
      bodies: { depth: config.BODY_DEPTH, parts: config.BODY_PARTS },
    }),
  )

  stop = async () => {
    if (stopping) return
    stopping = true
    const read = engines.stop()
    for (const one of [server, collecting]) {
      one?.close()
      one?.closeIdleConnections()
    }
    setTimeout(() => {
      server.closeAllConnections()
      collecting?.closeAllConnections()
    }, 2000).unref()
    await jobs.close()
    await retention.stop()
    await loaded.catch(() => undefined)
    await read
    await packer.stop()
    await threads.close()
    await refusals.close().catch(() => undefined)
    await holder.stop()
    await sequelize.close()
    if (process.connected) process.disconnect()
  }

  const cannotListen = (error: NodeJS.ErrnoException) => {
    process.send?.({ type: 'failed', code: error.code, message: error.message })
    log.error({ err: error }, 'cannot listen')
    process.exitCode = 1
    void stop()
  }
  server.on('error', cannotListen)
  collecting?.on('error', cannotListen)
  if (collecting) collecting.listen(config.COLLECT_PORT, config.COLLECT_HOST)
  const listening = new Promise<void>((resolve) =>
    server.listen(config.PORT, config.HOST, () => {
      process.send?.({ type: 'ready' })
      resolve()
    }),
  )

  // What moves stored sessions about waits until all of them have been read.
  void Promise.all([loaded, listening]).then(
    async () => {
      for (const { row, damaged } of engines.all())
        for (const block of damaged)
          log.error({ site: row.key, ...block }, 'a block is damaged: its sessions are not in the answers')
      process.send?.({ type: 'loaded' })
      if (stopping) return
      await jobs.resume()
      retention.start()
      packer.start()
    },
    (error: unknown) => {
      log.error({ err: error }, 'the data could not be read')
      process.exitCode = 1
      void stop()
    },
  )
}

process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
process.on('disconnect', () => void stop())
