import type { ChildProcess } from 'node:child_process'
import { fork } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/*
 * Kills what collects, at random instants under load, and counts what is left: for tests and for the benchmark "faults".
 */

export interface FaultRun {
  faults: Record<'server' | 'database', number>
  /** batches that were acknowledged, and those of them that are missing or not whole */
  acknowledged: number
  missing: number
  /** lines that are there more than once, or that nobody sent */
  twice: number
  invented: number
  /** sessions and events that the answers count, and that an independent count of what was acknowledged comes to */
  answered: { sessions: number; events: number }
  counted: { sessions: number; events: number }
  /** longest time from a fault until something was acknowledged again */
  longestMs: number
}

const LINES = 4
const VISITORS = 12

interface Started {
  url: string
  stop: () => Promise<void>
}

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo
      probe.close(() => resolve(port))
    })
  })
}

const sleep = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

/** @param faults  how many processes are killed */
export async function runFaults(faults: number): Promise<FaultRun> {
  // @ts-expect-error a plain script without types
  const { startMariadb } = (await import('../../../scripts/lib/mariadb.mjs')) as {
    startMariadb: (folder: string) => Promise<Started>
  }
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-faults-'))
  const database = await startMariadb(folder)
  const port = await freePort()
  const address = `http://127.0.0.1:${port}`
  let server: ChildProcess | undefined
  let over = false
  const launch = () => {
    const env = {
      ...process.env,
      DATABASE_URL: database.url,
      PORT: String(port),
      HOST: '127.0.0.1',
      LOG_LEVEL: 'silent',
    }
    server = fork('dist/server.mjs', { env: { ...env, IMPORT_FOLDER: join(folder, 'imports') } })
    server.on('exit', () => {
      if (!over) setTimeout(launch, 200)
    })
  }
  const call = async (path: string, body: string) => {
    try {
      const answer = await fetch(address + path, {
        method: 'POST',
        body,
        headers: { 'content-type': path.startsWith('/collect') ? 'text/plain' : 'application/json' },
        signal: AbortSignal.timeout(20_000),
      })
      return { status: answer.status, text: await answer.text() }
    } catch {
      return { status: 0, text: '' }
    }
  }
  const until = async (path: string, body: string, wanted: number) => {
    for (let tries = 0; tries < 600; tries++) {
      const answer = await call(path, body)
      if (answer.status === wanted) return answer.text
      await sleep(100)
    }
    throw new Error(`${path} was not answered`)
  }
  try {
    launch()
    const about = { name: 'Shop', origins: [], timeZone: 'UTC', currency: 'EUR', sessionLimitMin: 30 }
    const { key } = JSON.parse(await until('/api/v1/sites', JSON.stringify(about), 200)) as { key: string }
    const acknowledged = new Set<number>()
    let lastMs = performance.now()
    let longestMs = 0
    let next = 0
    let stop = false
    const startedMs = Date.now()
    const bodyOf = (k: number) =>
      JSON.stringify({
        ...{
          v: 1,
          site: key,
          visitor: `visitor-${k % VISITORS}`,
          document: `document-${k}`,
          n: 0,
          tab: '',
        },
        ...{ startMs: startedMs, sentMs: Date.now(), items: [{ at: 0, k: 'hide' }] },
        lines: Array.from({ length: LINES }, (_, i) => ({
          ...{ t: Date.now() - i, kind: 'page', url: `/p${i}`, id: `${k}.${i}` },
        })),
      })
    const client = async () => {
      while (!stop) {
        const k = next++
        const body = bodyOf(k)
        // As the script does: kept and sent again until it is acknowledged.
        for (;;) {
          const { status } = await call(`/collect?site=${key}`, body)
          if (status === 204) break
          if (stop) return
          await sleep(150)
        }
        acknowledged.add(k)
        const nowMs = performance.now()
        longestMs = Math.max(longestMs, nowMs - lastMs)
        lastMs = nowMs
        await sleep(5)
      }
    }
    const clients = Array.from({ length: 6 }, client)
    const killed = { server: 0, database: 0 }
    for (let n = 0; n < faults; n++) {
      const before = acknowledged.size
      for (let tries = 0; acknowledged.size < before + 10 && tries < 600; tries++) await sleep(50)
      await sleep(Math.random() * 400)
      if (n % 3 === 2) {
        killed.database++
        process.kill(Number(readFileSync(join(folder, 'mariadb.pid'), 'utf8')), 'SIGKILL')
      } else {
        killed.server++
        server!.kill('SIGKILL')
      }
    }
    const before = acknowledged.size
    for (let tries = 0; acknowledged.size < before + 20 && tries < 1200; tries++) await sleep(50)
    stop = true
    await Promise.all(clients)
    const day = (ms: number) => new Date(ms).toISOString().slice(0, 10)
    const lens = { from: day(startedMs), to: day(Date.now()), devices: [] }
    const ids = new Map<string, number>()
    // Data that has just come is in the answers within two seconds.
    await sleep(2500)
    const exported = await fetch(`${address}/api/v1/sites/${key}/export.ndjson`)
    for (const text of (await exported.text()).split('\n').filter(Boolean)) {
      const { id } = JSON.parse(text) as { id: string }
      ids.set(id, (ids.get(id) ?? 0) + 1)
    }
    const whole = (k: number) =>
      Array.from({ length: LINES }, (_, i) => ids.get(`${k}.${i}`)).every((n) => n !== undefined)
    const everyone = { type: 'everyone' }
    const size = JSON.parse(
      await until(`/api/v1/sites/${key}/size`, JSON.stringify({ lens, selection: everyone }), 200),
    ) as {
      hits: number
    }
    const views = JSON.parse(await until(`/api/v1/sites/${key}/urls`, JSON.stringify({ lens }), 200)) as {
      views: number
    }[]
    return {
      faults: killed,
      acknowledged: acknowledged.size,
      missing: [...acknowledged].filter((k) => !whole(k)).length,
      twice: [...ids.values()].filter((n) => n > 1).length,
      invented: [...ids.keys()].filter((id) => !(Number(id.split('.')[0]) < next)).length,
      answered: { sessions: size.hits, events: views.reduce((sum, one) => sum + one.views, 0) },
      // All lines lie within minutes: one session for each visitor.
      counted: { sessions: Math.min(VISITORS, acknowledged.size), events: ids.size },
      longestMs: Math.round(longestMs),
    }
  } finally {
    over = true
    server?.kill('SIGKILL')
    await database.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}
