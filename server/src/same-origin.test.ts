import express from 'express'
import request from 'supertest'
import { describe, expect, it } from 'vitest'
import { fromHere, knownHost } from './same-origin.ts'
import { testShop } from './test-shop.ts'

const app = (publicUrl?: string) => {
  const own = express()
  own.use(knownHost(publicUrl), fromHere(publicUrl), (_request, response) => void response.json({ ok: true }))
  own.use(((error: { status: number }, _request, response, _next) => {
    response.status(error.status).end()
  }) as express.ErrorRequestHandler)
  return own
}
const status = async (headers: Record<string, string>, publicUrl?: string) =>
  (await request(app(publicUrl)).get('/').set(headers)).status

describe('a request', () => {
  it.each([
    ['localhost:4180', 200],
    ['127.0.0.1', 200],
    ['[::1]:4180', 200],
    ['192.168.1.20:4180', 200],
    ['trail.example', 421],
    ['localhost.attacker.example', 421],
    ['127.0.0.1.attacker.example:4180', 421],
    ['user@localhost@attacker.example', 421],
    ['', 421],
  ])('for %j is answered with %d', async (host, expected) => {
    expect(await status({ host })).toBe(expected)
  })
  it('for the name under which people reach it is answered, and for no other', async () => {
    expect(await status({ host: 'trail.example' }, 'https://trail.example')).toBe(200)
    expect(await status({ host: 'trail.example.attacker.example' }, 'https://trail.example')).toBe(421)
  })
  it.each([
    [{}, 200],
    [{ origin: 'http://localhost:4180' }, 200],
    [{ 'sec-fetch-site': 'same-origin' }, 200],
    [{ 'sec-fetch-site': 'none' }, 200],
    [{ origin: 'https://attacker.example' }, 403],
    [{ origin: 'http://localhost:4181' }, 403],
    [{ origin: 'null' }, 403],
    [{ 'sec-fetch-site': 'cross-site' }, 403],
    [{ 'sec-fetch-site': 'same-site' }, 403],
  ])('with %j is answered with %d', async (headers, expected) => {
    expect(await status({ host: 'localhost:4180', ...headers })).toBe(expected)
  })
})

describe('the API', () => {
  const shop = testShop()
  const asked = (headers: Record<string, string>) => ({
    read: request(shop.app).get('/api/v1/sites').set(headers),
    write: request(shop.app).put('/api/v1/sites/shop/goals').set(headers).send({ goals: [] }),
    upload: request(shop.app).post('/api/v1/sites/shop/imports?name=a.ndjson').set(headers).send('x'),
  })
  it('answers no page of another site, uploads included, and no name that is not its own', async () => {
    for (const [headers, expected] of [
      [{ origin: 'https://attacker.example' }, 403],
      [{ 'sec-fetch-site': 'cross-site' }, 403],
      [{ host: 'attacker.example' }, 421],
    ] as const)
      for (const one of Object.values(asked(headers as unknown as Record<string, string>)))
        expect((await one).status).toBe(expected)
    expect((await asked({}).read).status).toBe(200)
  })
  it('takes what a site sends for collecting from its own pages, whatever their address', async () => {
    const sent = await request(shop.app)
      .post('/collect/shop')
      .set({ origin: 'https://shop.example' })
      .send({})
    expect([403, 421]).not.toContain(sent.status)
  })
})
