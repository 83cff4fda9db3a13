import { describe, expect, it } from 'vitest'
import { batchSchema, DEEPEST, itemSchema, snapshotSchema } from './batch.ts'
import * as endpoints from './endpoints.ts'

const snapshot = (root: unknown) => ({ url: '/', title: '', width: 10, height: 10, root })

describe('snapshotSchema', () => {
  it('takes a tree of elements and texts', () => {
    const root = {
      id: 1,
      tag: 'html',
      a: { lang: 'en' },
      c: [
        { id: 2, text: 'x' },
        { id: 3, tag: 'svg', svg: true },
      ],
    }
    expect(snapshotSchema.parse(snapshot(root)).root).toEqual(root)
  })
  it.each([
    ['no id', { tag: 'p' }],
    ['an id that is no number', { id: '1', tag: 'p' }],
    ['a text that is none', { id: 1, text: 5 }],
    ['a tag that is none', { id: 1, tag: 5 }],
    ['attributes that are no texts', { id: 1, tag: 'p', a: { x: 1 } }],
    ['attributes as a list', { id: 1, tag: 'p', a: ['x'] }],
    ['children that are no list', { id: 1, tag: 'p', c: { 0: { id: 2, text: '' } } }],
    ['a child that is none', { id: 1, tag: 'p', c: [null] }],
  ])('refuses %s', (_, root) => {
    expect(snapshotSchema.safeParse(snapshot(root)).success).toBe(false)
  })
  it('cuts a tree where it is deeper than any page, without running out of stack', () => {
    let root: object = { id: 0, text: '' }
    for (let i = 1; i < 5000; i++) root = { id: i, tag: 'b', c: [root] }
    let depth = 0
    const { root: kept } = snapshotSchema.parse(snapshot(root))
    for (let node = kept; 'c' in node && node.c; node = node.c[0]!) depth++
    expect(depth).toBe(DEEPEST)
  })
})

describe('itemSchema', () => {
  it.each([
    ['k', { at: 0, k: 'no such' }],
    ['at', { at: -1, k: 'hide' }],
    ['p', { at: 0, k: 'move', p: [] }],
  ])('names %s where it is wrong', (field, item) => {
    expect(itemSchema.safeParse(item).error?.issues[0]?.path.join('.')).toBe(field)
  })
})

describe('batchSchema', () => {
  const batch = {
    v: 1,
    site: 's',
    visitor: 'v',
    document: 'document-1',
    n: 0,
    tab: '',
    startMs: 0,
    sentMs: 0,
    lines: [],
    items: [],
  }
  it.each([
    ['document', { document: '../../x' }],
    ['n', { n: 1.5 }],
    ['v', { v: 2 }],
    ['visitor', { visitor: '' }],
  ])('names %s where it is wrong', (path, own) => {
    const read = batchSchema.safeParse({ ...batch, ...own })
    expect(read.error?.issues.map((issue) => issue.path.join('.'))).toContain(path)
  })
})

it('every endpoint has a method and path of its own', () => {
  const all = Object.values<string | object>(endpoints).flatMap((one) =>
    typeof one === 'object' && 'method' in one && 'path' in one
      ? [`${String(one.method)} ${String(one.path)}`]
      : [],
  )
  expect(all.length).toBeGreaterThan(20)
  expect(new Set(all).size).toBe(all.length)
})
