import { describe, expect, it } from 'vitest'
import { suggestPatterns } from './suggest.ts'

const pages = (...paths: string[]) => paths.map((path, i) => ({ path, sessions: 10 - i }))

describe('suggestPatterns', () => {
  it('sees numbers, dates and ids in addresses', () => {
    expect(suggestPatterns(pages('/nights/12', '/nights/7', '/nights'))).toMatchObject([
      { pattern: '/nights/:id', pages: 2, sessions: 19 },
    ])
    expect(suggestPatterns(pages('/book/2026-01-03/party', '/book/2026-01-04/party'))[0]!.pattern).toBe(
      '/book/:id/party',
    )
  })
  it('sees a part that takes many values, and leaves a few apart', () => {
    const many = pages(...['a', 'b', 'c', 'd', 'e', 'f'].map((name) => `/articles/${name}`))
    expect(suggestPatterns(many)[0]).toMatchObject({ pattern: '/articles/:id', pages: 6 })
    expect(suggestPatterns(many.slice(0, 3))).toEqual([])
  })
  it('says nothing of what a rule holds already, of the home page, or of one address alone', () => {
    expect(suggestPatterns(pages('/nights/1', '/nights/2'), ['/nights/:n'])).toEqual([])
    expect(suggestPatterns(pages('/', '/orders/123'))).toEqual([])
  })
})
