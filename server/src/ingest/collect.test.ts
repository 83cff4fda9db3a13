import type { Express } from 'express'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import { testApp, testDatabase } from '../test-database.ts'
import { checkBatch, Collector } from './collect.ts'

const MINUTE = 60_000
const NOW = Date.UTC(2026, 5, 1, 12)

let database: Awaited<ReturnType<typeof testDatabase>>
let engines: Engines
let app: Express

beforeAll(async () => {
  database = await testDatabase()
  ;({ app, engines } = await testApp(database))
})
afterAll(async () => {
  engines.stop()
  await database.close()
})

let documents = 0
const batch = (more: Record<string, unknown> = {}) => ({
  v: 1,
  site: 'shop',
  visitor: 'ann',
  document: `document-${++documents}`,
  n: 0,
  tab: 't',
  startMs: Date.now(),
  sentMs: Date.now(),
  lines: [{ t: Date.now(), kind: 'page', url: 'https://shop.example/' }],
  items: [],
  ...more,
})
const post = (body: unknown) =>
  request(app)
    .post('/collect')
    .set('content-type', 'text/plain')
    .send(typeof body === 'string' ? body : JSON.stringify(body))
const rows = (sql: string) =>
  database.sequelize.query<Record<string, unknown>>(sql, { type: QueryTypes.SELECT })
const sessionsOf = async (visitor: string) =>
  (
    await database.sequelize.query<{ id: number; start_ms: number; end_ms: number }>(
      'SELECT id, start_ms, end_ms FROM sessions WHERE visitor = ? ORDER BY start_ms',
      { type: QueryTypes.SELECT, replacements: [visitor] },
    )
  ).map((row) => [(Number(row.start_ms) - NOW) / MINUTE, (Number(row.end_ms) - NOW) / MINUTE])

describe('POST /collect', () => {
  it('acknowledges once the lines are in the database', async () => {
    await post(batch({ visitor: 'first' })).expect(204)
    const found = await rows(
      "SELECT e.body FROM events e JOIN sessions s ON s.id = e.session_id WHERE s.visitor = 'first'",
    )
    expect(found).toHaveLength(1)
    expect(JSON.parse(found[0]!['body'] as string)).toMatchObject({ kind: 'page', visitor: 'first' })
  })

  it('counts the same batch once, even when it comes many times at once', async () => {
    const one = batch({ visitor: 'twice' })
    const answers = await Promise.all(Array.from({ length: 8 }, () => post(one)))
    expect(answers.map(({ status }) => status)).toEqual(Array.from({ length: 8 }, () => 204))
    expect(
      await rows(
        "SELECT e.id FROM events e JOIN sessions s ON s.id = e.session_id WHERE s.visitor = 'twice'",
      ),
    ).toHaveLength(1)
  })

  it('makes one session of what one visitor sends at once', async () => {
    await Promise.all(Array.from({ length: 6 }, () => post(batch({ visitor: 'hasty' })).expect(204)))
    expect(await rows("SELECT id FROM sessions WHERE visitor = 'hasty'")).toHaveLength(1)
  })

  it.each([
    ['not JSON', '{', 'not JSON'],
    ['no visitor', batch({ visitor: '' }), 'visitor'],
    ['a line without its fields', batch({ lines: [{ t: 1, kind: 'click' }] }), 'Line 1'],
    [
      'a tree that is none',
      batch({ snapshot: { url: '/', title: '', width: 9, height: 9, root: { id: 'x' } } }),
      'snapshot.root',
    ],
    ['an unknown item', batch({ items: [{ at: 0, k: 'explode' }] }), 'items.0'],
  ])('refuses %s and says what is wrong', async (_, body, named) => {
    const answer = await post(body)
    const problem = answer.body as { detail: string; hint: string }
    expect(answer.status).toBe(400)
    expect(answer.headers['content-type']).toMatch('application/problem+json')
    expect(problem.detail).toContain(named)
    expect(problem.hint).not.toBe('')
  })

  it('refuses unknown sites and pages of other origins', async () => {
    await post(batch({ site: 'nobody' })).expect(404)
    await post(batch()).set('origin', 'https://elsewhere.example').expect(403)
    await post(batch()).set('origin', 'https://shop.example').expect(204)
  })

  it('shows what came in within two seconds', async () => {
    await post(
      batch({ visitor: 'live', lines: [{ t: Date.now(), kind: 'page', url: '/live-page' }] }),
    ).expect(204)
    const day = new Date().toISOString().slice(0, 10)
    const lens = { from: day, to: day, devices: [] }
    const untilMs = Date.now() + 2000
    let entered = 0
    while (!entered && Date.now() < untilMs) {
      const steps = [{ type: 'page', page: '/live-page' }]
      const answer = await request(app).post('/api/v1/sites/shop/funnel').send({ lens, steps }).expect(200)
      entered = (answer.body as { entered: number }).entered
    }
    expect(entered).toBe(1)
  })
})

describe('checkBatch', () => {
  it('puts the times of a wrong clock on ours and leaves small differences alone', () => {
    const text = (sentMs: number) =>
      JSON.stringify(batch({ sentMs, startMs: sentMs, lines: [{ t: sentMs - 10, kind: 'hide' }] }))
    expect(checkBatch(text(NOW - 3 * 3_600_000), NOW)).toMatchObject({
      startMs: NOW,
      lines: [{ t: NOW - 10 }],
    })
    expect(checkBatch(text(NOW - 1000), NOW)).toMatchObject({
      startMs: NOW - 1000,
      lines: [{ t: NOW - 1010 }],
    })
  })
})

describe('sessions', () => {
  const collect = async (visitor: string, ...minutes: number[]) => {
    const collector = new Collector(database.sequelize)
    const lines = minutes.map((m) => ({ visitor, t: NOW + m * MINUTE, kind: 'page' as const, url: '/x' }))
    return collector.collect(database.site, { ...batch({ visitor }), v: 1, items: [], lines } as never, NOW)
  }

  it('end after 30 minutes without activity', async () => {
    await collect('gap', 0, 29, 60, 61)
    expect(await sessionsOf('gap')).toEqual([
      [0, 29],
      [60, 61],
    ])
  })

  it('grow at either end and are joined by what comes late between them', async () => {
    await collect('late', 0, 10)
    await collect('late', 60, 70)
    await collect('late', 15)
    expect(await sessionsOf('late')).toEqual([
      [0, 15],
      [60, 70],
    ])
    const joined = await collect('late', 35)
    expect(joined.gone).toHaveLength(1)
    expect(await sessionsOf('late')).toEqual([[0, 70]])
    const events = await rows(
      "SELECT COUNT(*) AS n FROM events e JOIN sessions s ON s.id = e.session_id WHERE s.visitor = 'late'",
    )
    expect(Number(events[0]!['n'])).toBe(6)
  })

  it('of one visitor do not keep another’s open', async () => {
    await collect('a1', 0)
    await collect('b1', 20)
    await collect('a1', 40)
    expect(await sessionsOf('a1')).toHaveLength(2)
    expect(await sessionsOf('b1')).toHaveLength(1)
  })
})

describe('recordings', () => {
  it('come back as they were sent, pages shared, and name a damaged piece', async () => {
    const snapshot = {
      url: '/r',
      title: 'R',
      width: 800,
      height: 600,
      root: { id: 1, tag: 'html', c: [{ id: 2, text: 'hello ✦' }] },
    }
    const items = [{ at: 5, k: 'click', id: 2, x: 1, y: 2 }]
    const first = batch({ visitor: 'rec', snapshot, items })
    await post(first).expect(204)
    await post(
      batch({ visitor: 'rec', document: first.document, n: 1, items: [{ at: 9, k: 'hide' }], lines: [] }),
    ).expect(204)
    await post(batch({ visitor: 'rec2', snapshot })).expect(204)
    expect(await rows('SELECT hash FROM snapshots')).toHaveLength(1)
    await new Promise((resolve) => setTimeout(resolve, 400))
    const [session] = await rows("SELECT id FROM sessions WHERE visitor = 'rec'")
    const path = `/api/v1/sites/shop/sessions/${Number(session!['id'])}/recording`
    const whole = (await request(app).get(path).expect(200)).body as { documents: unknown[]; damaged: number }
    expect(whole.damaged).toBe(0)
    expect(whole.documents).toHaveLength(1)
    expect(whole.documents[0]).toMatchObject({
      document: first.document,
      snapshot,
      items: [...items, { at: 9, k: 'hide' }],
    })
    await database.sequelize.query('UPDATE recordings SET body = 0x00 WHERE document = ? AND n = 1', {
      replacements: [first.document],
    })
    const cut = (await request(app).get(path).expect(200)).body as {
      documents: { items: unknown[] }[]
      damaged: number
    }
    expect(cut.damaged).toBe(1)
    expect(cut.documents[0]!.items).toEqual(items)
  })
})
