import type { Question } from '@dust-trail/api'
import { rate } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { whyDead } from './dead-marks.ts'

const NOW_MS = Date.UTC(2026, 10, 30)
const site = (retentionDays: number | null) =>
  ({ row: { retentionDays }, engine: { ask: () => Promise.resolve({ pages: [{ page: 'Home' }] }) } }) as never
const question = (selection: Question['selection'], to = '2026-11-20'): Question => ({
  lens: { from: '2026-11-01', to, devices: [] },
  selection,
})
const [then, nothing] = [rate(3, 4), rate(0, 4)]

describe('a mark that finds nothing any more', () => {
  const page: Question['selection'] = { type: 'page', page: 'Home' }
  const cases: [
    string,
    number | null,
    Question,
    now: { hits: number; base: number },
    reason: RegExp | null,
  ][] = [
    ['still finds something', 7, question(page), rate(1, 4), null],
    ['has days that are no longer kept', 7, question(page, '2026-11-10'), rate(0, 0), /kept for 7 days/],
    [
      'names a page that no longer is',
      null,
      question({ type: 'page', page: 'Old home' }),
      nothing,
      /“Old home”/,
    ],
    ['has no sessions left', null, question(page), rate(0, 0), /deleted/],
    [
      'asks for what no longer counts',
      null,
      question({ type: 'clicks', page: 'Home', which: 'dead' }),
      nothing,
      /thresholds/,
    ],
    ['asks for what nobody does', null, question(page), nothing, /none of them/],
  ]
  it.each(cases)('%s', async (_, retentionDays, asked, now, reason) => {
    const why = await whyDead(site(retentionDays), asked, then, now as typeof then, NOW_MS)
    if (reason) expect(why).toMatch(reason)
    else expect(why).toBeNull()
  })
  it('is not dead where it never found anything', async () => {
    expect(await whyDead(site(null), question(page), nothing, nothing, NOW_MS)).toBeNull()
  })
})
