import { createServer } from 'node:http'
import { mkdirSync } from 'node:fs'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'
import { pino } from 'pino'
import { createApp } from './app.ts'
import { readConfig } from './config.ts'
import { Engines } from './engine/engines.ts'
import { startThreads } from './engine/threads.ts'
import { ImportJobs } from './import/jobs.ts'
import { connect } from './store/database.ts'
import { migrate } from './store/migrations.ts'
import { defineModels } from './store/models.ts'
import type { PackerMessage, PackerWork } from './store/packer.ts'
import { Keeper } from './store/retention.ts'

const config = readConfig(process.env)
const log = pino({ level: config.LOG_LEVEL })
const sequelize = connect(config.DATABASE_URL)
await migrate(sequelize)
const models = defineModels(sequelize)
const threads = startThreads(new URL('engine-worker.mjs', import.meta.url))
const engines = new Engines(
  sequelize,
  models,
  (error) => log.error({ err: error }, 'live data could not be read; trying again'),
  threads,
  config.MEMORY_MB * 2 ** 20,
)
const { loaded } = await engines.load()

const ownOrigins = [...new Set([config.HOST, '127.0.0.1', 'localhost'])].map(
  (host) => `http://${host}:${config.PORT}`,
)
const files = dirname(fileURLToPath(import.meta.url))
mkdirSync(config.IMPORT_FOLDER, { recursive: true })
const folder = config.IMPORT_FOLDER
const jobs = new ImportJobs(
  models,
  engines,
  config.DATABASE_URL,
  new URL('import-worker.mjs', import.meta.url),
  (error) => log.error({ err: error }, 'an import could not be noted'),
)
const keeper = new Keeper(sequelize, engines, (error) =>
  log.error({ err: error }, 'old data could not be deleted; trying again within the hour'),
)
let stopping = false
let packer: { worker: Worker; done: Promise<unknown> } | undefined
const server = createServer(
  createApp({ sequelize, models, engines, log, files, ownOrigins, jobs, keeper, folder }),
)

server.on('error', (error: NodeJS.ErrnoException) => {
  process.send?.({ type: 'failed', code: error.code, message: error.message })
  log.error({ err: error }, 'cannot listen')
  process.exitCode = 1
  void stop()
})
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
    keeper.start()
    packer = startPacker()
  },
  (error: unknown) => {
    log.error({ err: error }, 'the data could not be read')
    process.exitCode = 1
    void stop()
  },
)

function startPacker(): NonNullable<typeof packer> {
  const worker = new Worker(new URL('packer.mjs', import.meta.url), {
    workerData: { databaseUrl: config.DATABASE_URL } satisfies PackerWork,
  })
  worker.on('message', (message: PackerMessage) => {
    if ('error' in message) log.error(message, 'sessions could not be packed; trying again')
    else log.debug(message, 'packed')
  })
  worker.on('error', (error) =>
    log.error({ err: error }, 'the packer has ended; sessions stay rows until the next start'),
  )
  return { worker, done: new Promise((resolve) => worker.on('exit', resolve)) }
}

async function stop(): Promise<void> {
  if (stopping) return
  stopping = true
  engines.stop()
  server.close()
  server.closeIdleConnections()
  setTimeout(() => server.closeAllConnections(), 2000).unref()
  await jobs.close()
  await keeper.stop()
  await loaded.catch(() => undefined)
  packer?.worker.postMessage('stop')
  await packer?.done
  await threads.close()
  await sequelize.close()
  if (process.connected) process.disconnect()
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
process.on('disconnect', () => void stop())
