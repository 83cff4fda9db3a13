import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { createConnection } from 'mariadb'

const FOLDER = resolve('.data/bench-peers')
const DUCKDB = '1.5.6-r.1'

/** The few calls of the peer that are used here. */
export interface DuckConnection {
  run(sql: string): Promise<unknown>
  runAndReadAll(sql: string): Promise<{ getRowsJS(): unknown[][] }>
}

/** Installs DuckDB outside of the project where it is not there yet: it is needed here alone. */
export async function duckdb(threads: number): Promise<DuckConnection> {
  const entry = join(FOLDER, 'node_modules/@duckdb/node-api/lib/index.js')
  if (!existsSync(entry)) {
    mkdirSync(FOLDER, { recursive: true })
    writeFileSync(join(FOLDER, 'package.json'), '{"private":true}')
    const done = spawnSync('npm', ['install', '--no-audit', '--no-fund', `@duckdb/node-api@${DUCKDB}`], {
      cwd: FOLDER,
      stdio: 'inherit',
    })
    if (done.status !== 0) throw new Error('DuckDB could not be installed')
  }
  const { DuckDBInstance } = (await import(pathToFileURL(entry).href)) as {
    DuckDBInstance: { create(path: string): Promise<{ connect(): Promise<DuckConnection> }> }
  }
  const connection = await (await DuckDBInstance.create(':memory:')).connect()
  await connection.run(`SET threads = ${threads}`)
  return connection
}

/** A connection of its own to MariaDB, which may load local files. */
export function mariadb(url: string) {
  const at = new URL(url)
  return createConnection({
    host: at.hostname,
    port: Number(at.port),
    user: at.username,
    password: at.password,
    database: at.pathname.slice(1),
    permitLocalInfile: true,
  })
}
