/** From the database to the answer: packing, cold start, sizes, and eight clients over HTTP. */
import { fork } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { deflate } from 'node:zlib'
import type { LooseBlock, SessionRow } from '../core/src/index.ts'
import { buildLoose, Dictionaries, encodeBlock } from '../core/src/index.ts'
import { Engines } from '../server/src/engine/engines.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { writeSessions } from '../server/src/store/bulk.ts'
import { connect, inTransaction } from '../server/src/store/database.ts'
import { migrate } from '../server/src/store/migrations.ts'
import { defineModels } from '../server/src/store/models.ts'
import { readOpenSessions } from '../server/src/store/sessions.ts'
import { LENS, makeSession, rowOf } from './child/sessions.ts'
import type { Report } from './report.ts'

export const about = 'packing, cold start, bytes an event, and eight clients over HTTP'

const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 1_000_000)
/** Sessions that are stored as rows, to be read as such. */
const AS_ROWS = Math.min(SESSIONS, 20_000)
const BLOCK = 4096
const CLIENTS = 8
const ASKS = 12
const NO_RULES: never[] = []
const squeeze = promisify(deflate) as (data: Uint8Array, options: object) => Promise<Buffer>

export async function run(): Promise<Report> {
  // @ts-expect-error a plain script without types
  const { startMariadb, freePort } = (await import('../scripts/lib/mariadb.mjs')) as {
    startMariadb: (folder: string) => Promise<{ url: string; stop: () => Promise<void> }>
    freePort: () => Promise<number>
  }
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const database = await startMariadb(folder)
  const sequelize = connect(database.url)
  try {
    await migrate(sequelize)
    const models = defineModels(sequelize)
    const add = (key: string) =>
      models.sites.create({
        key,
        name: key,
        origins: [],
        timeZone: 'UTC',
        currency: 'EUR',
        sessionLimitMin: 30,
        goal: '',
        retentionDays: null,
        recordingDays: null,
        pageGroups: [],
      })
    const site = (await add('packed')).get({ plain: true })
    const packing = await pack(sequelize, site.id)
    const rows = (await add('rows')).get({ plain: true })
    const rowsPerS = await writeRows(sequelize, rows)
    const fromRows = await readRows(sequelize, rows.id)
    await sequelize.query(
      'DELETE FROM events WHERE session_id IN (SELECT id FROM sessions WHERE site_id = ?)',
      {
        replacements: [rows.id],
      },
    )
    await sequelize.query('DELETE FROM sessions WHERE site_id = ?', { replacements: [rows.id] })

    const engines = new Engines(sequelize, models, (error) => {
      throw error
    })
    const start = performance.now()
    const { loaded } = await engines.load()
    await loaded
    const coldMs = performance.now() - start
    const { bytes, events } = engines.get('packed')!.engine.size()
    const http = await askOverHttp(database.url, await freePort())
    return {
      name: 'store',
      data: `${SESSIONS} sessions, ${events} events of kind, time, page and target in blocks; ${AS_ROWS} sessions as rows`,
      figures: [
        { what: 'rows written', unit: 'rows/s', values: [rowsPerS], goal: null },
        {
          what: 'blocks encoded, compressed and stored',
          unit: 'events/s',
          values: packing.rates,
          goal: { atLeast: 1_000_000 },
        },
        { what: 'stored, all columns', unit: 'bytes/event', values: [packing.bytes], goal: { atMost: 8 } },
        {
          what: 'stored, kind, time and page',
          unit: 'bytes/event',
          values: [packing.bytesOfThree],
          goal: { atMost: 2.5 },
        },
        {
          what: 'in memory, with indexes',
          unit: 'bytes/event',
          values: [bytes / events],
          goal: { atMost: 24 },
        },
        { what: 'cold start from blocks', unit: 's', values: [coldMs / 1000], goal: null },
        { what: 'cold start from blocks', unit: 'events/s', values: [(events / coldMs) * 1000], goal: null },
        { what: 'the same from rows', unit: 'events/s', values: [fromRows], goal: null },
        {
          what: 'blocks, times as fast as rows',
          unit: '×',
          values: [((events / coldMs) * 1000) / fromRows],
          goal: { atLeast: 10 },
        },
        { what: 'funnel under a segment over HTTP, alone', unit: 'ms', values: http.alone, goal: null },
        { what: `the same with ${CLIENTS} clients, p95`, unit: 'ms', values: [http.p95], goal: null },
        {
          what: 'p95 of eight, of its time alone',
          unit: '×',
          values: [http.p95 / median(http.alone)],
          goal: { atMost: 6 },
        },
        {
          what: 'longest wait for a small answer meanwhile',
          unit: 'ms',
          values: [http.longestMs],
          goal: { atMost: 50 },
        },
      ],
    }
  } finally {
    await sequelize.close()
    await database.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

type Database = ReturnType<typeof connect>

function* blocksOf(sessions: number): Generator<SessionRow[]> {
  for (let from = 0; from < sessions; from += BLOCK)
    yield Array.from({ length: Math.min(BLOCK, sessions - from) }, (_, i) =>
      rowOf(from + i, makeSession(from + i)),
    )
}

/** Stores blocks as the packer does; what it costs to make the sessions up is not counted. */
async function pack(sequelize: Database, site: number) {
  const rates: number[] = []
  let events = 0
  let stored = 0
  let ofThree = 0
  for (const rows of blocksOf(SESSIONS)) {
    const dictionaries = new Dictionaries()
    const block = buildLoose(rows, dictionaries)
    const start = performance.now()
    const columns = await squeeze(encodeBlock(block, dictionaries), { level: 1 })
    const checksum = createHash('sha256').update(columns).digest('hex')
    await sequelize.query(
      'INSERT INTO blocks (site_id, sessions, events, checksum, `columns`) VALUES (?, ?, ?, ?, ?)',
      {
        replacements: [site, rows.length, block.events.count, checksum, columns],
      },
    )
    rates.push((block.events.count / (performance.now() - start)) * 1000)
    events += block.events.count
    stored += columns.length
    const sizeOf = async (known: readonly string[]) =>
      (await squeeze(encodeBlock(only(block, known), dictionaries), { level: 1 })).length
    ofThree += (await sizeOf(['kind', 'atMs', 'page'])) - (await sizeOf([]))
  }
  return { rates, bytes: stored / events, bytesOfThree: ofThree / events }
}

/** The block with nothing known of its events but some columns. */
function only(block: LooseBlock, known: readonly string[]): LooseBlock {
  const events = Object.fromEntries(
    Object.entries(block.events).map(([name, column]) => [
      name,
      typeof column === 'number' || known.includes(name) ? column : column.slice().fill(0),
    ]),
  )
  return { ...block, events: events as unknown as LooseBlock['events'] }
}

async function writeRows(sequelize: Database, site: Parameters<typeof writeSessions>[1]): Promise<number> {
  let ms = 0
  let events = 0
  for (const rows of blocksOf(AS_ROWS)) {
    const start = performance.now()
    await inTransaction(sequelize, (connection) =>
      writeSessions(
        connection,
        site,
        rows.map(({ visitor, lines }) => ({ visitor, lines: [...lines], documents: [] })),
      ),
    )
    ms += performance.now() - start
    for (const { lines } of rows) events += lines.length
  }
  return (events / ms) * 1000
}

/** Events a second when sessions are read as rows and made into blocks. */
async function readRows(sequelize: Database, site: number): Promise<number> {
  const engine = new SiteEngine({
    key: 'rows',
    rules: () => NO_RULES,
    timeZone: () => 'UTC',
    limitMs: () => 1_800_000,
  })
  const start = performance.now()
  for await (const rows of readOpenSessions(sequelize, site)) engine.addBlock(rows)
  return (engine.size().events / (performance.now() - start)) * 1000
}

/** A server of its own, asked by one client and by eight; each question is a new one, so that none is remembered. */
async function askOverHttp(databaseUrl: string, port: number) {
  const server = fork('dist/server.mjs', {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: String(port) },
  })
  await new Promise<void>((resolve) =>
    server.on('message', (message: { type: string }) => {
      if (message.type === 'loaded') resolve()
    }),
  )
  let asked = 0
  const ask = async () => {
    const start = performance.now()
    const country = { type: 'text', of: 'country', test: { is: 'equal', to: 'AA' } }
    // The same for every one, and yet no two are equal.
    const fresh = { type: 'number', of: 'duration', test: { is: 'at least', to: -1 - asked++ } }
    const response = await fetch(`http://127.0.0.1:${port}/api/v1/sites/packed/funnel`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        lens: { ...LENS, where: { type: 'all', of: [country, fresh] } },
        steps: [0, 2, 5, 7, 11].map((page) => ({ type: 'page', page: `/p${page}` })),
        counts: true,
      }),
    })
    if (!response.ok) throw new Error(await response.text())
    await response.arrayBuffer()
    return performance.now() - start
  }
  try {
    for (let i = 0; i < ASKS; i++) await ask()
    const alone: number[] = []
    for (let i = 0; i < ASKS; i++) alone.push(await ask())
    let busy = true
    let longestMs = 0
    const pinging = (async () => {
      while (busy) {
        const start = performance.now()
        await (await fetch(`http://127.0.0.1:${port}/mark.svg`)).arrayBuffer()
        longestMs = Math.max(longestMs, performance.now() - start)
        await new Promise((resolve) => setTimeout(resolve, 10))
      }
    })()
    const together = (
      await Promise.all(
        Array.from({ length: CLIENTS }, async () => {
          const times: number[] = []
          for (let i = 0; i < ASKS; i++) times.push(await ask())
          return times
        }),
      )
    ).flat()
    busy = false
    await pinging
    together.sort((a, b) => a - b)
    return { alone, p95: together[Math.floor(together.length * 0.95)]!, longestMs }
  } finally {
    const gone = new Promise((resolve) => server.on('exit', resolve))
    server.kill('SIGTERM')
    await gone
  }
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1]!
}
