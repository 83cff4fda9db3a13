// npm start: installs what is missing, builds, starts the database, loads the demo, serves. Plain Node, no dependency.
// npm run dev: the same, and whatever is changed takes effect at once: the server starts again, the web application reloads.
import { existsSync, mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { ensureBuilt } from './lib/build.mjs'
import { checkNode, ensurePackages, ensurePrograms, MARIADB, Stop } from './lib/install.mjs'
import { runs, startMariadb } from './lib/mariadb.mjs'
import { ROOT } from './lib/run.mjs'
import { startChanging } from './lib/dev.mjs'
import { checkPort, loadDemo, startProgram } from './lib/service.mjs'

const LEAST_FREE_MB = 600

const host = process.env.HOST ?? '127.0.0.1'
const port = portFrom('PORT', 4180)
const sitePort = portFrom('SITE_PORT', port + 1)
const isDev = process.argv.includes('--dev')
/** where the server listens: while developing Vite is in front of it, at the one address */
const serverPort = isDev ? sitePort + 1 : port
const folder = resolve(ROOT, process.env.DUST_TRAIL_DATA ?? '.data')
const lock = join(folder, 'start.pid')

/** What runs, in the order it was started; stopped the other way round. */
const running = []
let stopping

async function stopAll() {
  stopping ??= (async () => {
    for (const part of running.reverse()) await part.stop()
    if (existsSync(lock) && readFileSync(lock, 'utf8') === String(process.pid)) rmSync(lock, { force: true })
  })()
  await stopping
}

for (const [signal, code] of [
  ['SIGINT', 130],
  ['SIGTERM', 143],
  ['SIGHUP', 129],
])
  process.on(signal, async () => {
    if (stopping) return
    await stopAll()
    process.exit(code)
  })
const parent = process.ppid
setInterval(async () => {
  if (process.ppid === parent || stopping) return
  await stopAll()
  process.exit(129)
}, 250).unref()

try {
  checkNode()
  takeLock()
  await checkPort(port, host, 'PORT')
  await checkPort(sitePort, host, 'SITE_PORT')
  if (isDev) await checkPort(serverPort, host, 'SITE_PORT')
  await ensurePackages()
  if (!process.env.DATABASE_URL) ensurePrograms([MARIADB])
  await ensureBuilt()
  const database = process.env.DATABASE_URL
    ? { url: process.env.DATABASE_URL, stop: async () => undefined, exited: new Promise(() => undefined) }
    : await startMariadb(folder)
  running.push(database)
  const shownHost = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host
  const env = {
    DATABASE_URL: database.url,
    HOST: host,
    PORT: String(serverPort),
    SITE_PORT: String(sitePort),
    CAPTURE_ORIGIN: `http://${shownHost}:${port}`,
    IMPORT_FOLDER: join(folder, 'imports'),
    NODE_ENV: 'production',
  }
  if (process.env.DEMO !== '0') await loadDemo(env)
  const server = isDev
    ? await startChanging(env, { port, host, server: `http://${shownHost}:${serverPort}` })
    : await startProgram('server.mjs', env)
  running.push(server)
  const site = await startProgram('site.mjs', env)
  running.push(site)
  console.log(`\nDust Trail        http://${shownHost}:${port}`)
  console.log(
    `Stand-in website  http://${shownHost}:${sitePort}   (click around: what you do shows up in Dust Trail)`,
  )
  console.log('Ctrl-C stops everything; the data stays.')
  const ended = await Promise.race([
    database.exited.then(() => 'The database'),
    server.exited.then(() => 'The server'),
    site.exited.then(() => 'The stand-in website'),
  ])
  if (!stopping)
    throw new Stop(`${ended} ended unexpectedly. What was acknowledged is kept; start again. Logs: ${folder}`)
} catch (error) {
  if (!stopping) {
    console.error(error instanceof Stop ? `\n${error.message}` : error)
    await stopAll()
    process.exit(1)
  }
}

function portFrom(name, otherwise) {
  const given = process.env[name]
  if (given === undefined || given === '') return otherwise
  const number = Number(given)
  if (!Number.isInteger(number) || number < 1 || number > 65_535) {
    console.error(`${name}=${given} is not a port: give a number from 1 to 65535.`)
    process.exit(1)
  }
  return number
}

function takeLock() {
  try {
    mkdirSync(folder, { recursive: true })
    const { bavail, bsize } = statfsSync(folder)
    const freeMb = Math.floor((bavail * bsize) / 1_048_576)
    if (freeMb < LEAST_FREE_MB)
      throw new Stop(
        `The disk under ${folder} has ${freeMb} MB left; at least ${LEAST_FREE_MB} MB are needed. Free some, or set DUST_TRAIL_DATA to a folder elsewhere.`,
      )
    const holder = existsSync(lock) ? Number(readFileSync(lock, 'utf8')) : 0
    if (holder && holder !== process.pid && runs(holder, 'start.mjs'))
      throw new Stop(
        `Dust Trail already runs on this data (process ${holder}). Stop it first, or set DUST_TRAIL_DATA to another folder.`,
      )
    writeFileSync(lock, String(process.pid))
  } catch (error) {
    if (error instanceof Stop) throw error
    throw new Stop(
      `The data folder ${folder} cannot be used: ${error.message}. Set DUST_TRAIL_DATA to a folder that can be written.`,
    )
  }
}
