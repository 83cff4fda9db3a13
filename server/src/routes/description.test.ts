import request from 'supertest'
import { describe, expect, it } from 'vitest'
import { lens, steps, testShop } from '../test-shop.ts'
const shop = testShop()

describe('the description of the API', () => {
  it('names every endpoint with the schemas it checks with, and resolves all its references', async () => {
    const { body } = (await request(shop.app).get('/api/openapi.json').expect(200)) as {
      body: { openapi: string; paths: Record<string, Record<string, { operationId: string }>> }
    }
    expect(body.openapi).toBe('3.1.0')
    const operations = Object.values(body.paths).flatMap((path) => Object.values(path))
    const ids = operations.map(({ operationId }) => operationId)
    expect(new Set(ids).size).toBe(ids.length)
    for (const id of ['askFunnel', 'askPaths', 'askDistribution', 'listSessions', 'exportLines'])
      expect(ids).toContain(id)
    const funnel = JSON.stringify(body.paths['/sites/{site}/funnel'])
    for (const word of ['withinMs', 'between', '"where"', 'starting with', 'text/csv'])
      expect(funnel).toContain(word)
    // References within a schema point at that schema's own definitions, others at the components.
    const check = (node: unknown, root: Record<string, unknown>): void => {
      if (typeof node !== 'object' || node === null) return
      const own = node as Record<string, unknown>
      const here = '$defs' in own ? own : root
      if (typeof own['$ref'] === 'string' && own['$ref'].startsWith('#/$defs/'))
        expect(Object.keys(here['$defs'] as object)).toContain(own['$ref'].slice('#/$defs/'.length))
      for (const value of Object.values(own)) check(value, here)
    }
    check(body, {})
  })
})

describe('errors', () => {
  it('are problem details', async () => {
    const lost = await request(shop.app).get('/api/v1/nothing').expect(404)
    expect(lost.headers['content-type']).toMatch('application/problem+json')
    expect(lost.body).toMatchObject({ status: 404, code: 'not-found' })
    const bad = await request(shop.app)
      .post('/api/v1/sites/shop/funnel')
      .set('content-type', 'application/json')
      .send('{')
      .expect(400)
    expect(bad.body).toHaveProperty('hint')
    await request(shop.app).post('/api/v1/sites/nobody/funnel').send({ lens, steps }).expect(404)
    const steps9 = Array.from({ length: 9 }, () => steps[0])
    const many = await request(shop.app)
      .post('/api/v1/sites/shop/funnel')
      .send({ lens, steps: steps9 })
      .expect(400)
    expect((many.body as { detail: string }).detail).toContain('at most 8 steps')
  })
})
