import { describe, expect, it } from 'vitest'
import { brokenAround } from './evidence.ts'

const error = (t: number, message: string, stack?: string) => ({ t, kind: 'error', message, stack })
const request = (t: number, status: number) => ({ t, kind: 'request', path: '/api/pay', status, ms: 812.4 })

describe('what broke around a moment', () => {
  it('is errors with their stacks and failed requests, the nearest three', () => {
    const lines = [
      { t: 0, kind: 'page' },
      error(1000, 'far'),
      error(58_000, 'third', 'at pay (app.js:1)'),
      request(59_500, 200),
      request(59_600, 0),
      request(60_100, 503),
      error(62_900, 'fourth'),
      error(200_000, 'too far'),
    ]
    expect(brokenAround(lines, 60_000, 30_000)).toEqual([
      { label: 'Failed request', text: 'GET /api/pay 503 after 812 ms' },
      { label: 'Failed request', text: 'GET /api/pay no answer after 812 ms' },
      { label: 'Error', text: 'third\nat pay (app.js:1)' },
    ])
  })
  it('is nothing where nothing broke', () => {
    expect(brokenAround([{ t: 0, kind: 'page' }, request(5, 204)], 0, Infinity)).toEqual([])
  })
})
