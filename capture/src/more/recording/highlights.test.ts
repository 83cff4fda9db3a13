// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest'
import * as scrubber from '../../privacy/scrubber.ts'
import * as shown from '../../privacy/shown.ts'
import { highlightsNow } from './highlights.ts'
import { privacy } from './privacy.ts'

Object.assign(privacy, scrubber, shown)
afterEach(() => vi.unstubAllGlobals())

function marked(...given: [name: string, priority: number, ranges: object[]][]) {
  const highlights = new Map(
    given.map(([name, priority, ranges]) => [name, Object.assign(new Set(ranges), { priority })]),
  )
  vi.stubGlobal('CSS', { highlights })
}
const text = { of: 'text' } as unknown as Node
const range = (startOffset: number, endOffset: number, node = text) => ({
  ...{ startContainer: node, startOffset, endContainer: node, endOffset },
})
const numberOf = (node: Node) => (node === text ? 7 : undefined)

describe('highlightsNow', () => {
  it('tells ranges by the numbers of their nodes, and of none that are not recorded', () => {
    marked(['found', 2, [range(1, 4), range(0, 1, {} as Node)]])
    expect(JSON.parse(highlightsNow(numberOf))).toEqual([['found', 2, [[7, 1, 7, 4]]]])
  })
  it('tells no names that may be data of somebody, and is nothing without any', () => {
    marked(['ada@example.org', 0, [range(0, 1)]], ['0049-151-12345678', 0, [range(0, 1)]])
    expect(highlightsNow(numberOf)).toBe('[]')
    marked()
    expect(highlightsNow(numberOf)).toBe('')
    vi.stubGlobal('CSS', {})
    expect(highlightsNow(numberOf)).toBe('')
  })
  it('tells a bounded number of ranges', () => {
    marked(['all', 0, Array.from({ length: 2000 }, (_, k) => range(k, k + 1))])
    expect((JSON.parse(highlightsNow(numberOf)) as [string, number, unknown[]][])[0]![2]).toHaveLength(500)
  })
})
