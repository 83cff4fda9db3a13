// npm run backup -- FILE.sql.gz: everything that is stored, recordings too, as it stands at one moment. Plain Node.
import { spawn } from 'node:child_process'
import { createWriteStream, existsSync, renameSync, rmSync } from 'node:fs'
import { resolve } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { createGzip } from 'node:zlib'
import { clientArguments, quitWith, withDatabase } from './lib/database.mjs'
import { findProgram, Stop } from './lib/install.mjs'

const USAGE = `npm run backup -- FILE.sql.gz

Writes all of Dust Trail's data into one file: sites, events, recordings, what was saved. The server may run meanwhile; the
file holds what was there at the moment at which the backup began. DATABASE_URL names another database than the private one.`

const [given] = process.argv.slice(2)
try {
  if (!given || given.startsWith('-')) throw new Stop(USAGE)
  const file = resolve(given)
  if (existsSync(file))
    throw new Stop(`${file} exists already. Name another file; a backup never replaces one.`)
  await withDatabase(async (url) => {
    const { args, env, database } = clientArguments(url)
    const dump = spawn(
      findProgram('mariadb-dump'),
      [...args, '--single-transaction', '--quick', '--hex-blob', '--max-allowed-packet=512M', database],
      { env, stdio: ['ignore', 'pipe', 'inherit'] },
    )
    const ended = new Promise((settle) => dump.on('exit', settle))
    // Under another name until it is whole: what was cut off is never taken for a backup.
    const part = `${file}.part`
    try {
      await pipeline(dump.stdout, createGzip(), createWriteStream(part))
      if ((await ended) !== 0) throw new Stop('The backup failed: see above.')
      renameSync(part, file)
    } finally {
      rmSync(part, { force: true })
    }
  })
  console.log(`Everything is in ${file}.`)
} catch (error) {
  quitWith(error)
}
