import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import { Dictionaries } from '../../columns/dictionaries.ts'
import type { Line } from '../../events/line.ts'
import type { SessionRow } from '../../events/session-row.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { about, answerTo, namesOf } from '../../testing/world.ts'
import { landings } from './landings.ts'

const page = (t: number, url: string, more: Partial<Line> = {}): Line => ({
  ...{ visitor: 'v', t, kind: 'page', url },
  ...more,
})
const row = (id: number, campaign: string, lines: Line[]): SessionRow => ({
  ...{ id, visitor: `v${id}`, returning: false, device: {}, channel: 'Paid search', campaign, lines },
})
const ROWS = [
  row(1, 'spring', [page(0, '/sale', { status: 404, load: 100 })]),
  row(2, 'spring', [page(0, '/sale', { status: 404, load: 300 }), page(10, '/a')]),
  row(3, 'autumn', [
    page(0, '/a', { load: 5000 }),
    page(10, '/done'),
    { visitor: 'v', t: 20, kind: 'action', name: 'buy', value: 12.5 },
  ]),
  row(4, 'autumn', [{ visitor: 'v', t: 0, kind: 'error', message: 'x' }, page(5, '/a'), page(9, '/b')]),
]

describe('landings', () => {
  it('say for each campaign what it brings and how broken, slow and hard its landing pages are', () => {
    const dictionaries = new Dictionaries()
    const blocks = [ROWS.slice(0, 3), ROWS.slice(3)].map((rows) => buildBlock(rows, dictionaries))
    const answer = answerTo(
      landings,
      blocks.map((block) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
      { by: 'campaign' },
      about(namesOf(dictionaries), { goal: '/done' }),
    )
    expect(answer).toMatchObject({ sessions: 4, converted: { hits: 1, base: 4 }, more: 0 })
    expect(answer.landings[0]).toMatchObject({
      ...{ page: '/a', from: 'autumn', sessions: 2, value: 12.5 },
      ...{ bounced: { hits: 0, base: 2 }, converted: { hits: 1, base: 2 }, notFound: { hits: 0 } },
      // The slow page is trouble of the landing; what failed before it is not.
      ...{ troubled: { hits: 1, base: 2 }, load: { told: 1, p75: 5000 } },
    })
    expect(answer.landings[1]).toMatchObject({
      ...{ page: '/sale', from: 'spring', sessions: 2, value: 0 },
      ...{ bounced: { hits: 1, base: 2 }, notFound: { hits: 2, base: 2 }, troubled: { hits: 2 } },
      load: { told: 2, p75: 250 },
    })
  })
})
