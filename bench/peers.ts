import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { createConnection } from 'mariadb'

/** Where what only benchmarks need is installed. */
export const PEERS = resolve('.data/bench-peers')
const DUCKDB = '1.5.6-r.1'

/** The few calls of the peer that are used here. */
export interface DuckConnection {
  run(sql: string): Promise<unknown>
  runAndReadAll(sql: string): Promise<{ getRowsJS(): unknown[][] }>
}

/** Installs packages outside of the project where they are not there yet: they are needed here alone. */
export function installPeers(packages: readonly string[]): void {
  const missing = packages.filter(
    (name) => !existsSync(join(PEERS, 'node_modules', name.replace(/@[^@]*$/, ''), 'package.json')),
  )
  if (!missing.length) return
  mkdirSync(PEERS, { recursive: true })
  if (!existsSync(join(PEERS, 'package.json'))) writeFileSync(join(PEERS, 'package.json'), '{"private":true}')
  const done = spawnSync('npm', ['install', '--no-audit', '--no-fund', '--ignore-scripts', ...missing], {
    cwd: PEERS,
    stdio: 'inherit',
  })
  if (done.status !== 0) throw new Error(`${missing.join(', ')} could not be installed`)
}

export async function duckdb(threads: number): Promise<DuckConnection> {
  installPeers([`@duckdb/node-api@${DUCKDB}`])
  const entry = join(PEERS, 'node_modules/@duckdb/node-api/lib/index.js')
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
