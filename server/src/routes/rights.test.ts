import { createHmac } from 'node:crypto'
import { writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Express } from 'express'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import { importFile } from '../import/import-file.ts'
import { deleteOrphans, TABLES_OF_SITES } from '../store/delete-site.ts'
import { siteSecret } from '../store/site-secret.ts'
import { testApp, testDatabase } from '../test-database.ts'

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

const select = <T extends object>(sql: string, replacements: unknown[] = []) =>
  database.sequelize.query<T>(sql, { replacements, type: QueryTypes.SELECT })
let documents = 0
const send = (site: string, visitor: string, customer?: string) => {
  const now = Date.now()
  const head = { v: 1, site, visitor, document: `document-${++documents}`, n: 0, piece: 0, tab: 't' }
  const lines: object[] = [{ t: now, kind: 'page', url: `https://shop.example/${visitor}` }]
  if (customer) lines.push({ t: now, kind: 'action', name: 'signed in', props: { customer } })
  const root = { id: 1, tag: 'html', c: [{ id: 2, tag: 'body', c: [{ id: 3, text: `seen by ${visitor}` }] }] }
  const snapshot = { url: 'https://shop.example/', title: visitor, width: 800, height: 600, root }
  return request(app)
    .post(`/collect?site=${site}`)
    .set('content-type', 'text/plain')
    .send(JSON.stringify({ ...head, startMs: now, sentMs: now, lines, items: [], snapshot }))
    .expect(204)
}

describe('the data of one visitor', () => {
  it('is found by an id that the site itself sends, and by none that only looks like it', async () => {
    await send('shop', 'ann', 'c-4711')
    await send('shop', 'ben', 'c-47')
    const find = async (value: string) =>
      (
        await request(app)
          .post('/api/v1/sites/shop/find-visitors')
          .send({ property: 'customer', value })
          .expect(200)
      ).body as unknown
    await expect.poll(() => find('c-4711')).toEqual({ visitors: ['ann'] })
    expect(await find('c-471')).toEqual({ visitors: [] })
  })
  it('is given out whole, with recordings, and nobody else’s with it', async () => {
    const { text, headers } = await request(app)
      .get('/api/v1/sites/shop/visitors/ann/export.json')
      .expect(200)
    expect(headers['content-disposition']).toContain('attachment')
    expect(JSON.parse(text)).toMatchObject({
      ...{ site: 'shop', visitor: 'ann' },
      sessions: [
        {
          lines: [
            { kind: 'page', url: 'https://shop.example/ann' },
            { kind: 'action', props: { customer: 'c-4711' } },
          ],
          recordings: [{ snapshot: { title: 'ann' } }],
          ...{ notes: [], tags: [] },
        },
      ],
    })
    expect(text).toContain('seen by ann')
    expect(text).not.toContain('ben')
    await request(app).get('/api/v1/sites/shop/visitors/nobody/export.json').expect(404)
  })
})

describe('visitors of logs', () => {
  const LOG =
    '192.0.2.7 - - [01/May/2026:10:00:00 +0000] "GET /a HTTP/1.1" 200 5 "-" "Mozilla/5.0 (X11) Firefox/140.0"\n'
  const visitorsOf = (siteId: number) =>
    select<{ visitor: string }>("SELECT visitor FROM sessions WHERE site_id = ? AND visitor LIKE 'log-%'", [
      siteId,
    ])
  it('are named by a hash with the site’s secret (RFC 2104): the same again, others on another site', async () => {
    const file = join(tmpdir(), `visitors-${process.pid}.log`)
    writeFileSync(file, LOG)
    const sites = [database.site, { ...database.site, id: 9001, key: 'other' }]
    for (const site of [...sites, database.site])
      await importFile({
        ...{ sequelize: database.sequelize, site, file, kind: 'log', nowMs: Date.now() },
        ...{ signal: new AbortController().signal, wrote: () => undefined },
      })
    const [own, other] = [await visitorsOf(database.site.id), await visitorsOf(9001)]
    const secret = await siteSecret(database.sequelize, database.site.id)
    const hash = createHmac('sha256', secret)
      .update('192.0.2.7 Mozilla/5.0 (X11) Firefox/140.0')
      .digest('hex')
    expect(own).toEqual([{ visitor: `log-${hash.slice(0, 32)}` }])
    expect(other).toHaveLength(1)
    expect(other).not.toEqual(own)
  })
})

describe('a site that is deleted', () => {
  it('has every table named that has rows of sites', async () => {
    const rows = await select<{ name: string }>(
      "SELECT TABLE_NAME AS name FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND COLUMN_NAME = 'site_id'",
    )
    // Who did what stays, as a proof.
    expect(
      rows
        .map(({ name }) => name)
        .filter((name) => name !== 'audit')
        .sort(),
    ).toEqual([...TABLES_OF_SITES].sort())
  })
  it('goes with all that is its own, and with nothing of another', async () => {
    const about = { name: 'To go', origins: ['https://go.example'], timeZone: 'UTC', currency: 'EUR' }
    const made = await request(app)
      .post('/api/v1/sites')
      .send({ ...about, sessionLimitMin: 30 })
      .expect(200)
    const { key } = made.body as { key: string }
    await send(key, 'gus')
    const { id } = engines.get(key)!.row
    await siteSecret(database.sequelize, id)
    await request(app).post(`/api/v1/sites/${key}/delete`).send({ name: 'Another' }).expect(400)
    expect(engines.get(key)).toBeDefined()
    const before = await select<{ n: number }>('SELECT COUNT(*) AS n FROM sessions WHERE site_id = ?', [
      database.site.id,
    ])
    await request(app).post(`/api/v1/sites/${key}/delete`).send({ name: 'To go' }).expect(200)
    await request(app).get(`/api/v1/sites/${key}/refusals`).expect(404)
    const left = async () => {
      const rows = TABLES_OF_SITES.map((table) =>
        select(`SELECT '${table}' AS name FROM ${table} WHERE site_id = ?`, [id]),
      )
      return (await Promise.all(rows)).flat()
    }
    await expect.poll(left, { timeout: 10_000 }).toEqual([])
    // Nothing that was broken off is left to do.
    await deleteOrphans(database.sequelize, () => true)
    const unseen =
      'SELECT s.hash FROM snapshots s LEFT JOIN recordings r ON r.snapshot_hash = s.hash WHERE r.id IS NULL'
    expect(await select(unseen)).toEqual([])
    const after = await select<{ n: number }>('SELECT COUNT(*) AS n FROM sessions WHERE site_id = ?', [
      database.site.id,
    ])
    expect(after).toEqual(before)
    expect(
      await select(
        'SELECT e.id FROM events e LEFT JOIN sessions s ON s.id = e.session_id WHERE s.id IS NULL',
      ),
    ).toEqual([])
    const done = await select<{ what: string }>('SELECT what FROM audit WHERE site_id = ?', [id])
    expect(done.map(({ what }) => what)).toContain('deleteSite')
  })
})
