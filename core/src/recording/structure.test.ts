import { describe, expect, it } from 'vitest'
import { structureOf } from './structure.ts'
import type { RecordedNode } from './types.ts'

let id = 0
const el = (tag: string, ...c: (RecordedNode | string)[]): RecordedNode => ({
  ...{ id: ++id, tag },
  c: c.map((one) => (typeof one === 'string' ? { id: ++id, text: one } : one)),
})

describe('structureOf', () => {
  const page = (items: string[], ...more: RecordedNode[]) =>
    el(
      'html',
      el('head', el('style', 'a{}')),
      el('body', el('ul', ...items.map((one) => el('li', one))), ...more),
    )
  it('is the same whatever the texts, ids and how many entries a list has', () => {
    expect(structureOf(page(['a', 'b', 'c']))).toBe(structureOf(page(['x'])))
    expect(structureOf(page(['a']))).toBe('html(body(ul(li)))')
  })
  it('tells a block that came, went or moved', () => {
    const all = [
      page(['a']),
      page(['a'], el('form')),
      page(['a'], el('form'), el('p')),
      page(['a'], el('p'), el('form')),
    ]
    expect(new Set(all.map(structureOf)).size).toBe(all.length)
  })
})
