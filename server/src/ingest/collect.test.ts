import type { Express } from 'express'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import { connect } from '../store/database.ts'
import { testApp, testDatabase } from '../test-database.ts'
import { COLLECT_BUDGETS } from './budgets.ts'
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
  await engines.stop()
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

describe('robots', () => {
  const sendAs = (agent: string, visitor: string, from = 'https://shop.example') =>
    request(app)
      .post('/collect')
      .set('content-type', 'text/plain')
      .set('user-agent', agent)
      .set('origin', from)
      .send(JSON.stringify(batch({ visitor })))
      .expect(204)
  const seen = async (devices: string[]) => {
    const day = new Date().toISOString().slice(0, 10)
    const answer = await request(app)
      .post('/api/v1/sites/shop/sessions')
      .send({
        lens: { from: day, to: day, devices },
        selection: { type: 'everyone' },
        order: 'newest',
        limit: 20,
      })
      .expect(200)
    return (answer.body as { sessions: { visitor: string }[] }).sessions
      .map(({ visitor }) => visitor)
      .filter((visitor) => visitor.startsWith('agent-'))
      .sort()
  }
  it('are marked by what they call themselves, left out, and there when asked for', async () => {
    await sendAs('Mozilla/5.0 (compatible; Examplebot/2.1; +http://example.com/bot.html)', 'agent-robot')
    await sendAs(
      'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36',
      'agent-person',
    )
    // On this computer whoever tries the product out stands for people.
    await sendAs('Mozilla/5.0 (X11; Linux x86_64) HeadlessChrome/140.0 Safari/537.36', 'agent-trial')
    await expect.poll(() => seen([])).toEqual(['agent-person', 'agent-trial'])
    expect(await seen(['robot'])).toEqual(['agent-robot'])
  })
})

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
    ['a number that the database has no room for', batch({ n: 2 ** 32 }), 'n'],
  ])('refuses %s and says what is wrong', async (_, body, named) => {
    const answer = await post(body)
    const problem = answer.body as { detail: string; hint: string }
    expect(answer.status).toBe(400)
    expect(answer.headers['content-type']).toMatch('application/problem+json')
    expect(problem.detail).toContain(named)
    expect(problem.hint).not.toBe('')
  })

  it('leaves out what is wrong, keeps the rest in order, and says in Setup what that was', async () => {
    const t = Date.now()
    const good = { t, kind: 'page', url: '/good' }
    const snapshot = { url: '/', title: '', width: 9, height: 9, root: { id: 'x' } }
    const lines = [
      good,
      { t, kind: 'click' },
      'no line',
      { ...good, t: t - 31 * 86_400_000 },
      { ...good, t: t + 1 },
    ]
    const items = [
      { at: 0, k: 'explode' },
      { at: 1, k: 'hide' },
    ]
    const one = batch({ visitor: 'mixed', lines, items, snapshot })
    await post(one).expect(204)
    await post(one).expect(204)
    const stored = await rows(
      "SELECT e.body FROM events e JOIN sessions s ON s.id = e.session_id WHERE s.visitor = 'mixed' ORDER BY e.t",
    )
    expect(stored.map(({ body }) => (JSON.parse(body as string) as { url: string; t: number }).t)).toEqual([
      t,
      t + 1,
    ])
    const refused = (await request(app).get('/api/v1/sites/shop/refusals').expect(200)).body as {
      what: string
      reason: string
      n: number
    }[]
    const counted = Object.fromEntries(refused.map(({ what, reason, n }) => [`${what}: ${reason}`, n]))
    expect(counted).toMatchObject({
      'line: target is required for kind "click"': 1,
      'time: its time lies more than 30 days before the server’s clock': 1,
      'recording: a recorded page: is not a recorded page tree': 1,
    })
  })

  it('makes what is too long or of no size fit, and takes a deep tree as far down as it is kept', async () => {
    let root: object = { id: 1, text: 'deepest' }
    for (let id = 2; id < 1500; id++) root = { id, tag: 'div', c: [root] }
    const line = {
      ...{ t: Date.now(), kind: 'click', url: '/' },
      target: { selector: '', tag: 'html', text: 'x'.repeat(300) },
      ...{ title: 'y'.repeat(900), line: 3.7, device: { width: 0, height: 0 }, rx: 1.2 },
    }
    const snapshot = { url: '/', title: 't'.repeat(5000), width: 0, height: 0, root }
    await post(batch({ visitor: 'odd', lines: [line], snapshot })).expect(204)
    const [stored] = await rows(
      "SELECT e.body FROM events e JOIN sessions s ON s.id = e.session_id WHERE s.visitor = 'odd'",
    )
    expect(JSON.parse(stored!['body'] as string)).toMatchObject({
      target: { selector: 'html', text: 'x'.repeat(80) },
      ...{ title: 'y'.repeat(500), line: 3, device: {}, rx: 1 },
    })
    expect(await rows('SELECT id FROM recordings WHERE snapshot_hash IS NOT NULL')).toHaveLength(1)
  })

  it('puts off what exceeds a budget, with the time after which to send it again', async () => {
    const { app: strict, engines: own } = await testApp(database, {
      budgets: { ...COLLECT_BUDGETS, requestsPerAddress: 1 },
    })
    // All at once: what the budget holds grows as time passes.
    const answers = await Promise.all(
      Array.from({ length: 40 }, () =>
        request(strict)
          .post('/collect?site=shop')
          .set('content-type', 'text/plain')
          .send(JSON.stringify(batch())),
      ),
    )
    await own.stop()
    const statuses = new Set(answers.map(({ status }) => status))
    expect(statuses).toEqual(new Set([204, 429]))
    const wait = answers.find(({ status }) => status === 429)!.headers['retry-after']
    expect(Number(wait)).toBeGreaterThan(0)
  })

  it('leaves out properties beyond what a line may have, and says so', () => {
    const props = Object.fromEntries(Array.from({ length: 9 }, (_, k) => [`p${k}`, k]))
    const text = JSON.stringify(batch({ lines: [{ t: Date.now(), kind: 'action', name: 'order', props }] }))
    const few = checkBatch(text, Date.now(), { props: 4 })
    expect(Object.keys(few.lines[0]!.props!)).toEqual(['p0', 'p1', 'p2', 'p3'])
    expect(few.refused).toEqual([{ what: 'budget', reason: expect.stringContaining('properties') as string }])
    expect(checkBatch(text, Date.now()).refused).toEqual([])
  })

  it('keeps a recorded page as deep as is set, and says what was deeper', () => {
    let root: object = { id: 0, text: 'deepest' }
    for (let i = 1; i < 30; i++) root = { id: i, tag: 'b', c: [root] }
    const snapshot = { url: 'https://shop.example/', title: '', width: 10, height: 10, root }
    const items = [{ at: 0, k: 'change', add: [[1, 0, root]] }]
    const text = JSON.stringify(batch({ snapshot, items }))
    const reason = 'what lies deeper in a recorded page than is kept'
    const few = checkBatch(text, Date.now(), { depth: 10 })
    expect(few.refused).toEqual([
      { what: 'budget', reason },
      { what: 'budget', reason },
    ])
    expect(JSON.stringify([few.snapshot, few.items])).not.toContain('deepest')
    expect(JSON.stringify(few.snapshot).match(/"tag"/g)).toHaveLength(11)
    const all = checkBatch(text, Date.now())
    expect(all.refused).toEqual([])
    expect(JSON.stringify(all.snapshot)).toContain('deepest')
  })

  it('takes no more sessions of one visitor than a person begins', async () => {
    const collector = new Collector(database.sequelize, 3)
    const begin = (k: number) =>
      collector.collect(
        database.site,
        {
          ...batch({ visitor: 'busy' }),
          ...{ v: 1, items: [], refused: [] },
          lines: [{ visitor: 'busy', t: NOW + k, kind: 'page', url: '/', session: `s${k}` }],
        } as never,
        NOW,
      )
    for (let k = 0; k < 5; k++) expect((await begin(k)).tooManySessions).toBe(k >= 3)
    expect(await sessionsOf('busy')).toHaveLength(3)
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
    const shared = `SELECT DISTINCT snapshot_hash FROM recordings WHERE document IN ('${first.document}', 'document-${documents}')`
    expect((await rows(shared)).filter((row) => row['snapshot_hash'])).toHaveLength(1)
    await engines.upToDate()
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

describe('where the database is away', () => {
  it('collecting says so, and to send it again; nothing is acknowledged', async () => {
    const gone = connect('mariadb://nobody:x@127.0.0.1:1/nothing')
    const { app: other, engines: own } = await testApp(database, { collector: new Collector(gone) })
    const answer = await request(other)
      .post('/collect?site=shop')
      .set('content-type', 'text/plain')
      .send(JSON.stringify(batch({ visitor: 'unlucky' })))
    await own.stop()
    await gone.close()
    expect(answer.status).toBe(503)
    expect(answer.body).toMatchObject({
      code: 'database-away',
      hint: expect.stringContaining('again') as string,
    })
    expect(answer.headers['retry-after']).toBe('1')
    expect(await sessionsOf('unlucky')).toEqual([])
  })
})
