import { parse } from 'csv-parse/sync'
import request from 'supertest'
import { describe, expect, it } from 'vitest'
import { lens, steps, T, testShop } from '../test-shop.ts'
const shop = testShop()
const { ask } = shop

describe('funnels', () => {
  it('are saved, changed and deleted', async () => {
    const made = await ask<{ id: number }>('/funnels', { name: 'Buy', steps })
    await request(shop.app)
      .put(`/api/v1/sites/shop/funnels/${made.id}`)
      .send({ name: 'Buy', steps: steps.slice(1) })
      .expect(200)
    const list = await request(shop.app).get('/api/v1/sites/shop/funnels').expect(200)
    expect(list.body).toMatchObject([{ id: made.id, name: 'Buy', steps: steps.slice(1) }])
    await request(shop.app).delete(`/api/v1/sites/shop/funnels/${made.id}`).expect(200)
    await request(shop.app).delete(`/api/v1/sites/shop/funnels/${made.id}`).expect(404)
  })
  it('are shown in order, the one first that was marked last; a refused change takes no mark away', async () => {
    const path = '/api/v1/sites/shop/funnels'
    const first = async () =>
      ((await request(shop.app).get(path).expect(200)).body as { name: string; isDefault: boolean }[]).filter(
        ({ isDefault }) => isDefault,
      )
    const [a, b] = [
      await ask<{ id: number }>('/funnels', { name: 'A', steps, isDefault: true }),
      await ask<{ id: number }>('/funnels', { name: 'B', steps }),
    ]
    expect(await first()).toMatchObject([{ name: 'A' }])
    await request(shop.app).put(`${path}/${b.id}`).send({ name: 'B', steps, isDefault: true }).expect(200)
    expect(await first()).toMatchObject([{ name: 'B' }])
    await request(shop.app).post(path).send({ name: '', steps, isDefault: true }).expect(400)
    await request(shop.app).put(`${path}/999999`).send({ name: 'C', steps, isDefault: true }).expect(404)
    expect(await first()).toMatchObject([{ name: 'B' }])
    for (const { id } of [a, b]) await request(shop.app).delete(`${path}/${id}`).expect(200)
  })
})

describe('fixes', () => {
  const draft = {
    title: 'Make the picture a link',
    hypothesis: 'It looks like one.',
    change: '',
    effort: 'hours',
    status: 'idea',
    lens,
    selection: { type: 'signal', kind: 'dead click', page: '/', selector: '#picture' },
    sessionId: null,
  }
  const { title, hypothesis, change, effort } = draft
  it('keep their evidence, are listed with today’s numbers, changed and deleted', async () => {
    const fix = await ask<{ id: number; evidence: object }>('/fixes', draft)
    expect(fix.evidence).toMatchObject({ met: { hits: 0, base: 1 }, others: { hits: 1, base: 2 }, lost: 0.5 })
    const list = await ask<{ fix: { id: number }; price: { lost: number } }[]>('/fixes/list', { lens })
    expect(list.map((row) => [row.fix.id, row.price.lost])).toEqual([[fix.id, 0.5]])
    const changed = await request(shop.app)
      .put(`/api/v1/sites/shop/fixes/${fix.id}`)
      .send({ title, hypothesis, change, effort, status: 'shipped' })
      .expect(200)
    expect(changed.body).toMatchObject({ status: 'shipped', evidence: fix.evidence })
    await request(shop.app).delete(`/api/v1/sites/shop/fixes/${fix.id}`).expect(200)
    await request(shop.app).post(`/api/v1/sites/shop/fixes/${fix.id}/show`).send({ lens }).expect(404)
  })
  it('need a hypothesis', async () => {
    const refused = await request(shop.app)
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
    const ordered = await request(shop.app)
      .put(`/api/v1/sites/shop/trails/${trail.id}/order`)
      .send(order)
      .expect(200)
    expect((ordered.body as { marks: { id: number }[] }).marks.map(({ id }) => id)).toEqual(order.marks)
    await request(shop.app)
      .put(`/api/v1/sites/shop/trails/${trail.id}/order`)
      .send({ marks: [first.id] })
      .expect(409)
  })
  it('are renamed and deleted with their marks, which are changed and deleted one by one', async () => {
    const trail = await ask<{ id: number }>('/trails', { name: 'Second case' })
    const at = `/api/v1/sites/shop/trails/${trail.id}`
    const renamed = await request(shop.app).put(at).send({ name: 'The second case' }).expect(200)
    expect(renamed.body).toMatchObject({ name: 'The second case', marks: [] })
    const question = { lens, selection: { type: 'page', page: '/' } }
    const mark = { view: 'Home', address: '/pages', sentence: 'Seen.', question }
    const { id } = await ask<{ id: number }>(`/trails/${trail.id}/marks`, mark)
    const changed = await request(shop.app)
      .put(`/api/v1/sites/shop/marks/${id}`)
      .send({ sentence: 'Seen twice.' })
      .expect(200)
    expect(changed.body).toMatchObject({ sentence: 'Seen twice.', now: { hits: 3, base: 4 } })
    await request(shop.app).delete(`/api/v1/sites/shop/marks/${id}`).expect(200)
    await request(shop.app).delete(`/api/v1/sites/shop/marks/${id}`).expect(404)
    await request(shop.app).delete(at).expect(200)
    const gone = await request(shop.app).put(at).send({ name: 'Nobody' }).expect(404)
    expect(gone.body).toMatchObject({ detail: expect.stringContaining('trail') as unknown })
    const left = (await request(shop.app).get('/api/v1/sites/shop/trails').expect(200)).body as {
      id: number
    }[]
    expect(left.map((one) => one.id)).not.toContain(trail.id)
  })
  it('show the number over the days, or a table of any question, as it was and as it is through another lens', async () => {
    const trail = await ask<{ id: number }>('/trails', { name: 'Pictures' })
    const at = `/trails/${trail.id}/marks`
    const longer = { ...lens, from: '2026-05-31', to: '2026-06-02' }
    const mark = {
      ...{ view: 'Home', address: '/pages', sentence: '', heading: 'Home' },
      question: { lens: longer, selection: { type: 'page', page: '/' } },
    }
    expect(await ask(at, mark)).toMatchObject({ shows: { form: 'figure' }, picture: null, heading: 'Home' })
    const trend = await ask<{ id: number; picture: unknown }>(at, { ...mark, shows: { form: 'trend' } })
    const empty = { hits: 0, base: 0, share: null }
    expect(trend.picture).toMatchObject({
      form: 'trend',
      parts: [
        { from: '2026-05-31', to: '2026-05-31', rate: empty },
        { from: '2026-06-01', to: '2026-06-01', rate: { hits: 3, base: 4 } },
        { from: '2026-06-02', to: '2026-06-02', rate: empty },
      ],
    })
    const shows = {
      ...{ form: 'table', title: 'Spots', question: 'friction', asked: {}, rows: 1 },
      columns: [
        { of: 'kind', head: 'Signal', as: 'text' },
        { of: 'met.hits', head: 'Sessions', as: 'count' },
        { of: 'nothing.of.the.kind', head: 'None', as: 'text' },
      ],
    }
    const table = await ask<{ id: number; picture: unknown }>(at, { ...mark, shows })
    expect(table.picture).toEqual({ form: 'table', rows: [[expect.any(String), 1, null]], more: 1 })
    expect(await ask(`/marks/${table.id}/picture`, {})).toEqual(table.picture)
    const desktops = { ...longer, devices: ['desktop'] }
    expect(await ask(`/marks/${table.id}/picture`, { lens: desktops })).toMatchObject({ rows: [], more: 0 })
    expect(
      await ask(`/marks/${trend.id}/picture`, { lens: { ...desktops, to: '2026-06-01' } }),
    ).toMatchObject({
      parts: [{ rate: empty }, { rate: { hits: 2, base: 3 } }],
    })
    const refused = async (more: object) =>
      (
        (await request(shop.app)
          .post(`/api/v1/sites/shop${at}`)
          .send({ ...mark, shows: { ...shows, ...more } })
          .expect(400)) as { body: { detail: string } }
      ).body.detail
    expect(await refused({ question: 'size' })).toContain('No question that answers with a table')
    expect(await refused({ asked: { nonsense: 1 } })).toContain('nonsense')
    const moved = await request(shop.app)
      .put(`/api/v1/sites/shop/marks/${table.id}`)
      .send({ heading: 'Elsewhere' })
      .expect(200)
    expect(moved.body).toMatchObject({ heading: 'Elsewhere', sentence: '', shows: { title: 'Spots' } })
    // As long as there is no account nothing is anybody's own.
    await request(shop.app).post('/api/v1/sites/shop/trails').send({ name: 'Mine', own: true }).expect(400)
  })
})

describe('labels', () => {
  const rule = { kinds: ['click'], element: { is: 'equal', to: '#picture' } }
  const path = '/api/v1/sites/shop/actions'
  it('name actions that count for the past at once, in any condition', async () => {
    const made = (await request(shop.app).post(path).send({ name: 'Picture', rule }).expect(200)).body as {
      id: number
    }
    const steps = [
      { type: 'page', page: '/' },
      { type: 'event', name: 'Picture', event: { action: 'Picture' } },
    ]
    const result = await ask<{ converted: number }>('/funnel', { lens, steps })
    expect(result.converted).toBe(1)
    const changed = { kinds: ['page'], page: { is: 'equal', to: '/thanks' } }
    await request(shop.app).put(`${path}/${made.id}`).send({ name: 'Picture', rule: changed }).expect(200)
    expect(
      (await ask<{ steps: { sessions: number }[] }>('/funnel', { lens, steps })).steps[1]!.sessions,
    ).toBe(1)
    await request(shop.app).post(path).send({ name: 'Picture', rule }).expect(409)
    const funnel = (
      await request(shop.app).post('/api/v1/sites/shop/funnels').send({ name: 'With it', steps }).expect(200)
    ).body as { id: number }
    const refused = await request(shop.app).delete(`${path}/${made.id}`).expect(409)
    expect((refused.body as { detail: string }).detail).toContain('funnel “With it”')
    await request(shop.app).put(`${path}/${made.id}`).send({ name: 'Renamed', rule }).expect(409)
    await request(shop.app).delete(`/api/v1/sites/shop/funnels/${funnel.id}`).expect(200)
    await request(shop.app).delete(`${path}/${made.id}`).expect(200)
    expect((await request(shop.app).get(path).expect(200)).body).toEqual([])
  })
  it('group pages anew, for all data', async () => {
    const urls = await ask<{ path: string }[]>('/urls', { lens })
    expect(urls.map((url) => url.path).sort()).toEqual(['/', '/items/1', '/items/2', '/thanks'])
    const known = (await request(shop.app).get('/api/v1/sites')).body as { pageGroups: object[] }[]
    const put = (pageGroups: object[]) =>
      request(shop.app).put('/api/v1/sites/shop/page-groups').send({ pageGroups })
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
      await request(shop.app)
        .post(funnels)
        .send({ name: 'To it', steps: [seen] })
        .expect(200)
    ).body as {
      id: number
    }
    const uses = await request(shop.app).get('/api/v1/sites/shop/page-groups/uses').expect(200)
    expect(uses.body).toEqual({ 'First item': ['funnel “To it”'] })
    const refused = await put([{ ...described, name: 'Another name' }]).expect(409)
    expect((refused.body as { detail: string }).detail).toBe('“First item” is used by funnel “To it”.')
    const sites = (await request(shop.app).get('/api/v1/sites')).body as { pageGroups: object[] }[]
    expect(sites[0]!.pageGroups).toEqual([described])
    await request(shop.app).delete(`${funnels}/${id}`).expect(200)
    await put(known[0]!.pageGroups).expect(200)
    expect((await ask<{ converted: number }>('/funnel', { lens, steps: [seen] })).converted).toBe(0)
  })
})

describe('segments', () => {
  const path = '/api/v1/sites/shop/segments'
  it('hang from the one they were cut from, which stays as long as they do', async () => {
    const create = async (body: object) =>
      (await request(shop.app).post(path).send(body).expect(200)).body as {
        id: number
        parentId: number | null
      }
    const cut = { condition: { type: 'text', of: 'device', test: { is: 'equal', to: 'desktop' } } }
    const parent = await create({ name: 'Desktop', cut, note: 'why' })
    const child = await create({
      name: 'First',
      parentId: parent.id,
      cut: { condition: { type: 'visit', is: 'first' } },
    })
    expect(child.parentId).toBe(parent.id)
    await request(shop.app).post(path).send({ name: 'Orphan', parentId: 99_999, cut }).expect(404)
    await request(shop.app).put(`${path}/${child.id}`).send({ name: 'First visits', note: 'n' }).expect(200)
    expect((await request(shop.app).get(path).expect(200)).body).toMatchObject([
      { name: 'Desktop', note: 'why' },
      { name: 'First visits', parentId: parent.id, cut: { clean: [] } },
    ])
    await request(shop.app).delete(`${path}/${parent.id}`).expect(409)
    await request(shop.app).delete(`${path}/${child.id}`).expect(200)
    await request(shop.app).delete(`${path}/${parent.id}`).expect(200)
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
    const visitors = await request(shop.app)
      .get('/api/v1/sites/shop/visitors.txt')
      .query({ question: JSON.stringify(everyone) })
      .expect(200)
    expect(visitors.text.trim().split('\n').sort()).toEqual(['v0', 'v1', 'v2', 'v3'])
  })
  it('are taken along as a table, every session a row', async () => {
    const rows = async (question: object) => {
      const answer = await request(shop.app)
        .get('/api/v1/sites/shop/sessions.csv')
        .query({ question: JSON.stringify(question) })
        .expect(200)
        .expect('content-type', /csv/)
      return parse<Record<string, string>>(answer.text, { columns: true })
    }
    const wide = { from: '2020-01-01', to: '2030-12-31', devices: [] }
    const all = await rows({ lens: wide, selection: { type: 'everyone' } })
    expect(all.map(({ visitor }) => visitor).sort()).toEqual(['v0', 'v1', 'v2', 'v3'])
    expect(all.find(({ visitor }) => visitor === 'v2')).toMatchObject({
      ...{ device: 'mobile', entry: '/', pages: '1', clicks: '3', 'dead click': '1', 'script error': '' },
      started: new Date(T).toISOString(),
    })
    const dropped = { type: 'funnel', steps, step: 0, side: 'dropped' }
    expect((await rows({ lens, selection: dropped })).map(({ visitor }) => visitor)).toEqual(['v2'])
    const nobody = { ...lens, from: '2020-01-01', to: '2020-01-02' }
    expect(await rows({ lens: nobody, selection: { type: 'everyone' } })).toEqual([])
    await request(shop.app).get('/api/v1/sites/shop/sessions.csv?question=x').expect(400)
  })
  it('leave noise out where the lens says so', async () => {
    const clean = [{ type: 'events', event: { kinds: ['page'], page: { is: 'equal', to: '/thanks' } } }]
    expect((await ask<{ converted: number }>('/funnel', { lens: { ...lens, clean }, steps })).converted).toBe(
      0,
    )
  })
})
