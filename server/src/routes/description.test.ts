import request from 'supertest'
import { describe, expect, it } from 'vitest'
import type { Threads } from '../engine/threads.ts'
import { testApp } from '../test-database.ts'
import { lens, steps, testShop } from '../test-shop.ts'
const shop = testShop()

describe('the description of the API', () => {
  it('names every endpoint with the schemas it checks with, and resolves all its references', async () => {
    const { body } = (await request(shop.app).get('/api/openapi.json').expect(200)) as {
      body: {
        openapi: string
        paths: Record<string, Record<string, { operationId: string }>>
        components: Record<string, Record<string, object>>
      }
    }
    /** What is written where it is used, or once for several. */
    const whole = <T extends object>(part: T | { $ref: string }): T => {
      if (!('$ref' in part)) return part
      const [of, name] = part.$ref.replace('#/components/', '').split('/')
      expect(body.components[of!]?.[name!], part.$ref).toBeDefined()
      return body.components[of!]![name!] as T
    }
    expect(body.openapi).toBe('3.1.0')
    const operations = Object.values(body.paths).flatMap(({ parameters: _, ...path }) => Object.values(path))
    const ids = operations.map(({ operationId }) => operationId)
    expect(new Set(ids).size).toBe(ids.length)
    for (const id of ['askFunnel', 'askPaths', 'askDistribution', 'askSessions', 'exportLines'])
      expect(ids).toContain(id)
    const text = JSON.stringify(body)
    for (const word of ['withinMs', 'between', '"where"', 'starting with', 'text/csv'])
      expect(text).toContain(word)
    expect(text.length).toBeLessThan(200_000)
    const schemas = (body as unknown as { components: { schemas: Record<string, Schema> } }).components
      .schemas
    const resolved = (schema: Schema): Schema => {
      if (!schema.$ref) return schema
      const found = schemas[schema.$ref.replace('#/components/schemas/', '')]
      expect(found, schema.$ref).toBeDefined()
      return resolved(found!)
    }
    const seen = new Set<Schema>()
    const check = (schema: Schema, isAsked: boolean, at: string): void => {
      const one = resolved(schema)
      if (seen.has(one)) return
      seen.add(one)
      for (const [name, property] of Object.entries(one.properties ?? {})) {
        const isWhole = resolved(property)
        if (isAsked && isWhole.const === undefined)
          expect(property.description ?? isWhole.description, `${at}.${name}`).toBeTruthy()
        check(property, isAsked, `${at}.${name}`)
      }
      for (const part of [...(one.anyOf ?? []), ...(one.oneOf ?? []), ...(one.allOf ?? [])])
        check(part, isAsked, at)
      if (one.items) check(one.items, isAsked, `${at}[]`)
    }
    for (const operation of operations as unknown as Operation[]) {
      const { requestBody, responses, operationId } = operation
      const asked = requestBody && whole(requestBody).content['application/json']?.schema
      if (asked) check(asked, true, operationId)
      const answered = whole(responses['200']!).content?.['application/json']?.schema
      if (answered) check(answered, false, operationId)
    }
  })
})

interface Schema {
  $ref?: string
  description?: string
  const?: unknown
  properties?: Record<string, Schema>
  items?: Schema
  anyOf?: Schema[]
  oneOf?: Schema[]
  allOf?: Schema[]
}
type Content = Record<string, { schema: Schema } | undefined>
interface Operation {
  operationId: string
  requestBody?: { content: Content } | { $ref: string }
  responses: Record<string, { content?: Content } | { $ref: string } | undefined>
}

describe('errors', () => {
  it('say to ask again where no thread is there to answer', async () => {
    const none = { count: 0, tell: () => undefined, onRestart: () => undefined } as unknown as Threads
    const { app } = await testApp(shop.database, { threads: none })
    const refused = await request(app).get('/api/v1/sites').expect(503)
    expect(refused.body).toMatchObject({ status: 503, hint: expect.stringContaining('again') as string })
  })
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

  const ask = (path: string, body: object) => request(shop.app).post(`/api/v1/sites/shop${path}`).send(body)
  const funnel = (more: object) => ({ lens, steps, ...more })
  const selection = { type: 'funnel', steps, step: 0, side: 'reached' }
  it.each([
    ['a misspelt field', '/funnel', funnel({ optoins: {} }), 'optoins', 'spelt'],
    [
      'one deep within',
      '/size',
      { lens: { ...lens, wehre: {} }, selection: { type: 'everyone' } },
      'lens.wehre',
      'spelt',
    ],
    [
      'a day that does not exist',
      '/funnel',
      funnel({ lens: { ...lens, from: '2026-02-30' } }),
      'lens.from',
      'no day',
    ],
    [
      'a step that is not there',
      '/size',
      { lens, selection: { ...selection, step: 3 } },
      'selection.step',
      'only 3 steps',
    ],
    [
      'a leak of those who went on',
      '/size',
      { lens, selection: { ...selection, leak: 'left' } },
      'selection.leak',
      'dropped',
    ],
    ['the wrong type', '/funnel', funnel({ counts: 'yes' }), 'counts', 'true or false'],
    ['none of the shapes', '/size', { lens, selection: { type: 'nobody' } }, 'selection.type', ''],
  ])('name the field and the reason: %s', async (_, path, body, field, reason) => {
    const refused = await ask(path, body)
    expect(refused.status).toBe(400)
    const { fields, detail } = refused.body as { fields: { field: string; reason: string }[]; detail: string }
    expect(fields.map((one) => one.field)).toContain(field)
    expect(detail).toContain(reason)
    expect(detail).not.toMatch(/Invalid|Unrecognized|expected|received/)
  })

  it('say which methods an address takes', async () => {
    const refused = await request(shop.app).delete('/api/v1/sites/shop/funnel').expect(405)
    expect(refused.headers['allow']).toBe('POST')
    await request(shop.app).put('/api/v1/sites').send({}).expect(405)
    // An address beside the API is nothing, never the application's page.
    for (const path of ['/api', '/api/sites', '/api/v1/nothing'])
      expect((await request(shop.app).get(path).expect(404)).type).toBe('application/problem+json')
  })

  it('keep what is asked within bounds, in little time', async () => {
    const began = performance.now()
    const trend = await ask(
      '/funnel',
      funnel({ lens: { ...lens, from: '1970-01-01', to: '2999-12-31' }, options: { trend: 'day' } }),
    ).expect(400)
    expect((trend.body as { detail: string }).detail).toContain('at most 1500 parts')
    const noted = (await request(shop.app).get('/api/v1/sites/shop/refusals').expect(200)).body as {
      what: string
      reason: string
    }[]
    expect(noted.find(({ what }) => what === 'budget')?.reason).toContain('at most 1500 parts')
    let deep: object = { type: 'visit', is: 'first' }
    for (let i = 0; i < 300; i++) deep = { type: 'not', of: deep }
    const nested = await ask('/size', {
      lens: { ...lens, where: deep },
      selection: { type: 'everyone' },
    }).expect(400)
    expect((nested.body as { detail: string }).detail).toContain('nested')
    // Each set refers twice to the one before: all that they refer to doubles with each.
    let set = ''
    let status = 200
    for (let i = 0; i < 12 && status === 200; i++) {
      const condition = { type: 'selected', selection: { type: 'set', set } }
      const made = await ask('/sets', {
        lens: set ? { ...lens, where: condition } : lens,
        selection: set
          ? { type: 'where', condition: { type: 'any', of: [condition, condition] } }
          : { type: 'everyone' },
      })
      status = made.status
      set = (made.body as { set?: string }).set ?? set
    }
    expect(status).toBe(400)
    expect(performance.now() - began).toBeLessThan(3000)
  })

  it('say as of when an answer is, and that a later one is later', async () => {
    const versions = []
    for (const name of ['one', 'two']) {
      const answer = await ask('/funnel', funnel({})).expect(200)
      versions.push(Number(answer.headers['dust-trail-version']))
      await request(shop.app)
        .post('/api/v1/sites/shop/actions')
        .send({ name, rule: { kinds: ['click'] } })
        .expect(200)
      await ask('/funnel', funnel({})).expect(200)
    }
    expect(versions[1]).toBeGreaterThan(versions[0]!)
    expect(Math.abs(versions[1]! - Date.now())).toBeLessThan(60_000)
  })
})
