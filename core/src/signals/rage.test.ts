import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import type { Line } from '../events/line.ts'
import { detectSignals } from './detect.ts'
import type { Click } from './rage.ts'
import { rageBursts } from './rage.ts'

describe('rageBursts', () => {
  interface Inputs {
    clicks: Click[]
    window_ms: number
    radius_px: number
    least_clicks: number
  }
  const cases = casesOf<Inputs, { bursts: number; clicks_per_burst: number[] }>('trade', 'rage_click')
  it.each(cases)('finds the bursts: $id ($source)', ({ inputs, expected }) => {
    const bursts = rageBursts(inputs.clicks, {
      windowMs: inputs.window_ms,
      radiusPx: inputs.radius_px,
      leastClicks: inputs.least_clicks,
    })
    expect(bursts.map((burst) => burst.length)).toEqual(expected.clicks_per_burst)
  })
})

describe('detectSignals', () => {
  const click = (t: number, more: Partial<Line> = {}): Line => ({
    visitor: 'v',
    t,
    kind: 'click',
    x: 10,
    y: 10,
    effect: 'none',
    target: { selector: '#picture', tag: 'div' },
    ...more,
  })
  const kinds = (lines: Line[]) => detectSignals(lines).map(({ kind, lines: own }) => [kind, own.length])

  it('sees four fast clicks without effect as one rage click and one dead click', () => {
    expect(kinds([0, 200, 400, 600].map((t) => click(t)))).toEqual([
      ['rage click', 4],
      ['dead click', 4],
    ])
  })

  it('does not take quick clicks that all change something for rage', () => {
    expect(kinds([0, 200, 400, 600].map((t) => click(t, { effect: 'change' })))).toEqual([])
  })

  it('counts dead clicks on one element apart once time has passed', () => {
    expect(kinds([click(0), click(10_000)])).toEqual([
      ['dead click', 1],
      ['dead click', 1],
    ])
  })

  it('never calls a click into a form field dead, nor one whose effect is not known', () => {
    expect(kinds([click(0, { target: { selector: '#name', tag: 'input' } })])).toEqual([])
    expect(kinds([click(0, { effect: undefined })])).toEqual([])
  })

  it('tells errors, failed requests and missing pages', () => {
    const base = { visitor: 'v', t: 0 } as const
    expect(
      kinds([
        { ...base, kind: 'error', message: 'x is undefined' },
        { ...base, kind: 'request', path: '/api', status: 500 },
        { ...base, kind: 'request', path: '/api', status: 200 },
        { ...base, kind: 'request', path: '/api' },
        { ...base, kind: 'page', url: '/gone', status: 404 },
      ]),
    ).toEqual([
      ['script error', 1],
      ['failed request', 1],
      ['not found', 1],
    ])
  })
})
