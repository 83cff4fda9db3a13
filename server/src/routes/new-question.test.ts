import { registry } from '@dust-trail/core'
import type { Express } from 'express'
import request from 'supertest'
import { beforeAll, describe, expect, it } from 'vitest'
import { longSessions } from '../../../core/src/testing/toy-question.ts'
import { testApp } from '../test-database.ts'
import { lens, testShop } from '../test-shop.ts'

const shop = testShop()

describe('a question that is only declared', () => {
  let app: Express
  beforeAll(async () => {
    const questions = [...registry.questions, longSessions]
    ;({ app } = await testApp(shop.database, { questions }))
  })
  const ask = (body: object, accept = 'application/json') =>
    request(app).post('/api/v1/sites/shop/long-sessions').set('accept', accept).send(body)

  it('is answered over HTTP, with its defaults, and what is wrong is named', async () => {
    expect((await ask({ lens }).expect(200)).body).toEqual({ sessions: 3, of: 4 })
    expect((await ask({ lens, least: 3 }).expect(200)).body).toEqual({ sessions: 2, of: 4 })
    const wrong = await ask({ lens, least: 0 }).expect(400)
    expect((wrong.body as { detail: string }).detail).toContain('least')
  })
  it('comes as CSV', async () => {
    const answer = await ask({ lens }, 'text/csv').expect(200)
    expect(answer.text).toBe('sessions,of\r\n3,4\r\n')
  })
  it('stands in the description of the API with its schemas and an example', async () => {
    const { body } = (await request(app).get('/api/openapi.json').expect(200)) as {
      body: { paths: Record<string, { post: Record<string, unknown> }> }
    }
    const { post } = body.paths['/sites/{site}/long-sessions']!
    expect(post).toMatchObject({ operationId: 'askLongSessions', summary: longSessions.summary })
    const text = JSON.stringify(post)
    for (const word of ['"least"', '"lens"', '"of"', 'text/csv', '"example"']) expect(text).toContain(word)
  })
})

describe('every question', () => {
  it('answers its own example', async () => {
    for (const { name, example } of registry.questions)
      await request(shop.app)
        .post(`/api/v1/sites/shop/${name}`)
        .send({ lens, ...example })
        .expect(200)
  })
})
