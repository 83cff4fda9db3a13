import type { Express } from 'express'
import request from 'supertest'
import { afterAll, beforeAll } from 'vitest'
import type { Engines } from './engine/engines.ts'
import { inTransaction } from './store/database.ts'
import { packSnapshot } from './store/recordings.ts'
import { writeSessions } from './store/write-sessions.ts'
import { testApp, testDatabase } from './test-database.ts'

/** When the sessions of the shop began. */
export const T = Date.UTC(2026, 5, 1, 12)
/** the day on which they did */
export const lens = { from: '2026-06-01', to: '2026-06-01', devices: [] }
export const steps = ['/', 'An item', '/thanks'].map((page) => ({ type: 'page', page }))
const dead = {
  ...{ kind: 'click' as const, effect: 'none' as const, x: 5, y: 6, rx: 0.5, ry: 0.5 },
  target: { selector: '#picture', tag: 'div', text: 'Picture' },
}
const page = (t: number, url: string) => ({ kind: 'page' as const, t: T + t, url })

/** What each of four visitors did: v0 buys, v1 looks at an item, v2 clicks at a picture in vain, v3 comes and goes. */
const VISITS = [
  [page(0, '/'), page(1000, '/items/1'), page(5000, '/thanks')],
  [page(0, '/'), page(2000, '/items/2')],
  [page(0, '/'), { ...dead, t: T + 500 }, { ...dead, t: T + 700 }, { ...dead, t: T + 900 }],
  [page(0, '/items/1')],
]

/** A small shop on a database of its own, and its HTTP side. Set up before the tests of a file. For tests only. */
export function testShop() {
  let database: Awaited<ReturnType<typeof testDatabase>>
  let engines: Engines
  let app: Express

  beforeAll(async () => {
    database = await testDatabase()
    const snapshot = await packSnapshot({
      ...{ url: 'https://shop.example/', title: 'Home', width: 800, height: 600 },
      root: { id: 1, tag: 'html' },
    })
    await inTransaction(database.sequelize, (connection) =>
      writeSessions(
        connection,
        database.site,
        VISITS.map((lines, i) => ({
          visitor: `v${i}`,
          lines: lines.map((line) => ({
            visitor: `v${i}`,
            device: { class: i === 2 ? 'mobile' : 'desktop' },
            ...line,
          })),
          documents: [{ document: `document-${i}`, startMs: T, items: [], snapshot }],
        })),
      ),
    )
    ;({ app, engines } = await testApp(database))
  })
  afterAll(async () => {
    await engines.stop()
    await database.close()
  })

  return {
    get database() {
      return database
    },
    get engines() {
      return engines
    },
    get app() {
      return app
    },
    /** Asks a question of the shop. */
    ask: async <Answer>(path: string, body: object) =>
      (await request(app).post(`/api/v1/sites/shop${path}`).send(body).expect(200)).body as Answer,
  }
}
