import { createReadStream, createWriteStream, writeFileSync } from 'node:fs'
import { once } from 'node:events'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import type { SessionRow } from '../../core/src/index.ts'
import type { SiteEngine } from '../../server/src/engine/site-engine.ts'
import { makeSession, rowOf } from './sessions.ts'
import { duckdb, mariadb } from '../peers.ts'
export const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 1_000_000)

const NO_RULES: never[] = []

export const SOURCE = { rules: () => NO_RULES, timeZone: () => 'UTC' }

export const BLOCK = 4096

/** Makes the sessions, gives them to the engine, and writes them for the peers. */
export async function generate(engine: SiteEngine, folder: string): Promise<number> {
  const plain = createWriteStream(join(folder, 'events.csv'))
  const sessions = createWriteStream(join(folder, 'sessions.csv'))
  let events = 0
  for (let from = 0; from < SESSIONS; from += BLOCK) {
    const rows: SessionRow[] = []
    let lines = ''
    let about = ''
    for (let id = from; id < Math.min(SESSIONS, from + BLOCK); id++) {
      const made = makeSession(id)
      rows.push(rowOf(id, made))
      about += `${id},${made.device},${made.country}\n`
      made.events.forEach(({ ms, kind, page, target }, ord) => {
        lines += `${id},${ord},${ms},${kind},${page},${target}\n`
      })
      events += made.events.length
    }
    engine.addBlock(rows)
    sessions.write(about)
    if (!plain.write(lines)) await once(plain, 'drain')
  }
  await Promise.all([plain, sessions].map((stream) => new Promise((resolve) => stream.end(resolve))))
  return events
}

export async function fillDuck(duck: Awaited<ReturnType<typeof duckdb>>, folder: string): Promise<void> {
  const columns =
    "{'session':'INTEGER','ord':'SMALLINT','ms':'INTEGER','kind':'TINYINT','page':'SMALLINT','target':'SMALLINT'}"
  await duck.run(
    `CREATE TABLE e AS SELECT * FROM read_csv('${join(folder, 'events.csv')}', header = false, columns = ${columns})`,
  )
  const about = "{'session':'INTEGER','device':'TINYINT','country':'TINYINT'}"
  await duck.run(
    `CREATE TABLE s AS SELECT * FROM read_csv('${join(folder, 'sessions.csv')}', header = false, columns = ${about})`,
  )
  await duck.run(
    `CREATE TABLE p AS SELECT s.session, s.device, s.country, c.codes FROM s JOIN
     (SELECT session, list(CASE WHEN kind = 0 THEN page + 1 ELSE 0 END ORDER BY ord) AS codes FROM e GROUP BY session) c ON c.session = s.session ORDER BY s.session`,
  )
}

export async function fillMaria(url: string, folder: string) {
  const connection = await mariadb(url)
  await connection.query(
    'CREATE TABLE e (session INT, ord SMALLINT, ms INT, kind TINYINT, page SMALLINT, target SMALLINT, PRIMARY KEY (session, ord))',
  )
  await connection.query('CREATE TABLE s (session INT PRIMARY KEY, device TINYINT, country TINYINT)')
  // The driver sends a file as one packet, which the server limits: so rows go in several files.
  for (const [table, file] of [
    ['e', 'events.csv'],
    ['s', 'sessions.csv'],
  ] as const) {
    let part = ''
    const flush = async () => {
      if (!part) return
      const name = join(folder, 'part.csv')
      writeFileSync(name, part)
      part = ''
      await connection.query(`LOAD DATA LOCAL INFILE ? INTO TABLE ${table} FIELDS TERMINATED BY ','`, [name])
    }
    for await (const line of createInterface({ input: createReadStream(join(folder, file)) })) {
      part += `${line}\n`
      if (part.length > 12_000_000) await flush()
    }
    await flush()
  }
  await connection.query('ALTER TABLE e ADD KEY by_page (kind, page, session, ord)')
  await connection.query('ANALYZE TABLE e, s')
  return connection
}

/** A plain sum over what a funnel must look at: kind and page of every event. */
export function floorOf(engine: SiteEngine): () => number {
  const blocks = engine.blocks()
  return () => {
    let sum = 0
    for (const { events } of blocks) {
      const { kind, page, count } = events
      for (let i = 0; i < count; i++) sum += kind[i]! + page[i]!
    }
    return sum
  }
}
