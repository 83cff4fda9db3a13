import type { Express } from 'express'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import { inTransaction } from '../store/database.ts'
import { writeSessions } from '../store/bulk.ts'
import { packSnapshot } from '../store/recordings.ts'
import type { Retention } from '../store/retention.ts'
import { countOlder, deleteOlder } from '../store/retention.ts'
import { testApp, testDatabase } from '../test-database.ts'

const T = Date.UTC(2026, 5, 1, 12)
const lens = { from: '2026-06-01', to: '2026-06-01', devices: [] }
const steps = ['/', 'An item', '/thanks'].map((page) => ({ type: 'page', page }))
const dead = {
  kind: 'click' as const,
  effect: 'none' as const,
  x: 5,
  y: 6,
  rx: 0.5,
  ry: 0.5,
  target: { selector: '#picture', tag: 'div', text: 'Picture' },
}
const page = (t: number, url: string) => ({ kind: 'page' as const, t: T + t, url })

let database: Awaited<ReturnType<typeof testDatabase>>
let engines: Engines
let app: Express

beforeAll(async () => {
  database = await testDatabase()
  const snapshot = await packSnapshot({
    url: 'https://shop.example/',
    title: 'Home',
    width: 800,
    height: 600,
    root: { id: 1, tag: 'html' },
  })
  const plan = [
    [page(0, '/'), page(1000, '/items/1'), page(5000, '/thanks')],
    [page(0, '/'), page(2000, '/items/2')],
    [page(0, '/'), { ...dead, t: T + 500 }, { ...dead, t: T + 700 }, { ...dead, t: T + 900 }],
    [page(0, '/items/1')],
  ]
  await inTransaction(database.sequelize, (connection) =>
    writeSessions(
      connection,
      database.site,
      plan.map((lines, i) => ({
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
  engines.stop()
  await database.close()
})

const ask = async <T>(path: string, body: object) =>
  (await request(app).post(`/api/v1/sites/shop${path}`).send(body).expect(200)).body as T

describe('questions', () => {
  it('answers a funnel', async () => {
    const result = await ask<{ steps: { sessions: number; leak: unknown }[] }>('/funnel', { lens, steps })
    expect(result.steps.map((step) => step.sessions)).toEqual([3, 2, 1])
    expect(result.steps[0]!.leak).toEqual([{ kind: 'trouble', page: null, sessions: 1 }])
  })

  it('looks through the lens', async () => {
    const one = await ask<{ entered: number }>('/funnel', { lens: { ...lens, devices: ['mobile'] }, steps })
    expect(one.entered).toBe(1)
    const none = await ask<{ sessions: number }>('/funnel', {
      lens: { from: '2026-06-02', to: '2026-06-02' },
      steps,
    })
    expect(none.sessions).toBe(0)
  })

  it('opens a leak: who, what went wrong, and the sessions', async () => {
    const selection = { type: 'funnel', steps, step: 0, side: 'dropped' }
    const up = await ask<{ size: object; troubles: { kind: string }[] }>('/close-up', { lens, selection })
    expect(up.size).toMatchObject({ hits: 1, base: 3 })
    expect(new Set(up.troubles.map(({ kind }) => kind))).toEqual(
      new Set<string>(['rage click', 'dead click']),
    )
    const list = await ask<{ total: number; sessions: { visitor: string; momentMs: number }[] }>(
      '/sessions',
      { lens, selection, order: 'telling' },
    )
    expect(list.total).toBe(1)
    expect(list.sessions[0]).toMatchObject({ visitor: 'v2', momentMs: 0 })
  })

  it('maps the clicks of a page onto the page that was recorded', async () => {
    const heat = await ask<{ clicks: number; snapshot: { hash: string } }>('/click-heat', {
      lens,
      page: '/',
      which: 'rage',
    })
    expect(heat.clicks).toBe(3)
    const shown = await request(app).get(`/api/v1/snapshots/${heat.snapshot.hash}`).expect(200)
    expect(shown.body).toMatchObject({ title: 'Home', width: 800 })
  })

  it('lists one session with its signals', async () => {
    const { sessions } = await ask<{ sessions: { id: string }[] }>('/sessions', {
      lens,
      selection: { type: 'signal', kind: 'rage click', page: '/', selector: '#picture' },
      order: 'newest',
    })
    const one = await request(app).get(`/api/v1/sites/shop/sessions/${sessions[0]!.id}`).expect(200)
    const moments = (one.body as { moments: { kind: string; signal: boolean }[] }).moments
    expect(moments.filter(({ signal }) => signal).map(({ kind }) => kind)).toEqual([
      'rage click',
      'dead click',
    ])
  })
})

describe('fixes', () => {
  const draft = {
    title: 'Make the picture a link',
    hypothesis: 'It looks like one.',
    change: '',
    effort: 'hours',
    status: 'proposed',
    lens,
    selection: { type: 'signal', kind: 'dead click', page: '/', selector: '#picture' },
    sessionId: null,
  }
  it('keep their evidence, are listed with today’s numbers, changed and deleted', async () => {
    const fix = await ask<{ id: number; evidence: object }>('/fixes', draft)
    expect(fix.evidence).toMatchObject({ met: { hits: 0, base: 1 }, others: { hits: 1, base: 2 }, lost: 0.5 })
    const list = await ask<{ fix: { id: number }; price: { lost: number } }[]>('/fixes/list', { lens })
    expect(list.map((row) => [row.fix.id, row.price.lost])).toEqual([[fix.id, 0.5]])
    const changed = await request(app)
      .put(`/api/v1/sites/shop/fixes/${fix.id}`)
      .send({ ...draft, status: 'shipped' })
      .expect(200)
    expect(changed.body).toMatchObject({ status: 'shipped', evidence: fix.evidence })
    await request(app).delete(`/api/v1/sites/shop/fixes/${fix.id}`).expect(200)
    await request(app).post(`/api/v1/sites/shop/fixes/${fix.id}/show`).send({ lens }).expect(404)
  })
  it('need a hypothesis', async () => {
    const refused = await request(app)
      .post('/api/v1/sites/shop/fixes')
      .send({ ...draft, hypothesis: ' ' })
      .expect(400)
    expect((refused.body as { detail: string }).detail).toContain('Say what you saw')
  })
})

describe('trails', () => {
  it('keep marks in order with their numbers then and now', async () => {
    const trail = await ask<{ id: number }>('/trails', { name: 'Why?' })
    const mark = {
      address: '/funnels?x=1',
      view: 'Funnel',
      sentence: 'It leaks.',
      question: { lens, selection: { type: 'page', page: '/' } },
    }
    const first = await ask<{ id: number; then: object; now: object }>(`/trails/${trail.id}/marks`, mark)
    expect(first.then).toMatchObject({ hits: 3, base: 4 })
    expect(first.now).toEqual(first.then)
    const second = await ask<{ id: number }>(`/trails/${trail.id}/marks`, { ...mark, view: 'Second' })
    const order = { marks: [second.id, first.id] }
    const ordered = await request(app)
      .put(`/api/v1/sites/shop/trails/${trail.id}/order`)
      .send(order)
      .expect(200)
    expect((ordered.body as { marks: { id: number }[] }).marks.map(({ id }) => id)).toEqual(order.marks)
    await request(app)
      .put(`/api/v1/sites/shop/trails/${trail.id}/order`)
      .send({ marks: [first.id] })
      .expect(409)
  })
})

describe('funnels', () => {
  it('are saved, changed and deleted', async () => {
    const made = await ask<{ id: number }>('/funnels', { name: 'Buy', steps })
    await request(app)
      .put(`/api/v1/sites/shop/funnels/${made.id}`)
      .send({ name: 'Buy', steps: steps.slice(1) })
      .expect(200)
    const list = await request(app).get('/api/v1/sites/shop/funnels').expect(200)
    expect(list.body).toMatchObject([{ id: made.id, name: 'Buy', steps: steps.slice(1) }])
    await request(app).delete(`/api/v1/sites/shop/funnels/${made.id}`).expect(200)
    await request(app).delete(`/api/v1/sites/shop/funnels/${made.id}`).expect(404)
  })
})

describe('the description of the API', () => {
  it('names every endpoint with the schemas it checks with, and resolves all its references', async () => {
    const { body } = (await request(app).get('/api/openapi.json').expect(200)) as {
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

describe('tables', () => {
  it('come as CSV where that is asked for, formulas defused', async () => {
    const answer = await request(app)
      .post('/api/v1/sites/shop/funnel')
      .set('accept', 'text/csv')
      .send({ lens, steps: [{ type: 'event', name: '=1+1', event: { kinds: ['page'] } }] })
      .expect(200)
    expect(answer.headers['content-type']).toMatch('text/csv')
    const [header, row] = answer.text.split('\r\n')
    expect(header!.split(',').slice(0, 3)).toEqual(['part', 'name', 'sessions'])
    expect(row).toContain("step,'=1+1,4")
  })
  it.each([
    ['/paths', { selection: { type: 'page', page: '/' } }, 'path,steps,sessions,ended'],
    [
      '/distribution',
      { selection: { type: 'everyone' }, options: { measure: 'pages' } },
      'value,sessions,known',
    ],
    ['/sessions', { selection: { type: 'everyone' }, order: 'newest' }, 'id,visitor,startMs'],
    ['/close-up', { selection: { type: 'page', page: '/' } }, 'part,attribute,value'],
    ['/catalogue', {}, 'part,page,pattern'],
  ])('%s has one', async (path, body, header) => {
    const answer = await request(app)
      .post(`/api/v1/sites/shop${path}`)
      .set('accept', 'text/csv')
      .send({ lens, ...body })
      .expect(200)
    expect(answer.text).toMatch(new RegExp(`^${header}`))
  })
})

describe('questions of the engine', () => {
  it('narrows everything down to a condition of the lens', async () => {
    const where = { type: 'event', event: { friction: 'rage' } }
    const size = (more: object) =>
      ask<{ size: { hits: number } }>('/close-up', {
        lens: { ...lens, ...more },
        selection: { type: 'everyone' },
      })
    expect((await size({})).size.hits).toBe(4)
    expect((await size({ where })).size.hits).toBe(1)
    expect((await size({ where: { type: 'not', of: where } })).size.hits).toBe(3)
  })
  it('takes a funnel’s options, and says where one is wrong', async () => {
    const options = { entry: 'first', withinMs: 1500, by: 'device', trend: 'day' }
    const result = await ask<{ steps: { sessions: number }[]; byValue: object[]; overTime: object[] }>(
      '/funnel',
      { lens, steps, options },
    )
    expect(result.steps.map(({ sessions }) => sessions)).toEqual([3, 1, 0])
    expect(result.byValue).toHaveLength(2)
    expect(result.overTime).toEqual([expect.objectContaining({ label: '2026-06-01', entered: 3 })])
    const wrong = await request(app)
      .post('/api/v1/sites/shop/funnel')
      .send({ lens, steps, options: { per: 'household' } })
      .expect(400)
    expect((wrong.body as { detail: string }).detail).toContain('options.per')
  })
  it('goes through a list by cursor, each session once', async () => {
    for (const order of ['telling', 'newest', 'longest']) {
      const seen: string[] = []
      let cursor: string | undefined
      do {
        const page = await ask<{ total: number; next: string | null; sessions: { id: string }[] }>(
          '/sessions',
          {
            lens,
            selection: { type: 'everyone' },
            order,
            limit: 1,
            ...(cursor && { cursor }),
          },
        )
        expect(page.total).toBe(4)
        seen.push(...page.sessions.map(({ id }) => id))
        cursor = page.next ?? undefined
      } while (cursor)
      expect(new Set(seen).size).toBe(4)
      const whole = await ask<{ sessions: { id: string }[] }>('/sessions', {
        lens,
        selection: { type: 'everyone' },
        order,
      })
      expect(seen).toEqual(whole.sessions.map(({ id }) => id))
    }
    const bad = { lens, selection: { type: 'everyone' }, order: 'newest', cursor: 'x' }
    await request(app).post('/api/v1/sites/shop/sessions').send(bad).expect(400)
  })
})

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
  }
  const put = (body: object, status: number) =>
    request(app).put('/api/v1/sites/shop').send(body).expect(status)

  it('refuses our own address as one of the site', async () => {
    const answer = await put({ ...about, origins: ['http://127.0.0.1:4180'] }, 400)
    expect(answer.body).toMatchObject({ code: 'own-origin' })
  })
  it('keeps addresses as origins, and what else is known of the site', async () => {
    const answer = await put(about, 200)
    const kept = { ...about, origins: ['https://shop.example'] }
    expect(answer.body).toMatchObject({ ...kept, sessions: 4 })
    const row = await database.models.sites.findOne({ where: { key: 'shop' } })
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
  it('takes in further sites, each with a key and data of its own', async () => {
    const { goal: _, retentionDays: __, recordingDays: ___, ...fresh } = about
    const add = (name: string) =>
      request(app)
        .post('/api/v1/sites')
        .send({ ...fresh, name })
        .expect(200)
    expect((await add('Café Übersee!')).body).toMatchObject({ key: 'cafe-ubersee', sessions: 0, goal: '' })
    expect((await add('Café  Übersee')).body).toMatchObject({ key: 'cafe-ubersee-2' })
    expect((await add('星')).body).toMatchObject({ key: 'site' })
    const nobody = await request(app)
      .post('/api/v1/sites/cafe-ubersee/funnel')
      .send({ lens, steps })
      .expect(200)
    expect(nobody.body).toMatchObject({ sessions: 0 })
    const { engines: anew } = await testApp(database)
    expect(anew.get('cafe-ubersee-2')).toBeDefined()
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
    loaded.stop()
  })
})

describe('sets', () => {
  const selection = { type: 'funnel', steps, step: 0, side: 'dropped' }
  it('are handles that stand for a definition, in any question', async () => {
    const made = await ask<{ set: string; size: { hits: number; base: number } }>('/sets', {
      lens,
      selection,
    })
    expect(made.size).toMatchObject({ hits: 1, base: 3 })
    const up = await ask<{ size: { hits: number } }>('/close-up', {
      lens,
      selection: { type: 'set', set: made.set },
    })
    expect(up.size.hits).toBe(1)
    const where = { type: 'not', of: { type: 'selected', selection: { type: 'set', set: made.set } } }
    expect((await ask<{ entered: number }>('/funnel', { lens: { ...lens, where }, steps })).entered).toBe(2)
    const again = await request(app).get(`/api/v1/sites/shop/sets/${made.set}`).expect(200)
    expect(again.body).toMatchObject({ set: made.set, definition: { selection } })
  })
  it('come with a funnel where they are asked for', async () => {
    const { sets } = await ask<{ sets: { reached: string; dropped: string | null }[] }>('/funnel', {
      lens,
      steps,
      sets: true,
    })
    expect(sets).toHaveLength(3)
    expect(sets[2]!.dropped).toBeNull()
    const sizeOf = async (set: string) =>
      (await request(app).get(`/api/v1/sites/shop/sets/${set}`).expect(200)).body as {
        size: { hits: number }
      }
    expect((await sizeOf(sets[1]!.reached)).size.hits).toBe(2)
    expect((await sizeOf(sets[1]!.dropped!)).size.hits).toBe(1)
  })
  it('that nobody knows any more are gone, and it says what to do', async () => {
    const answer = await request(app)
      .post('/api/v1/sites/shop/close-up')
      .send({ lens, selection: { type: 'set', set: 'forgotten' } })
      .expect(410)
    expect(answer.body).toMatchObject({ hint: expect.stringContaining('definition') as unknown })
  })
})

describe('labels', () => {
  const rule = { kinds: ['click'], element: { is: 'equal', to: '#picture' } }
  const path = '/api/v1/sites/shop/actions'
  it('name actions that count for the past at once, in any condition', async () => {
    const made = (await request(app).post(path).send({ name: 'Picture', rule }).expect(200)).body as {
      id: number
    }
    const steps = [
      { type: 'page', page: '/' },
      { type: 'event', name: 'Picture', event: { action: 'Picture' } },
    ]
    const result = await ask<{ converted: number }>('/funnel', { lens, steps })
    expect(result.converted).toBe(1)
    const changed = { kinds: ['page'], page: { is: 'equal', to: '/thanks' } }
    await request(app).put(`${path}/${made.id}`).send({ name: 'Picture', rule: changed }).expect(200)
    expect(
      (await ask<{ steps: { sessions: number }[] }>('/funnel', { lens, steps })).steps[1]!.sessions,
    ).toBe(1)
    await request(app).post(path).send({ name: 'Picture', rule }).expect(409)
    const funnel = (
      await request(app).post('/api/v1/sites/shop/funnels').send({ name: 'With it', steps }).expect(200)
    ).body as { id: number }
    const refused = await request(app).delete(`${path}/${made.id}`).expect(409)
    expect((refused.body as { detail: string }).detail).toContain('funnel “With it”')
    await request(app).put(`${path}/${made.id}`).send({ name: 'Renamed', rule }).expect(409)
    await request(app).delete(`/api/v1/sites/shop/funnels/${funnel.id}`).expect(200)
    await request(app).delete(`${path}/${made.id}`).expect(200)
    expect((await request(app).get(path).expect(200)).body).toEqual([])
  })
  it('group pages anew, for all data', async () => {
    const urls = await ask<{ path: string }[]>('/urls', { lens })
    expect(urls.map((url) => url.path).sort()).toEqual(['/', '/items/1', '/items/2', '/thanks'])
    const known = (await request(app).get('/api/v1/sites')).body as { pageGroups: object[] }[]
    const put = (pageGroups: object[]) =>
      request(app).put('/api/v1/sites/shop/page-groups').send({ pageGroups })
    await put([{ name: 'First item', pattern: '/items/1' }]).expect(200)
    const seen = { type: 'page', page: 'First item' }
    expect((await ask<{ converted: number }>('/funnel', { lens, steps: [seen] })).converted).toBe(2)
    await put([{ name: 'Bad', pattern: 'items' }]).expect(400)
    // What a funnel uses stays, and says who uses it; what one must know of it comes along.
    const described = {
      name: 'First item',
      pattern: '/items/1',
      description: 'The one in the shop window',
      owner: 'Ada',
    }
    await put([described]).expect(200)
    const funnels = '/api/v1/sites/shop/funnels'
    const { id } = (
      await request(app)
        .post(funnels)
        .send({ name: 'To it', steps: [seen] })
        .expect(200)
    ).body as {
      id: number
    }
    const uses = await request(app).get('/api/v1/sites/shop/page-groups/uses').expect(200)
    expect(uses.body).toEqual({ 'First item': ['funnel “To it”'] })
    const refused = await put([{ ...described, name: 'Another name' }]).expect(409)
    expect((refused.body as { detail: string }).detail).toBe('“First item” is used by funnel “To it”.')
    const sites = (await request(app).get('/api/v1/sites')).body as { pageGroups: object[] }[]
    expect(sites[0]!.pageGroups).toEqual([described])
    await request(app).delete(`${funnels}/${id}`).expect(200)
    await put(known[0]!.pageGroups).expect(200)
    expect((await ask<{ converted: number }>('/funnel', { lens, steps: [seen] })).converted).toBe(0)
  })
})

describe('segments', () => {
  const path = '/api/v1/sites/shop/segments'
  it('hang from the one they were cut from, which stays as long as they do', async () => {
    const create = async (body: object) =>
      (await request(app).post(path).send(body).expect(200)).body as { id: number; parentId: number | null }
    const cut = { condition: { type: 'text', of: 'device', test: { is: 'equal', to: 'desktop' } } }
    const parent = await create({ name: 'Desktop', cut, note: 'why' })
    const child = await create({
      name: 'First',
      parentId: parent.id,
      cut: { condition: { type: 'visit', is: 'first' } },
    })
    expect(child.parentId).toBe(parent.id)
    await request(app).post(path).send({ name: 'Orphan', parentId: 99_999, cut }).expect(404)
    await request(app).put(`${path}/${child.id}`).send({ name: 'First visits', note: 'n' }).expect(200)
    expect((await request(app).get(path).expect(200)).body).toMatchObject([
      { name: 'Desktop', note: 'why' },
      { name: 'First visits', parentId: parent.id, cut: { clean: [] } },
    ])
    await request(app).delete(`${path}/${parent.id}`).expect(409)
    await request(app).delete(`${path}/${child.id}`).expect(200)
    await request(app).delete(`${path}/${parent.id}`).expect(200)
  })
  it('are inspected: contents, sequences, sizes, visitors', async () => {
    const everyone = { lens, selection: { type: 'everyone' } }
    const held = await ask<{ contents: { page: string; selected: { hits: number } }[] }>(
      '/contents',
      everyone,
    )
    expect(held.contents.find(({ page: name }) => name === '/')!.selected.hits).toBe(3)
    const raw = await ask<{ total: number; sequences: { tokens: number[] }[] }>('/sequences', everyone)
    expect(raw.total).toBe(4)
    expect(raw.sequences.map(({ tokens }) => tokens.length).sort()).toEqual([1, 1, 2, 3])
    const { sizes } = await ask<{ sizes: { hits: number }[] }>('/sizes', {
      questions: [everyone, { lens, selection: { type: 'page', page: '/thanks' } }],
    })
    expect(sizes.map(({ hits }) => hits)).toEqual([4, 1])
    const between = await ask<{ continued: number }[]>('/between', { lens, steps })
    expect(between.map(({ continued }) => continued)).toEqual([2, 1, 0])
    const visitors = await request(app)
      .get('/api/v1/sites/shop/visitors.txt')
      .query({ question: JSON.stringify(everyone) })
      .expect(200)
    expect(visitors.text.trim().split('\n').sort()).toEqual(['v0', 'v1', 'v2', 'v3'])
  })
  it('leave noise out where the lens says so', async () => {
    const clean = [{ type: 'events', event: { kinds: ['page'], page: { is: 'equal', to: '/thanks' } } }]
    expect((await ask<{ converted: number }>('/funnel', { lens: { ...lens, clean }, steps })).converted).toBe(
      0,
    )
  })
})

describe('one visitor', () => {
  it('is deleted with all that is known of them, and nobody else is', async () => {
    await request(app).delete('/api/v1/sites/shop/visitors/v3').expect(200, { sessions: 1 })
    await expect
      .poll(async () => (await ask<{ sessions: number }>('/funnel', { lens, steps })).sessions, {
        timeout: 5000,
      })
      .toBe(3)
    const left = await database.sequelize.query<{ visitor: string }>('SELECT visitor FROM sessions', {
      type: QueryTypes.SELECT,
    })
    expect(left.map(({ visitor }) => visitor).sort()).toEqual(['v0', 'v1', 'v2'])
    await request(app).delete('/api/v1/sites/shop/visitors/v3').expect(404)
  })
})

describe('errors', () => {
  it('are problem details', async () => {
    const lost = await request(app).get('/api/v1/nothing').expect(404)
    expect(lost.headers['content-type']).toMatch('application/problem+json')
    expect(lost.body).toMatchObject({ status: 404, code: 'not-found' })
    const bad = await request(app)
      .post('/api/v1/sites/shop/funnel')
      .set('content-type', 'application/json')
      .send('{')
      .expect(400)
    expect(bad.body).toHaveProperty('hint')
    await request(app).post('/api/v1/sites/nobody/funnel').send({ lens, steps }).expect(404)
    const steps9 = Array.from({ length: 9 }, () => steps[0])
    const many = await request(app)
      .post('/api/v1/sites/shop/funnel')
      .send({ lens, steps: steps9 })
      .expect(400)
    expect((many.body as { detail: string }).detail).toContain('at most 8 steps')
  })
})
