/** From the database to the answer: packing, cold start, sizes, and eight clients over HTTP. */
import { mkdtempSync, rmSync } from 'node:fs'
import type { Sequelize } from 'sequelize'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { Engines } from '../server/src/engine/engines.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { SignalKeeper } from '../server/src/engine/signal-keeper.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { writeSessions } from '../server/src/store/write-sessions.ts'
import { connect, inTransaction } from '../server/src/store/database.ts'
import { migrate } from '../server/src/store/migrations.ts'
import type { Models } from '../server/src/store/models.ts'
import { defineModels } from '../server/src/store/models.ts'
import { readOpenSessions } from '../server/src/store/sessions.ts'
import { addSite, blocksOf, pack, SESSIONS, starters, startServer } from './child/served.ts'
import { LENS } from './child/sessions.ts'
import type { Report } from './report.ts'

export const about = 'packing, cold start, bytes an event, and eight clients over HTTP'

/** Sessions that are stored as rows, to be read as such. */
const AS_ROWS = Math.min(SESSIONS, 20_000)
const CLIENTS = 8
const ASKS = 12
const NO_RULES: never[] = []

/** Reads all blocks as a server does when it starts, and keeps the signals it had to find. */
async function coldStart(sequelize: Sequelize, models: Models) {
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'))
  const failed = (error: unknown) => {
    throw error
  }
  const engines = new Engines(sequelize, models, failed, threads)
  const start = performance.now()
  const { loaded } = await engines.load()
  await loaded
  const ms = performance.now() - start
  const { engine } = engines.get('packed')!
  await new SignalKeeper(sequelize, () => [engine], failed).now()
  await engines.stop()
  await threads.close()
  return { ms, ...engine.size() }
}

export async function run(): Promise<Report> {
  const { startMariadb, freePort } = await starters()
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const database = await startMariadb(folder)
  const sequelize = connect(database.url)
  try {
    await migrate(sequelize)
    const models = defineModels(sequelize)
    const site = await addSite(models, 'packed')
    const packing = await pack(sequelize, site.id)
    const rows = await addSite(models, 'rows')
    const rowsPerS = await writeRows(sequelize, rows)
    const fromRows = await readRows(sequelize, rows.id)
    await sequelize.query(
      'DELETE FROM events WHERE session_id IN (SELECT id FROM sessions WHERE site_id = ?)',
      {
        replacements: [rows.id],
      },
    )
    await sequelize.query('DELETE FROM sessions WHERE site_id = ?', { replacements: [rows.id] })

    // At the first start signals are found and kept, at the next they are read.
    const first = await coldStart(sequelize, models)
    const { ms: coldMs, bytes, events } = await coldStart(sequelize, models)
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
        {
          what: 'first start from blocks, signals are found',
          unit: 's',
          values: [first.ms / 1000],
          goal: null,
        },
        { what: 'cold start from blocks', unit: 's', values: [coldMs / 1000], goal: { atMost: 8 } },
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
  })
  const start = performance.now()
  for await (const rows of readOpenSessions(sequelize, { id: site, origins: [] })) engine.addBlock(rows)
  return (engine.size().events / (performance.now() - start)) * 1000
}

/**
 * A server of its own, asked by one client and by eight: each under a segment of its own, so that no answer is remembered.
 * Alone, each question is about steps that nothing is known of yet; the eight look at the same funnel, round by round.
 */
async function askOverHttp(databaseUrl: string, port: number) {
  const server = await startServer(databaseUrl, port)
  let asked = 0
  const ask = async (round: string) => {
    const start = performance.now()
    const country = { type: 'text', of: 'country', test: { is: 'equal', to: 'AA' } }
    // The same for every one, and yet no two are equal.
    const fresh = { type: 'number', of: 'duration', test: { is: 'at least', to: -1 - asked++ } }
    const response = await fetch(`http://127.0.0.1:${port}/api/v1/sites/packed/funnel`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        lens: { ...LENS, where: { type: 'all', of: [country, fresh] } },
        steps: [0, 2, 5, 7, 11].map((page) => ({
          type: 'event',
          name: `${page}, ${round}`,
          event: { kinds: ['page'], page: { is: 'equal', to: `/p${page}` } },
        })),
        counts: true,
      }),
    })
    if (!response.ok) throw new Error(await response.text())
    await response.arrayBuffer()
    return performance.now() - start
  }
  try {
    for (let i = 0; i < ASKS; i++) await ask(`warm ${i}`)
    const alone: number[] = []
    for (let i = 0; i < ASKS; i++) alone.push(await ask(`alone ${i}`))
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
          for (let i = 0; i < ASKS; i++) times.push(await ask(`together ${i}`))
          return times
        }),
      )
    ).flat()
    busy = false
    await pinging
    together.sort((a, b) => a - b)
    return { alone, p95: together[Math.floor(together.length * 0.95)]!, longestMs }
  } finally {
    await server.stop()
  }
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1]!
}
