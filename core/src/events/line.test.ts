import { describe, expect, it } from 'vitest'
import { lineSchema } from './line.ts'

const page = { visitor: 'v', t: 0, kind: 'page', url: '/' }

describe('lineSchema', () => {
  it.each([
    [page],
    [{ ...page, t: '2026-03-29T01:30:00+01:00' }],
    [{ visitor: 'v', t: 1, kind: 'click', target: { selector: '#a' }, rx: 0.5, ry: 1, effect: 'none' }],
    [{ visitor: 'v', t: 1, kind: 'leave', ms: 10, unknown: 'kept' }],
  ])('takes %j', (line) => {
    expect(lineSchema.safeParse(line).success).toBe(true)
  })

  it('reads a time with offset as milliseconds and keeps unknown fields', () => {
    const line = lineSchema.parse({ ...page, t: '1970-01-01T01:00:01+01:00', colour: 'red' })
    expect(line.t).toBe(1000)
    expect(line['colour']).toBe('red')
  })

  it.each([
    ['visitor', { ...page, visitor: '' }],
    ['visitor', { t: 0, kind: 'page', url: '/' }],
    ['t', { ...page, t: 'yesterday' }],
    ['t', { ...page, t: '2026-03-29T01:30:00' }],
    ['t', { ...page, t: -1 }],
    ['kind', { ...page, kind: 'look' }],
    ['url', { visitor: 'v', t: 0, kind: 'page' }],
    ['target', { visitor: 'v', t: 0, kind: 'click' }],
    ['target.selector', { visitor: 'v', t: 0, kind: 'click', target: {} }],
    ['rx', { visitor: 'v', t: 0, kind: 'click', target: { selector: 'a' }, rx: 1.5 }],
    ['effect', { visitor: 'v', t: 0, kind: 'click', target: { selector: 'a' }, effect: 'boom' }],
    ['depth', { visitor: 'v', t: 0, kind: 'scroll' }],
    ['country', { ...page, country: 'ie' }],
    ['device.width', { ...page, device: { width: 0 } }],
    ['device.class', { ...page, device: { class: 'fridge' } }],
    ['name', { visitor: 'v', t: 0, kind: 'action' }],
    ['message', { visitor: 'v', t: 0, kind: 'error' }],
    ['status', { ...page, status: 600 }],
    ['currency', { visitor: 'v', t: 0, kind: 'action', name: 'a', currency: 'euro' }],
  ])('names %s where it is wrong', (field, line) => {
    const read = lineSchema.safeParse(line)
    expect(read.error?.issues.map((issue) => issue.path.join('.'))).toContain(field)
  })
})
