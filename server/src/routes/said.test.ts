import type { Said } from '@dust-trail/api'
import { getSaid, listSaid } from '@dust-trail/api'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { describe, expect, it } from 'vitest'
import type { z } from 'zod'
import { lens, testShop } from '../test-shop.ts'

const shop = testShop()
const BASE = '/api/v1/sites/shop'

/** The sessions of the shop by visitor. */
async function sessionOf(visitor: string): Promise<string> {
  const [row] = await shop.database.sequelize.query<{ id: number }>(
    'SELECT id FROM sessions WHERE visitor = ?',
    {
      replacements: [visitor],
      type: QueryTypes.SELECT,
    },
  )
  return String(row!.id)
}

describe('what is said of a session', () => {
  it('notes, tags and having watched stay, are listed, and go again', async () => {
    const id = await sessionOf('v2')
    const one = `${BASE}/sessions/${id}`
    const box = { x: 1, y: 2, w: 30, h: 40 }
    await request(shop.app)
      .post(`${one}/notes`)
      .send({ atMs: 500, text: ' Looks for more ', box })
      .expect(200)
    await request(shop.app)
      .put(`${one}/tags`)
      .send({ tags: ['to show', 'to show', 'phone'] })
      .expect(200)
    await request(shop.app).put(`${one}/watched`).send({ watched: true }).expect(200)
    const said = getSaid.answer.parse((await request(shop.app).get(`${one}/said`).expect(200)).body)
    expect(said).toMatchObject({ tags: ['phone', 'to show'], watched: true, links: [] })
    expect(said.notes).toMatchObject([
      { atMs: 500, box, text: 'Looks for more', who: 'anybody on this computer' },
    ])
    const listed = (await request(shop.app).get(`${BASE}/said`).expect(200)).body as z.output<
      typeof listSaid.answer
    >
    expect(listed).toEqual({
      watched: [id],
      noted: [id],
      tags: [
        { tag: 'phone', sessions: [id] },
        { tag: 'to show', sessions: [id] },
      ],
    })
    const find = async (asked: object) =>
      (
        (
          await request(shop.app)
            .post(`${BASE}/find-sessions`)
            .send({ lens, selection: { type: 'everyone' }, ...asked })
            .expect(200)
        ).body as { sessions: { id: string }[] }
      ).sessions.map((session) => session.id)
    expect(await find({ tag: 'phone' })).toEqual([id])
    expect(await find({ tag: 'no such tag' })).toEqual([])
    expect(await find({ unwatched: true })).toEqual((await find({})).filter((other) => other !== id))
    const note = said.notes[0]!.id
    const other = await sessionOf('v0')
    await request(shop.app).delete(`${BASE}/sessions/${other}/notes/${note}`).expect(404)
    const { body } = (await request(shop.app).delete(`${one}/notes/${note}`).expect(200)) as { body: Said }
    expect(body.notes).toEqual([])
    await request(shop.app).put(`${one}/watched`).send({ watched: false }).expect(200)
    await request(shop.app).post(`${BASE}/sessions/99999/notes`).send({ atMs: 0, text: 'x' }).expect(404)
    await request(shop.app).post(`${one}/notes`).send({ atMs: 0, text: '  ' }).expect(400)
  })
})

describe('a link to a session', () => {
  it('shows that session or a part of it to anybody, until it is taken back or over', async () => {
    const id = await sessionOf('v0')
    const one = `${BASE}/sessions/${id}`
    const made = async (body: object) =>
      ((await request(shop.app).post(`${one}/links`).send(body).expect(200)).body as { path: string }).path
    const whole = await made({ days: 7 })
    const clip = await made({ days: 7, fromMs: 500, toMs: 2000 })
    const page = await request(shop.app).get(whole).expect(200)
    expect(page.headers['content-type']).toMatch('text/html')
    expect(page.headers['content-security-policy']).toMatch(
      /default-src 'none'; script-src 'sha256-[\w+/=]+';/,
    )
    expect(page.headers['cache-control']).toBe('no-store')
    const dataOf = (html: string) =>
      JSON.parse(/id="replay">(.*?)<\/script>/s.exec(html)![1]!) as {
        moments: { page: string }[]
        documents: unknown[]
      }
    expect(dataOf(page.text).moments.map((moment) => moment.page)).toEqual(['/', 'An item', '/thanks'])
    expect(dataOf(page.text).documents).toHaveLength(1)
    const part = dataOf((await request(shop.app).get(clip).expect(200)).text)
    expect(part.moments.map((moment) => moment.page)).toEqual(['An item'])
    expect(part).toMatchObject({ story: [] })

    const { body } = (await request(shop.app).get(`${one}/said`).expect(200)) as { body: Said }
    expect(body.links).toHaveLength(2)
    await request(shop.app).delete(`${one}/links/${body.links[0]!.id}`).expect(200)
    await request(shop.app).get(whole).expect(404)
    await request(shop.app).get(clip).expect(200)
    await shop.database.sequelize.query('UPDATE session_links SET until_ms = 1')
    await request(shop.app).get(clip).expect(404)
    await request(shop.app).get(`${clip}x`).expect(404)
  })

  it('is not kept, and what a page said cannot end the file’s script', async () => {
    const id = await sessionOf('v2')
    const { text, headers } = await request(shop.app).get(`${BASE}/sessions/${id}/replay.html`).expect(200)
    expect(headers['content-disposition']).toContain(`session-${id}.html`)
    expect(text.match(/<script/g)).toHaveLength(2)
    expect(text.match(/<\/script>/g)).toHaveLength(2)
    const stored = await shop.database.sequelize.query<{ hash: string }>('SELECT hash FROM session_links', {
      type: QueryTypes.SELECT,
    })
    for (const { hash } of stored) expect(hash).toMatch(/^[0-9a-f]{64}$/)
  })

  it('and all that was said goes with the session', async () => {
    const id = await sessionOf('v3')
    await request(shop.app).post(`${BASE}/sessions/${id}/links`).send({ days: 1 }).expect(200)
    await request(shop.app)
      .put(`${BASE}/sessions/${id}/tags`)
      .send({ tags: ['gone'] })
      .expect(200)
    await request(shop.app).delete(`${BASE}/visitors/v3`).expect(200)
    for (const table of ['session_links', 'session_tags'])
      expect(
        await shop.database.sequelize.query(`SELECT 1 FROM ${table} WHERE session_id = ?`, {
          replacements: [id],
          type: QueryTypes.SELECT,
        }),
      ).toEqual([])
  })
})

describe('a session', () => {
  it('comes with its lines as they were taken in', async () => {
    const { body } = (await request(shop.app)
      .get(`${BASE}/sessions/${await sessionOf('v1')}/lines`)
      .expect(200)) as { body: { lines: { kind: string; url: string }[] } }
    expect(body.lines.map(({ kind, url }) => [kind, url])).toEqual([
      ['page', '/'],
      ['page', '/items/2'],
    ])
  })
})
