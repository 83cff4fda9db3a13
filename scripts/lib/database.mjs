// The database that a command works on: the one that runs, the private one started for it, or DATABASE_URL. Plain Node.
import { existsSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { ensurePrograms, MARIADB, Stop } from './install.mjs'
import { ROOT } from './run.mjs'
import { addressFile, runs, startMariadb } from './mariadb.mjs'

/** Calls with the address of the database; one that was started for it is stopped afterwards. */
export async function withDatabase(work) {
  if (process.env.DATABASE_URL) return work(process.env.DATABASE_URL)
  const folder = resolve(ROOT, process.env.DUST_TRAIL_DATA ?? '.data')
  const pidFile = join(folder, 'mariadb.pid')
  const pid = existsSync(pidFile) ? Number(readFileSync(pidFile, 'utf8')) : 0
  if (pid && runs(pid, join(folder, 'db')) && existsSync(addressFile(folder)))
    return work(readFileSync(addressFile(folder), 'utf8'))
  ensurePrograms([MARIADB])
  const database = await startMariadb(folder)
  try {
    return await work(database.url)
  } finally {
    await database.stop()
  }
}

/** How a client of MariaDB is told where to go; the password goes by the environment, which others cannot see. */
export function clientArguments(url) {
  const { hostname, port, username, password, pathname } = new URL(url)
  return {
    args: [
      '--no-defaults',
      `--host=${hostname}`,
      `--port=${port || 3306}`,
      `--user=${decodeURIComponent(username)}`,
    ],
    env: { ...process.env, MYSQL_PWD: decodeURIComponent(password) },
    database: pathname.slice(1),
  }
}

export function quitWith(error) {
  console.error(error instanceof Stop ? error.message : error)
  process.exit(1)
}
