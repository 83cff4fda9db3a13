import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { inTransaction } from '../store/database.ts'
import { packSnapshot } from '../store/recordings.ts'
import type { Retention } from '../store/retention.ts'
import { countOlder, deleteOlder } from '../store/retention.ts'
import { writeSessions } from '../store/write-sessions.ts'
import { testApp, testDatabase } from '../test-database.ts'
import { lens, steps, testShop } from '../test-shop.ts'
const shop = testShop()
const { ask } = shop

describe('setup', () => {
  const about = {
    name: 'Shop',
    goal: '/thanks',
    origins: ['https://shop.example/path', 'https://shop.example'],
    timeZone: 'Europe/Dublin',
    currency: 'SEK',
    sessionLimitMin: 45,
    retentionDays: null,
    recordingDays: null,
    auditDays: 730,
  }
  const put = (body: object, status: number) =>
    request(shop.app).put('/api/v1/sites/shop').send(body).expect(status)

  it('refuses our own address as one of the site', async () => {
    const answer = await put({ ...about, origins: ['http://127.0.0.1:4180'] }, 400)
    expect(answer.body).toMatchObject({ code: 'own-origin' })
  })
  it('keeps addresses as origins, and what else is known of the site', async () => {
    const answer = await put(about, 200)
    const kept = { ...about, origins: ['https://shop.example'] }
    expect(answer.body).toMatchObject({ ...kept, sessions: 4 })
    const row = await shop.database.models.sites.findOne({ where: { key: 'shop' } })
    expect(row!.get({ plain: true })).toMatchObject(kept)
  })
  it.each([
    ['name', { name: ' ' }],
    ['timeZone', { timeZone: 'Mars/Olympus' }],
    ['currency', { currency: 'euro' }],
    ['sessionLimitMin', { sessionLimitMin: 0 }],
    ['sessionLimitMin', { sessionLimitMin: 1.5 }],
    ['retentionDays', { retentionDays: 0 }],
    ['origins.0', { origins: ['shop'] }],
  ])('names %s where it is wrong', async (field, wrong) => {
    const answer = await put({ ...about, ...wrong }, 400)
    expect((answer.body as { detail: string }).detail).toContain(`${field}:`)
  })
  it('tells the script what may leave the pages of a site, and nobody what is not a site', async () => {
    const settings = () => request(shop.app).get('/collect/settings?site=shop').expect(200)
    expect((await settings()).body).toEqual({
      text: 'patterns',
      consent: 'free',
      share: 1,
      drawings: false,
      pictures: 'kept',
    })
    const capture = { text: 'hidden', consent: 'asked', share: 0.25, drawings: true, pictures: 'kept' }
    await request(shop.app).put('/api/v1/sites/shop/capture').send(capture).expect(200)
    const answer = await settings()
    expect(answer.body).toEqual(capture)
    expect(answer.headers['cache-control']).toContain('max-age=60')
    const wrong = await request(shop.app)
      .put('/api/v1/sites/shop/capture')
      .send({ ...capture, share: 2 })
      .expect(400)
    expect((wrong.body as { detail: string }).detail).toContain('share: At most 1.')
    await request(shop.app).get('/collect/settings?site=nobody').expect(404)
    await request(shop.app).get('/collect/settings').expect(404)
  })
  it('begins a new site with as little text as can be', async () => {
    const { origins, timeZone, currency, sessionLimitMin } = about
    const made = await request(shop.app)
      .post('/api/v1/sites')
      .send({ name: 'New', origins, timeZone, currency, sessionLimitMin })
      .expect(200)
    expect(made.body).toMatchObject({ capture: { text: 'hidden', consent: 'free', share: 1 } })
  })
  it('keeps thresholds of signals, under which the next answer counts; names one that cannot be', async () => {
    const set = (body: object, status: number) =>
      request(shop.app).put('/api/v1/sites/shop/thresholds').send(body).expect(status)
    expect((await set({ slowMs: 2500 }, 200)).body).toMatchObject({ thresholds: { slowMs: 2500 } })
    const row = await shop.database.models.sites.findOne({ where: { key: 'shop' } })
    expect(row!.get({ plain: true }).thresholds).toEqual({ slowMs: 2500 })
    expect(((await set({ rageClicks: 1 }, 400)).body as { detail: string }).detail).toContain('rageClicks')
    expect(((await set({ quickMs: 1 }, 400)).body as { detail: string }).detail).toContain('quickMs')
    expect((await set({}, 200)).body).toMatchObject({ thresholds: {} })
  })
  it('takes in further sites, each with a key and data of its own', async () => {
    const { goal: _, retentionDays: __, recordingDays: ___, auditDays: ____, ...fresh } = about
    const add = (name: string) =>
      request(shop.app)
        .post('/api/v1/sites')
        .send({ ...fresh, name })
        .expect(200)
    const keyOf = async (name: string) => ((await add(name)).body as { key: string }).key
    const first = await keyOf('Café Übersee!')
    // Nobody can guess the key of another site.
    expect(first).toMatch(/^cafe-ubersee-[0-9a-f]{12}$/)
    const second = await keyOf('Café  Übersee')
    expect(second).not.toBe(first)
    expect(await keyOf('星')).toMatch(/^site-[0-9a-f]{12}$/)
    const nobody = await request(shop.app)
      .post(`/api/v1/sites/${first}/funnel`)
      .send({ lens, steps })
      .expect(200)
    expect(nobody.body).toMatchObject({ sessions: 0 })
    const { engines: anew } = await testApp(shop.database)
    expect(anew.get(second)).toBeDefined()
  })
})

describe('retention', () => {
  const DAY_MS = 86_400_000
  const BEGIN = Date.UTC(2020, 0, 1)
  const now = BEGIN + 100 * DAY_MS
  let other: Awaited<ReturnType<typeof testDatabase>>
  beforeAll(async () => {
    other = await testDatabase()
    const snapshot = (url: string) =>
      packSnapshot({ url, title: '', width: 800, height: 600, root: { id: 1, tag: 'html' } })
    const pages = [await snapshot('https://shop.example/old'), await snapshot('https://shop.example/new')]
    await inTransaction(other.sequelize, (connection) =>
      writeSessions(
        connection,
        other.site,
        [0, 20, 50, 90].map((day, i) => ({
          visitor: `v${i}`,
          lines: [{ visitor: `v${i}`, kind: 'page', t: BEGIN + day * DAY_MS, url: '/', id: `line-${i}` }],
          documents: [
            {
              document: `document-${i}`,
              startMs: BEGIN + day * DAY_MS,
              items: [],
              snapshot: pages[day < 40 ? 0 : 1]!,
            },
          ],
        })),
      ),
    )
  })
  afterAll(() => other.close())
  const rows = async (table: string) =>
    Number(
      (
        await other.sequelize.query<{ n: number }>(`SELECT COUNT(*) AS n FROM ${table}`, {
          type: QueryTypes.SELECT,
        })
      )[0]!.n,
    )
  const run = async (retention: Retention) => {
    const gone: number[] = []
    for await (const ids of deleteOlder(other.sequelize, other.site.id, retention, now)) gone.push(...ids)
    return gone
  }

  it('says beforehand what it would delete', async () => {
    const ask = (retention: Retention) => countOlder(other.sequelize, other.site.id, retention, now)
    expect(await ask({ retentionDays: null, recordingDays: null })).toEqual({ sessions: 0, recordings: 0 })
    expect(await ask({ retentionDays: 90, recordingDays: null })).toEqual({ sessions: 1, recordings: 1 })
    expect(await ask({ retentionDays: 90, recordingDays: 60 })).toEqual({ sessions: 1, recordings: 2 })
  })
  it('deletes recordings sooner than sessions, and pages that nothing shows any more', async () => {
    expect(await run({ retentionDays: null, recordingDays: 60 })).toEqual([])
    expect(await rows('sessions')).toBe(4)
    expect(await rows('recordings')).toBe(2)
    expect(await rows('snapshots')).toBe(1)
  })
  it('deletes sessions with all that is theirs, and no others', async () => {
    const gone = await run({ retentionDays: 60, recordingDays: null })
    expect(gone).toHaveLength(2)
    expect([await rows('sessions'), await rows('events'), await rows('recordings')]).toEqual([2, 2, 2])
  })
  it('takes them out of the answers as well, at once when it is changed', async () => {
    const { app: own, engines: loaded } = await testApp(other)
    const about = {
      name: 'Shop',
      goal: '',
      origins: [],
      timeZone: 'UTC',
      currency: 'EUR',
      sessionLimitMin: 30,
    }
    await request(own)
      .put('/api/v1/sites/shop')
      .send({ ...about, retentionDays: 1, recordingDays: null })
      .expect(200)
    await expect
      .poll(async () => (await request(own).get('/api/v1/sites')).body as unknown, { timeout: 5000 })
      .toMatchObject([{ sessions: 0 }])
    await loaded.stop()
  })
})

describe('one visitor', () => {
  it('is deleted with all that is known of them, and nobody else is', async () => {
    const proof = await request(shop.app).delete('/api/v1/sites/shop/visitors/v3').expect(200)
    expect(proof.body).toMatchObject({ visitor: 'v3', sessions: 1, left: { sessions: 0, recordings: 0 } })
    expect((proof.body as { ids: string[] }).ids).toHaveLength(1)
    await expect
      .poll(async () => (await ask<{ sessions: number }>('/funnel', { lens, steps })).sessions, {
        timeout: 5000,
      })
      .toBe(3)
    const left = await shop.database.sequelize.query<{ visitor: string }>('SELECT visitor FROM sessions', {
      type: QueryTypes.SELECT,
    })
    expect(left.map(({ visitor }) => visitor).sort()).toEqual(['v0', 'v1', 'v2'])
    await request(shop.app).delete('/api/v1/sites/shop/visitors/v3').expect(404)
  })
  it('does not come back under the old name; others are still taken in', async () => {
    const send = (visitor: string) =>
      request(shop.app)
        .post('/collect?site=shop')
        .set('content-type', 'text/plain')
        .send(
          JSON.stringify({
            ...{
              v: 1,
              site: 'shop',
              visitor,
              document: `document-${visitor.trim()}-${visitor.length}`,
              n: 0,
              tab: 't',
            },
            ...{ startMs: Date.now(), sentMs: Date.now(), items: [] },
            lines: [{ t: Date.now(), kind: 'page', url: 'https://shop.example/' }],
          }),
        )
    const refused = await send('v3').expect(410)
    expect(refused.body).toMatchObject({ code: 'visitor-deleted' })
    await send('v3 ').expect(204)
    const [row] = await shop.database.sequelize.query<{ n: number }>(
      "SELECT COUNT(*) AS n FROM sessions WHERE BINARY visitor = 'v3'",
      { type: QueryTypes.SELECT },
    )
    expect(Number(row!.n)).toBe(0)
  })
})
