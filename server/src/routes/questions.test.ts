import request from 'supertest'
import { describe, expect, it } from 'vitest'
import { lens, steps, testShop } from '../test-shop.ts'
const shop = testShop()
const { ask } = shop

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
    const shown = await request(shop.app)
      .get(`/api/v1/sites/shop/snapshots/${heat.snapshot.hash}`)
      .expect(200)
    expect(shown.body).toMatchObject({ title: 'Home', width: 800 })
  })

  it('lists one session with its signals', async () => {
    const { sessions } = await ask<{ sessions: { id: string }[] }>('/sessions', {
      lens,
      selection: { type: 'signal', kind: 'rage click', page: '/', selector: '#picture' },
      order: 'newest',
    })
    const one = await request(shop.app).get(`/api/v1/sites/shop/sessions/${sessions[0]!.id}`).expect(200)
    const moments = (one.body as { moments: { kind: string; signal: boolean }[] }).moments
    expect(moments.filter(({ signal }) => signal).map(({ kind }) => kind)).toEqual([
      'rage click',
      'dead click',
    ])
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
    const wrong = await request(shop.app)
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
    await request(shop.app).post('/api/v1/sites/shop/sessions').send(bad).expect(400)
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
    const again = await request(shop.app).get(`/api/v1/sites/shop/sets/${made.set}`).expect(200)
    expect(again.body).toMatchObject({ set: made.set, definition: { selection } })
  })
  it('stay as they were made, whatever counts as noise where they are asked about', async () => {
    const clean = [{ type: 'events', event: { kinds: ['page'], page: { is: 'equal', to: '/thanks' } } }]
    const made = await ask<{ set: string; size: { hits: number } }>('/sets', {
      lens: { ...lens, clean },
      selection: { ...selection, step: 1 },
    })
    const held = await ask<{ size: { hits: number } }>('/close-up', {
      lens,
      selection: { type: 'set', set: made.set },
    })
    // Who bought was lost where buying is noise.
    expect([made.size.hits, held.size.hits]).toEqual([2, 2])
    expect(
      (await ask<{ size: { hits: number } }>('/close-up', { lens, selection: { ...selection, step: 1 } }))
        .size.hits,
    ).toBe(1)
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
      (await request(shop.app).get(`/api/v1/sites/shop/sets/${set}`).expect(200)).body as {
        size: { hits: number }
      }
    expect((await sizeOf(sets[1]!.reached)).size.hits).toBe(2)
    expect((await sizeOf(sets[1]!.dropped!)).size.hits).toBe(1)
  })
  it('that nobody knows any more are gone, and it says what to do', async () => {
    const answer = await request(shop.app)
      .post('/api/v1/sites/shop/close-up')
      .send({ lens, selection: { type: 'set', set: 'forgotten' } })
      .expect(410)
    expect(answer.body).toMatchObject({ hint: expect.stringContaining('definition') as unknown })
  })
})

describe('tables', () => {
  it('come as CSV where that is asked for, formulas defused', async () => {
    const answer = await request(shop.app)
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
    const answer = await request(shop.app)
      .post(`/api/v1/sites/shop${path}`)
      .set('accept', 'text/csv')
      .send({ lens, ...body })
      .expect(200)
    expect(answer.text).toMatch(new RegExp(`^${header}`))
  })
})
