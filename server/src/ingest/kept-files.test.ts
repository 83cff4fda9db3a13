import { createHash } from 'node:crypto'
import type { Express } from 'express'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import { filesOfSnapshot } from '../store/recordings.ts'
import { fileType, KeptFiles } from '../store/kept-files.ts'
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

// One pixel each (GIF89a and PNG, ISO/IEC 15948, from memory), and a drawing.
const GIF = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64')
const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)
const SVG = Buffer.from(
  '<?xml version="1.0"?><!-- x --><svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>',
)
const hashOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex')
const send = (bytes: Buffer, hash = hashOf(bytes)) =>
  request(app).post(`/collect/files?site=shop&hash=${hash}`).set('content-type', 'text/plain').send(bytes)
const ask = (...hashes: string[]) =>
  request(app)
    .post('/collect/files?site=shop')
    .set('content-type', 'text/plain')
    .send(JSON.stringify({ hashes }))

describe('files that recordings show', () => {
  it('are told to be lacking until they are there, and come out as they went in, able to do nothing', async () => {
    const [gif, svg] = [hashOf(GIF), hashOf(SVG)]
    expect((await ask(gif, svg).expect(200)).body).toEqual({ lacking: [gif, svg] })
    await send(GIF).expect(204)
    await send(GIF).expect(204)
    await send(SVG).expect(204)
    expect((await ask(gif, svg).expect(200)).body).toEqual({ lacking: [] })
    const answer = await request(app).get(`/api/v1/sites/shop/files/${svg}`).expect(200)
    expect(answer.headers['content-type']).toContain('image/svg+xml')
    expect(answer.headers['content-security-policy']).toBe("default-src 'none'; sandbox")
    expect(answer.headers['content-disposition']).toBe('attachment')
    expect(hashOf(answer.body as Buffer)).toBe(svg)
  })

  it('are named by the server where a page cannot hash', async () => {
    const drawing = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" id="unnamed"/>')
    const answer = await send(drawing, '').expect(200)
    expect(answer.body).toEqual({ hash: hashOf(drawing) })
    expect((await ask(hashOf(drawing)).expect(200)).body).toEqual({ lacking: [] })
    await send(Buffer.from('no picture'), '').expect(415)
  })

  it('are refused where they are not what they should be', async () => {
    await send(PNG, hashOf(GIF)).expect(400)
    await send(Buffer.from('<html><script>alert(1)</script>')).expect(415)
    await send(Buffer.from('<svgx>no drawing</svgx>')).expect(415)
    await send(Buffer.alloc(0)).expect(413)
    await ask('short').expect(400)
    await request(app).post('/collect/files?site=nowhere').send('{}').expect(404)
    await request(app)
      .post(`/collect/files?site=shop&hash=${hashOf(GIF)}`)
      .set('origin', 'https://evil.example')
      .send(GIF)
      .expect(403)
    await request(app)
      .get(`/api/v1/sites/shop/files/${hashOf(PNG)}`)
      .expect(404)
    // Another site has not got it.
    await request(app)
      .get(`/api/v1/sites/other/files/${hashOf(GIF)}`)
      .expect(404)
  })

  it('are what their bytes say', async () => {
    expect(await fileType(GIF)).toBe('image/gif')
    expect(await fileType(PNG)).toBe('image/png')
    expect(await fileType(SVG)).toBe('image/svg+xml')
    expect(await fileType(Buffer.from('PK\u0003\u0004 an archive'))).toBeUndefined()
    expect(await fileType(Buffer.from('hello <svg>'))).toBeUndefined()
  })

  it('have a limit for each site, and go when nothing has used them for long', async () => {
    const site = 77
    const kept = new KeptFiles(database.sequelize, PNG.length + 10)
    expect(await kept.keep(site, hashOf(GIF), GIF, 1000)).toBeUndefined()
    expect(await kept.keep(site, hashOf(PNG), PNG, 1000)).toBe('room')
    const day = 86_400_000
    await kept.deleteUnused(site, 1000)
    expect(await kept.lacking(site, [hashOf(GIF)], 3 * day)).toEqual([])
    // Asked for, it counts as used.
    await kept.deleteUnused(site, 2 * day)
    expect(await kept.lacking(site, [hashOf(GIF)], 3 * day)).toEqual([])
    await kept.deleteUnused(site, 4 * day)
    expect(await kept.lacking(site, [hashOf(GIF)], 5 * day)).toEqual([hashOf(GIF)])
    expect(await kept.keep(site, hashOf(PNG), PNG, 5 * day)).toBeUndefined()
  })

  it('are told by each recording for itself: what one visitor says changes nothing for another', async () => {
    const now = Date.now()
    const url = 'https://shop.example/a.gif'
    const batch = (visitor: string, hash: string) => ({
      ...{ v: 1, site: 'shop', visitor, document: `document-${visitor}`, n: 0, piece: 0, tab: 't' },
      ...{ startMs: now, sentMs: now },
      lines: [{ t: now, id: visitor, kind: 'page', url: 'https://shop.example/' }],
      items: [{ at: 10, k: 'file', url, hash }],
      snapshot: {
        ...{ url: 'https://shop.example/', title: visitor, width: 800, height: 600 },
        root: { id: 1, tag: 'html' },
      },
    })
    for (const [visitor, bytes] of [
      ['files-a', GIF],
      ['files-b', SVG],
    ] as const) {
      const sent = JSON.stringify(batch(visitor, hashOf(bytes)))
      await request(app).post('/collect?site=shop').set('content-type', 'text/plain').send(sent).expect(204)
    }
    const [a, b] = await database.sequelize.query<{ id: number; hash: string }>(
      `SELECT s.id, r.snapshot_hash AS hash FROM sessions s JOIN recordings r ON r.session_id = s.id
       WHERE s.visitor LIKE 'files-%' ORDER BY s.visitor`,
      { type: QueryTypes.SELECT },
    )
    const filesOf = async (id: number) => {
      const answer = await request(app).get(`/api/v1/sites/shop/sessions/${id}/recording`).expect(200)
      return (answer.body as { documents: { files: unknown; items: unknown[] }[] }).documents[0]!
    }
    await expect
      .poll(async () => (await request(app).get(`/api/v1/sites/shop/sessions/${a!.id}`)).status)
      .toBe(200)
    expect(await filesOf(a!.id)).toMatchObject({ files: { [url]: hashOf(GIF) }, items: [] })
    expect((await filesOf(b!.id)).files).toEqual({ [url]: hashOf(SVG) })
    expect(await filesOfSnapshot(database.sequelize, 1, b!.hash)).toEqual({ [url]: hashOf(SVG) })
    await request(app).get(`/api/v1/sites/shop/snapshots/${b!.hash}`).expect(200)
    await request(app).get(`/api/v1/sites/other/snapshots/${b!.hash}`).expect(404)
  })
})
