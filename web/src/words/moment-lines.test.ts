import type { SessionMoment } from '@dust-trail/api'
import { expect, it } from 'vitest'
import { momentLines, saysIn } from './moment-lines.ts'

const at = (atMs: number, kind: SessionMoment['kind'], selector: string, signal = false): SessionMoment => ({
  ...{ atMs, kind, label: selector, signal, page: 'Home', selector },
})

it('a run of clicks is one line with its signals; other signals stand alone', () => {
  const lines = momentLines([
    at(0, 'page', ''),
    at(100, 'click', '#a'),
    at(100, 'rage click', '#a', true),
    at(200, 'click', '#a'),
    at(300, 'click', '#a'),
    at(300, 'dead click', '#a', true),
    at(400, 'error', '#b'),
    at(300, 'failing click', '#a', true),
    at(450, 'script error', '#c', true),
    at(500, 'click', '#a'),
  ])
  expect(
    lines.map(({ moment, times, signals }) => [moment.kind, times, signals.map(({ kind }) => kind)]),
  ).toEqual([
    ['page', 1, []],
    ['click', 3, ['rage click', 'dead click', 'failing click']],
    ['error', 1, []],
    ['script error', 1, ['script error']],
    ['click', 1, []],
  ])
  expect(lines.filter((line) => saysIn(line, ' DEAD ')).map(({ times }) => times)).toEqual([3])
})
