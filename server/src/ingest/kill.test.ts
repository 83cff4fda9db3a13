import { fork } from 'node:child_process'
import type { ChildProcess } from 'node:child_process'
import { existsSync } from 'node:fs'
import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { allSessions, exportLines } from '../routes/export.ts'
import { testDatabase } from '../test-database.ts'

const BUILT = 'dist/server.mjs'
let database: Awaited<ReturnType<typeof testDatabase>>
let port = 0
const children: ChildProcess[] = []

beforeAll(async () => {
  if (!existsSync(BUILT)) throw new Error('dist/server.mjs is missing: run npm run build first.')
  database = await testDatabase()
  port = await new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port: free } = probe.address() as AddressInfo
      probe.close(() => resolve(free))
    })
  })
})
afterAll(async () => {
  for (const child of children) child.kill('SIGKILL')
  await database.close()
})

function startServer(): Promise<ChildProcess> {
  const env = {
    ...process.env,
    DATABASE_URL: database.url,
    PORT: String(port),
    HOST: '127.0.0.1',
    LOG_LEVEL: 'silent',
  }
  const child = fork(BUILT, { env })
  children.push(child)
  return new Promise((resolve, reject) => {
    child.on('message', (message: { type: string }) =>
      message.type === 'ready' ? resolve(child) : reject(new Error(JSON.stringify(message))),
    )
    child.on('exit', () => reject(new Error('the server ended before it was ready')))
  })
}

const body = (k: number) =>
  JSON.stringify({
    v: 1,
    site: 'shop',
    visitor: `visitor-${k % 7}`,
    document: `document-${k}`,
    n: 0,
    tab: '',
    startMs: Date.now(),
    sentMs: Date.now(),
    lines: Array.from({ length: 5 }, (_, i) => ({
      t: Date.now() + i,
      kind: 'page',
      url: `/p${i}`,
      id: `${k}.${i}`,
    })),
    items: [{ at: 0, k: 'hide' }],
  })

/** Sends batches, several at a time, until stopped or refused. Returns those that were acknowledged. */
async function send(
  from: number,
  until: () => boolean,
  acknowledgedOne: (count: number) => void,
): Promise<number[]> {
  const acknowledged: number[] = []
  let next = from
  const worker = async () => {
    while (!until()) {
      const k = next++
      try {
        const answer = await fetch(`http://127.0.0.1:${port}/collect`, { method: 'POST', body: body(k) })
        if (answer.status === 204) acknowledgedOne(acknowledged.push(k))
      } catch {
        return
      }
    }
  }
  await Promise.all(Array.from({ length: 6 }, worker))
  return acknowledged
}

it('loses nothing acknowledged and invents nothing when it is killed in the middle of collecting', async () => {
  const acknowledged: number[] = []
  for (let round = 0; round < 3; round++) {
    const server = await startServer()
    let stop = false
    setTimeout(() => (stop = true), 8000)
    // In the middle: some are acknowledged, others under way.
    const kill = (count: number) => count === 15 && server.kill('SIGKILL')
    acknowledged.push(...(await send(round * 100_000, () => stop, kill)))
  }
  expect(acknowledged.length).toBeGreaterThan(30)

  const server = await startServer()
  const health = await fetch(`http://127.0.0.1:${port}/health`)
  expect(await health.json()).toMatchObject({ parts: { database: { ok: true }, threads: { ok: true } } })
  // What the visitor's browser does after a failure: everything once more.
  for (const k of acknowledged) {
    const answer = await fetch(`http://127.0.0.1:${port}/collect`, { method: 'POST', body: body(k) })
    expect(answer.status).toBe(204)
  }
  server.kill('SIGTERM')

  const stored = await database.sequelize.query<{ id: string; n: number }>(
    "SELECT JSON_VALUE(body, '$.id') AS id, COUNT(*) AS n FROM events GROUP BY 1",
    { type: QueryTypes.SELECT },
  )
  const counts = new Map(stored.map(({ id, n }) => [id, Number(n)]))
  for (const k of acknowledged) for (let i = 0; i < 5; i++) expect(counts.get(`${k}.${i}`)).toBe(1)
  expect(Math.max(...counts.values())).toBe(1)
  // Of a batch there is everything or nothing.
  const perBatch = new Map<string, number>()
  for (const id of counts.keys()) perBatch.set(id.split('.')[0]!, (perBatch.get(id.split('.')[0]!) ?? 0) + 1)
  expect(new Set(perBatch.values())).toEqual(new Set([5]))
}, 60_000)

it('takes an import up where it was killed, and ends with every line once', async () => {
  const LINES = 160_000
  const text = Array.from({ length: LINES }, (_, i) =>
    JSON.stringify({
      visitor: `importer-${i % 4000}`,
      t: Date.UTC(2026, 2, 1) + Math.floor(i / 4000) * 60_000,
      kind: 'page',
      url: `/i${i % 9}`,
    }),
  ).join('\n')
  const about = async (id: number) =>
    (await (await fetch(`http://127.0.0.1:${port}/api/v1/sites/shop/imports/${id}`)).json()) as {
      state: string
      progress: { good: number; repeated: number }
    }
  const stored = async () => {
    const ids = await allSessions(database.sequelize, database.site.id)
    const lines: string[] = []
    for await (const part of exportLines(database.sequelize, ids)) lines.push(...part.split('\n'))
    return lines.filter((line) => line.includes('"importer-'))
  }
  let server = await startServer()
  const answer = await fetch(
    `http://127.0.0.1:${port}/api/v1/sites/shop/imports?name=many.ndjson&kind=clickstream`,
    { method: 'POST', body: text, headers: { 'content-type': 'application/octet-stream' } },
  )
  const { id } = (await answer.json()) as { id: number }
  await expect
    .poll(async () => (await about(id)).progress.good, { timeout: 30_000, interval: 10 })
    .toBeGreaterThan(0)
  server.kill('SIGKILL')
  expect((await stored()).length).toBeLessThan(LINES)

  server = await startServer()
  await expect.poll(async () => (await about(id)).state, { timeout: 60_000 }).toBe('done')
  const { progress } = await about(id)
  expect(progress.good + progress.repeated).toBe(LINES)
  const all = await stored()
  expect([all.length, new Set(all).size]).toEqual([LINES, LINES])
  server.kill('SIGTERM')
}, 120_000)
