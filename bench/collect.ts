/** Collecting: batches a second, how long they wait, how long a small answer waits meanwhile, and memory under steady load. */
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { quantile } from '../core/src/index.ts'
import { connect } from '../server/src/store/database.ts'
import { migrate } from '../server/src/store/migrations.ts'
import { defineModels } from '../server/src/store/models.ts'
import { addSite, starters, startServer } from './child/served.ts'
import type { Report } from './report.ts'

export const about =
  'batches a second of 50 clients, their waits, and memory under steady load (BENCH_STEADY_MIN, 60)'

const CLIENTS = 50
const FULL_S = 20
const STEADY_MIN = Number(process.env['BENCH_STEADY_MIN'] ?? 60)

interface Seen {
  acknowledged: number
  failed: number
  rate: number
  p99: number
}

export async function run(): Promise<Report> {
  const { startMariadb, freePort } = await starters()
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const database = await startMariadb(folder)
  const sequelize = connect(database.url)
  try {
    await migrate(sequelize)
    await addSite(defineModels(sequelize), 'shop')
    const port = await freePort()
    const server = await startServer(database.url, port)
    const clients = (seconds: number, perSecond: number) => collect(port, seconds, perSecond)
    await clients(5, 0)
    const full: Seen[] = []
    for (let i = 0; i < 3; i++) full.push(await clients(FULL_S, 0))
    const half = Math.floor(
      quantile(
        full.map(({ rate }) => rate).sort((a, b) => a - b),
        0.5,
      )! / 2,
    )
    const waiting = watchSmall(port)
    const memory = watchMemory(port)
    const steady = await clients(STEADY_MIN * 60, half)
    const small = await waiting()
    const bytes = await memory()
    await server.stop()
    const quarter = (k: number) => {
      const part = bytes.slice(Math.floor((bytes.length * k) / 4), Math.floor((bytes.length * (k + 1)) / 4))
      return part.reduce((a, b) => a + b, 0) / part.length
    }
    return {
      name: 'collect',
      data: `${CLIENTS} clients, batches of 6 lines and 12 steps of a recording; then ${half} a second for ${STEADY_MIN} minutes`,
      figures: [
        {
          what: 'batches acknowledged',
          unit: '/s',
          values: full.map(({ rate }) => rate),
          goal: { atLeast: 600 },
        },
        {
          what: 'wait of a batch, p99',
          unit: 'ms',
          values: full.map(({ p99 }) => p99),
          goal: { atMost: 200 },
        },
        {
          what: 'not acknowledged',
          unit: 'batches',
          values: [...full, steady].map(({ failed }) => failed),
          goal: { atMost: 0 },
        },
        { what: 'under steady load: p99', unit: 'ms', values: [steady.p99], goal: null },
        {
          what: 'longest wait of a small answer meanwhile',
          unit: 'ms',
          values: [Math.max(...small)],
          goal: { atMost: 50 },
        },
        {
          what: 'and of 99 in 100',
          unit: 'ms',
          values: [
            quantile(
              small.sort((a, b) => a - b),
              0.99,
            )!,
          ],
          goal: null,
        },
        { what: 'memory, last quarter of the time', unit: 'MB', values: [quarter(3) / 2 ** 20], goal: null },
        {
          what: 'of that in the second quarter',
          unit: '×',
          values: [quarter(3) / quarter(1)],
          goal: { atMost: 1.05 },
        },
      ],
    }
  } finally {
    await sequelize.close()
    await database.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

function collect(port: number, seconds: number, perSecond: number): Promise<Seen> {
  const child = spawn(
    process.execPath,
    ['--import', 'tsx', 'bench/child/collectors.ts', ...[port, CLIENTS, seconds, perSecond].map(String)],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  )
  let out = ''
  child.stdout.on('data', (data: Buffer) => (out += data.toString()))
  return new Promise((resolve, reject) =>
    child.on('exit', (code) =>
      code === 0 ? resolve(JSON.parse(out) as Seen) : reject(new Error('the clients failed')),
    ),
  )
}

/** Asks for something small again and again; resolves, when it is stopped, to how long each took. */
function watchSmall(port: number): () => Promise<number[]> {
  const waits: number[] = []
  let stopped = false
  const done = (async () => {
    while (!stopped) {
      const start = performance.now()
      await (await fetch(`http://127.0.0.1:${port}/health/live`)).text()
      waits.push(performance.now() - start)
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  })()
  return async () => {
    stopped = true
    await done
    return waits
  }
}

/** Reads how much memory the server takes every few seconds. */
function watchMemory(port: number): () => Promise<number[]> {
  const bytes: number[] = []
  let stopped = false
  const done = (async () => {
    while (!stopped) {
      const text = await (await fetch(`http://127.0.0.1:${port}/metrics`)).text()
      bytes.push(Number(/^process_resident_memory_bytes (\S+)/m.exec(text)![1]))
      await new Promise((resolve) => setTimeout(resolve, 2000))
    }
  })()
  return async () => {
    stopped = true
    await done
    return bytes
  }
}
