// npm run restore -- FILE.sql.gz: puts a backup in place of what is stored. Plain Node.
import { spawn } from 'node:child_process'
import { createReadStream, existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { createGunzip } from 'node:zlib'
import { clientArguments, quitWith, withDatabase } from './lib/database.mjs'
import { findProgram, Stop } from './lib/install.mjs'

const USAGE = `npm run restore -- FILE.sql.gz [--replace]

Puts the data of a backup into the database. What is there already is replaced only with --replace, and while no server
works on it. DATABASE_URL names another database than the private one.`

const args = process.argv.slice(2)
const given = args.find((arg) => !arg.startsWith('-'))
try {
  if (!given) throw new Stop(USAGE)
  const file = resolve(given)
  if (!existsSync(file)) throw new Stop(`There is no file ${file}.`)
  // Read once to its end: a backup that is cut short must not replace anything.
  await pipeline(createReadStream(file), createGunzip(), async (parts) => {
    let last = ''
    for await (const part of parts) last = (last + part.toString('latin1')).slice(-400)
    if (!/-- Dump completed/.test(last)) throw new Stop(`${file} is not a whole backup: its end is missing.`)
  }).catch((error) => {
    throw error instanceof Stop ? error : new Stop(`${file} cannot be read: ${error.message}`)
  })
  await withDatabase(async (url) => {
    const { args: client, env, database } = clientArguments(url)
    const run = (more, input) => query(client, env, [...more, database], input)
    const lock = `dust-trail ${database.slice(0, 50)}`
    if ((await run(['-N', '-e', `SELECT IS_USED_LOCK('${lock}') IS NULL`])).trim() !== '1')
      throw new Stop('A server works on this database. Stop it first.')
    const tables = (await run(['-N', '-e', 'SHOW TABLES'])).trim().split('\n').filter(Boolean)
    if (tables.includes('sites') && (await run(['-N', '-e', 'SELECT COUNT(*) FROM sites'])).trim() !== '0') {
      if (!args.includes('--replace'))
        throw new Stop(
          'The database holds data. Give --replace to put the backup in its place, or name another database.',
        )
    }
    if (tables.length)
      await run([
        '-e',
        `SET FOREIGN_KEY_CHECKS=0; DROP TABLE ${tables.map((table) => `\`${table}\``).join(', ')}`,
      ])
    await run(['--max-allowed-packet=512M'], createReadStream(file).pipe(createGunzip()))
  })
  console.log('The backup is in place. Start with npm start.')
} catch (error) {
  quitWith(error)
}

/** Runs the client; resolves to what it says. */
async function query(client, env, more, input) {
  const child = spawn(findProgram('mariadb'), [...client, ...more], {
    env,
    stdio: [input ? 'pipe' : 'ignore', 'pipe', 'inherit'],
  })
  let said = ''
  child.stdout.on('data', (part) => (said += part))
  const ended = new Promise((settle) => child.on('exit', settle))
  if (input) await pipeline(input, child.stdin)
  if ((await ended) !== 0) throw new Stop('The database refused: see above. Nothing else was changed.')
  return said
}
