import request from 'supertest'
import { describe, expect, it } from 'vitest'
import { lens, testShop } from '../test-shop.ts'

const shop = testShop()
const { ask } = shop

const draft = {
  ...{ title: 'Make the picture a link', hypothesis: 'It looks like one.', change: '' },
  ...{ effort: 'hours', status: 'idea', lens, sessionId: null },
  selection: { type: 'signal', kind: 'dead click', page: '/', selector: '#picture' },
}
const { title, hypothesis, change, effort } = draft
const fields = { title, hypothesis, change, effort, status: 'idea' }

interface Fix {
  id: number
  title: string
  status: string
  position: number
  shippedDay: string | null
}
const path = '/api/v1/sites/shop/fixes'
const make = (more = {}) => ask<Fix>('/fixes', { ...draft, ...more })
const send = async (method: 'put' | 'post', to: string, body: object | undefined, status = 200) =>
  (await request(shop.app)[method](`${path}${to}`).send(body).expect(status)).body as Fix
const historyOf = async (id: number) =>
  (await ask<{ history: { kind: string; words: string }[] }>(`/fixes/${id}/show`, { lens })).history.map(
    ({ kind, words }) => `${kind}: ${words}`,
  )
const list = async () =>
  (await ask<{ fix: Fix }[]>('/fixes/list', { lens })).map(({ fix }) => fix).sort((a, b) => a.id - b.id)

describe('a fix', () => {
  it('keeps what happened to it, with reasons, and what was said', async () => {
    const { id } = await make()
    await send('put', `/${id}`, { ...fields, owner: 'Ada', status: 'ready', reason: 'cheap' })
    await send('put', `/${id}`, { ...fields, owner: 'Ada', status: 'rejected', reason: 'no' })
    await send('post', `/${id}/comments`, { text: 'Pity.' })
    await send('post', `/${id}/comments`, { text: '  ' }, 400)
    expect(await historyOf(id)).toEqual([
      'created: written down as idea',
      'status: idea → ready: cheap',
      'changed: owner: nothing → “Ada”',
      'status: ready → rejected: no',
      'comment: Pity.',
    ])
    await request(shop.app).delete(`${path}/${id}`).expect(200)
  })

  it('stands in the order it was put in, and takes the status of the column it was put into', async () => {
    const [a, b, c] = [await make({ title: 'a' }), await make({ title: 'b' }), await make({ title: 'c' })]
    expect([a, b, c].map(({ position }) => position)).toEqual([1, 2, 3])
    await send('put', '/order', { status: 'idea', ids: [c.id, a.id, b.id] })
    await send('put', '/order', { status: 'in work', ids: [b.id] })
    const shown = await list()
    expect(shown.map(({ title: name, status, position }) => [name, status, position])).toEqual([
      ['a', 'idea', 2],
      ['b', 'in work', 1],
      ['c', 'idea', 1],
    ])
    expect((await historyOf(b.id)).at(-1)).toBe('status: idea → in work')
    await send('put', '/order', { status: 'idea', ids: [999_999] }, 404)
    for (const { id } of shown) await request(shop.app).delete(`${path}/${id}`).expect(200)
  })

  it('takes another one in with its history, and gives one off with the same evidence', async () => {
    const [into, from] = [
      await make({ title: 'into' }),
      await make({ title: 'from', links: ['https://a.example/1'] }),
    ]
    await send('post', `/${from.id}/comments`, { text: 'Said there.' })
    const merged = await send('post', `/${into.id}/merge`, { other: from.id })
    expect(merged).toMatchObject({
      links: ['https://a.example/1'],
      selection: { type: 'where', condition: { type: 'any', of: [{}, {}] } },
    })
    expect(await historyOf(into.id)).toEqual(
      expect.arrayContaining([
        'comment: Said there.',
        'merged: “from” is part of it now: It looks like one.',
      ]),
    )
    await send('post', `/${into.id}/merge`, { other: into.id }, 400)
    await send('post', `/${into.id}/merge`, { other: from.id }, 404)
    const half = await send('post', `/${into.id}/split`, { title: 'half' })
    expect(half).toMatchObject({ title: 'half', selection: (merged as unknown as typeof draft).selection })
    expect(await historyOf(half.id)).toEqual(['split: taken out of “into”'])
    for (const { id } of await list()) await request(shop.app).delete(`${path}/${id}`).expect(200)
  })

  it('is verified once it was shipped and a full day has passed, and not before', async () => {
    const { id } = await make()
    await send('put', `/${id}`, { ...fields, status: 'verified' }, 409)
    const shipped = await send('put', `/${id}`, { ...fields, status: 'shipped' })
    expect(shipped.shippedDay).toMatch(/^\d{4}-\d{2}-\d{2}$/)
    expect(await send('post', `/${id}/verify`, undefined)).toEqual({ windows: null, verification: null })
    await send('put', `/${id}`, { ...fields, status: 'shipped', shippedDay: '2026-05-20' })
    expect(await send('post', `/${id}/verify`, undefined)).toMatchObject({
      windows: { days: 7, after: { from: '2026-05-21', to: '2026-05-27' } },
      verification: { verdict: 'cannot tell yet' },
    })
    const verified = await send('put', `/${id}`, { ...fields, status: 'verified', shippedDay: '2026-05-20' })
    expect(verified).toMatchObject({ verified: { verdict: 'cannot tell yet', met: { hits: 0, base: 0 } } })
    await request(shop.app).delete(`${path}/${id}`).expect(200)
  })

  it('refuses links that are no addresses of pages, and days that are none', async () => {
    for (const wrong of [{ links: ['javascript:alert(1)'] }, { shippedDay: 'soon' }, { status: 'proposed' }])
      await request(shop.app)
        .post(path)
        .send({ ...draft, ...wrong })
        .expect(400)
  })
})

it('a problem that was found is put aside with a reason, and taken back', async () => {
  const problem = { page: '/', selector: '#picture', kind: 'dead click', name: '' }
  const aside = '/api/v1/sites/shop/dismissed'
  await request(shop.app).post(aside).send({ problem, reason: ' ' }).expect(400)
  const made = await request(shop.app).post(aside).send({ problem, reason: 'Known.' }).expect(200)
  const { id } = made.body as { id: number }
  expect((await request(shop.app).get(aside).expect(200)).body).toMatchObject([
    { id, problem, reason: 'Known.' },
  ])
  await request(shop.app).delete(`${aside}/${id}`).expect(200)
  await request(shop.app).delete(`${aside}/${id}`).expect(404)
})

describe('goals', () => {
  const save = (goals: object[], status = 200) =>
    request(shop.app).put('/api/v1/sites/shop/goals').send({ goals }).expect(status)
  const reached = async () =>
    (
      await ask<{ goals: { name: string; reached: { hits: number }; value: number | null }[] }>('/goals', {
        lens,
      })
    ).goals
  const page = (to: string) => ({ kinds: ['page'], page: { is: 'equal', to } })
  it('are pages or anything else, the first is the main one; prices follow it at once', async () => {
    expect(await reached()).toMatchObject([{ name: '/thanks', reached: { hits: 1 } }])
    await save([
      { name: 'Pressed', event: { kinds: ['click'] }, value: 3 },
      { name: 'Bought', event: page('/thanks'), value: null },
    ])
    expect(await reached()).toMatchObject([
      { name: 'Pressed', reached: { hits: 1 }, value: 3 },
      { name: 'Bought', reached: { hits: 1 }, value: null },
    ])
    const priced = await ask<{ met: { hits: number } }>('/price', { lens, selection: draft.selection })
    expect(priced.met.hits).toBe(1)
    const sites = await request(shop.app).get('/api/v1/sites').expect(200)
    expect(sites.body).toMatchObject([{ goal: '', goals: [{ name: 'Pressed' }, { name: 'Bought' }] }])
  })
  it('are refused where two have one name, and a page group that one needs stays', async () => {
    const refused = await save(
      [
        { name: 'A', event: page('/'), value: null },
        { name: 'A', event: page('/thanks'), value: null },
      ],
      400,
    )
    expect(refused.body).toMatchObject({ code: 'name-taken' })
    await save([{ name: 'An item', event: page('An item'), value: null }])
    const kept = await request(shop.app)
      .put('/api/v1/sites/shop/page-groups')
      .send({ pageGroups: [] })
      .expect(409)
    expect((kept.body as { detail: string }).detail).toContain('goal')
    await save([])
    expect(await reached()).toEqual([])
    await save([{ name: '/thanks', event: page('/thanks'), value: null }])
  })
})
