import type { SessionMoment } from '@dust-trail/api'
import { expect, it } from 'vitest'
import { foldMoments } from './fold-moments.ts'

const moment = (atMs: number, kind: SessionMoment['kind'], label = ''): SessionMoment => ({
  ...{ atMs, kind, label, signal: false, page: 'Home', selector: '' },
})

it('runs of the same are one line, with the time since the line before', () => {
  const folded = foldMoments([
    moment(0, 'page'),
    moment(1000, 'click', 'Find'),
    moment(1200, 'click', 'Find'),
    moment(1300, 'click', 'Find'),
    moment(61_300, 'click', 'Book'),
    moment(61_400, 'click', 'Find'),
  ])
  expect(folded.map(({ moment: one, times, gapMs }) => [one.label, times, gapMs])).toEqual([
    ['', 1, 0],
    ['Find', 3, 1000],
    ['Book', 1, 60_000],
    ['Find', 1, 100],
  ])
})

it('of nothing is nothing', () => {
  expect(foldMoments([])).toEqual([])
})
