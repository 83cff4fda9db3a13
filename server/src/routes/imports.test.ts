import { writeFile, mkdtemp, access } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { gzipSync } from 'node:zlib'
import type { Import, Preview } from '@dust-trail/api'
import type { Express } from 'express'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import type { ImportJobs } from '../import/jobs.ts'
import { testApp, testDatabase } from '../test-database.ts'

// Each import starts a thread of its own, which takes its time on a busy machine.
vi.setConfig({ testTimeout: 60_000 })

const T = Date.UTC(2026, 5, 1, 12)
const lens = { from: '2026-06-01', to: '2026-06-01', devices: [] }
const path = '/api/v1/sites/shop/imports'

let database: Awaited<ReturnType<typeof testDatabase>>
let engines: Engines
let jobs: ImportJobs
let app: Express

beforeAll(async () => {
  database = await testDatabase()
  ;({ app, engines, jobs } = await testApp(database))
})
afterAll(async () => {
  await jobs.close()
  await engines.stop()
  await database.close()
})

/** Sessions of one view each. */
const clickstream = (from: number, count: number) =>
  Array.from({ length: count }, (_, k) =>
    JSON.stringify({ visitor: `v${from + k}`, t: T + k, kind: 'page', url: '/' }),
  ).join('\n')

const preview = async (body: string | Buffer) =>
  (
    await request(app)
      .post(`${path}/preview`)
      .set('content-type', 'application/octet-stream')
      .send(body)
      .expect(200)
  ).body as Preview

const upload = (body: string | Buffer, query: object = { name: 'a file' }) =>
  request(app).post(path).query(query).set('content-type', 'application/octet-stream').send(body)

const stateOf = async (id: number) => (await request(app).get(`${path}/${id}`).expect(200)).body as Import

const ended = async (body: string | Buffer, query?: object) => {
  const { id } = (await upload(body, query).expect(202)).body as Import
  await expect.poll(async () => (await stateOf(id)).endedMs, { timeout: 30_000 }).not.toBeNull()
  return stateOf(id)
}

const sessionsOf = async (where: object = {}) =>
  (
    (
      await request(app)
        .post('/api/v1/sites/shop/funnel')
        .send({ lens: { ...lens, ...where }, steps: [{ type: 'page', page: '/' }] })
        .expect(200)
    ).body as { sessions: number }
  ).sessions

describe('a file that is looked at', () => {
  it('is known for what it is, zipped or not, and nothing of it stays', async () => {
    const text = clickstream(0, 30)
    for (const body of [text, gzipSync(text)]) {
      const seen = await preview(body)
      expect(seen).toMatchObject({ kind: 'clickstream', mapping: null, header: [] })
      expect(seen.lines).toHaveLength(20)
    }
    expect(await sessionsOf()).toBe(0)
  })
  it('with columns of other names comes with a proposal of what they are', async () => {
    const seen = await preview('user_id;timestamp;page\nann;2026-06-01T12:00:00Z;/\n')
    expect(seen).toMatchObject({ kind: 'csv', header: ['user_id', 'timestamp', 'page'] })
    expect(seen.mapping).not.toBeNull()
  })
  it('of no known kind is described', async () => {
    const seen = await preview('<!doctype html><p>Hello</p>')
    expect(seen.kind).toBeNull()
    expect(seen.looksLike).not.toBe('')
  })
})

describe('a file that is taken in', () => {
  it('is counted, named in the list, and its sessions are in the next answer', async () => {
    const done = await ended(`${clickstream(0, 50)}\nnot json\n`, { name: 'june.ndjson' })
    expect(done).toMatchObject({
      ...{ name: 'june.ndjson', kind: 'clickstream', state: 'done' },
      progress: { good: 50, bad: 1 },
    })
    expect(done.problems[0]).toMatchObject({ line: 51 })
    await expect.poll(() => sessionsOf(), { timeout: 30_000 }).toBe(50)
    const listed = (await request(app).get(path).expect(200)).body as Import[]
    expect(listed[0]).toMatchObject({ id: done.id, name: 'june.ndjson' })
    const problems = await request(app).get(`${path}/${done.id}/problems.ndjson`).expect(200)
    expect(problems.headers['content-disposition']).toContain(`problems-${done.id}.ndjson`)
  })
  it('adds nothing the second time', async () => {
    const again = await ended(clickstream(0, 50), { name: 'june.ndjson' })
    expect(again.progress).toMatchObject({ good: 0, repeated: 50 })
    expect(await sessionsOf()).toBe(50)
  })
  it('can be told which column is what', async () => {
    const mapping = { columns: { visitor: 'who', t: 'when', url: 'where' }, constants: { kind: 'page' } }
    const body = `who,when,where\nzoe,${T},/\n`
    const done = await ended(body, { name: 'c.csv', kind: 'csv', mapping: JSON.stringify(mapping) })
    expect(done).toMatchObject({ state: 'done', mapping, progress: { good: 1 } })
    const zoe = { type: 'text', of: 'visitor', test: { is: 'equal', to: 'zoe' } }
    await expect.poll(() => sessionsOf({ where: zoe }), { timeout: 30_000 }).toBe(1)
  })
  it('may part its columns by semicolons or tabs', async () => {
    for (const [k, delimiter] of [';', '\t'].entries()) {
      const lines = [
        ['user_id', 'timestamp', 'page'],
        [`half ${k}, or so`, '2026-06-01T12:00:00Z', '/'],
      ]
      const body = lines.map((cells) => cells.join(delimiter)).join('\n')
      const { mapping } = await preview(body)
      const constants = { kind: 'page' }
      const done = await ended(body, { name: `${k}.csv`, mapping: JSON.stringify({ ...mapping, constants }) })
      expect(done).toMatchObject({ kind: 'csv', progress: { good: 1, bad: 0 } })
      const own = { type: 'text', of: 'visitor', test: { is: 'equal', to: `half ${k}, or so` } }
      await expect.poll(() => sessionsOf({ where: own }), { timeout: 30_000 }).toBe(1)
    }
  })
  it('is refused where it is of no known kind, has no name, or its columns are no JSON', async () => {
    const unknown = await upload('<!doctype html>').expect(400)
    expect(unknown.body).toMatchObject({
      type: expect.stringContaining('unknown-file') as unknown,
      hint: expect.stringContaining('NDJSON') as unknown,
    })
    expect((await upload(clickstream(0, 1), {}).expect(400)).text).toContain('name')
    await upload('a,b\n', { name: 'c.csv', kind: 'csv', mapping: '{' }).expect(400)
    await request(app).get(`${path}/999999`).expect(404)
    await request(app).post(`${path}/nonsense/stop`).send({}).expect(404)
  })
  it('can be stopped; what was taken in stays, and says so', async () => {
    const before = await sessionsOf()
    const { id } = (await upload(clickstream(1000, 200_000)).expect(202)).body as Import
    await expect
      .poll(async () => (await stateOf(id)).progress.good, { timeout: 30_000, interval: 5 })
      .toBeGreaterThan(0)
    await request(app).post(`${path}/${id}/stop`).send({}).expect(200)
    await expect.poll(async () => (await stateOf(id)).endedMs, { timeout: 30_000 }).not.toBeNull()
    const { state, progress } = await stateOf(id)
    expect(state).toBe('stopped')
    expect(progress.good).toBeLessThan(200_000)
    await expect.poll(() => sessionsOf(), { timeout: 30_000 }).toBe(before + progress.good)
  })
  it('goes on by itself where the server ended in the middle of it, and its file is taken away', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'dust-trail-resumed-'))
    const file = join(folder, 'file')
    await writeFile(file, clickstream(500_000, 10))
    const before = await sessionsOf()
    const row = await database.models.imports.create({
      ...{ siteId: database.site.id, name: 'cut off', file, kind: 'clickstream', mapping: null },
      ...{ state: 'running', problems: [], message: '', startedMs: T, endedMs: null },
      progress: { bytes: 0, totalBytes: 0, lines: 0, good: 0, bad: 0, repeated: 0, skipped: {} },
    })
    await jobs.resume()
    const id = row.get('id') as number
    await expect.poll(async () => (await stateOf(id)).state, { timeout: 30_000 }).toBe('done')
    await expect.poll(() => sessionsOf(), { timeout: 30_000 }).toBe(before + 10)
    await expect
      .poll(
        () =>
          access(dirname(file)).then(
            () => 'there',
            () => 'gone',
          ),
        { timeout: 30_000 },
      )
      .toBe('gone')
  })
})
