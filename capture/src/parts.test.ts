// @vitest-environment happy-dom
import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core'
import fc from 'fast-check'
import { beforeEach, describe, expect, it } from 'vitest'
import { forgetLeft, leaveBehind, takeLeft } from './left-behind.ts'
import { changeInParts, inParts } from './parts.ts'

/** A tree, with numbers in the order of the document. */
const shape = fc.letrec<{ tree: Shape }>((tie) => ({
  tree: fc.oneof({ depthSize: 'medium' }, fc.nat({ max: 200 }), fc.array(tie('tree'), { maxLength: 5 })),
})).tree
type Shape = number | Shape[]
function numbered(one: Shape, next = { id: 1 }): RecordedNode {
  const id = next.id++
  return typeof one === 'number'
    ? { id, text: 'x'.repeat(one) }
    : { id, tag: 'div', a: { class: 'c' }, c: one.map((child) => numbered(child, next)) }
}

/** The page with all that is added to it, by hand. */
function together(snapshot: Snapshot, items: RecordItem[]): RecordedNode {
  const root = structuredClone(snapshot.root)
  const find = (node: RecordedNode, id: number): RecordedNode | undefined =>
    node.id === id
      ? node
      : 'tag' in node
        ? (node.c ?? []).map((child) => find(child, id)).find((found) => found)
        : undefined
  for (const item of items)
    for (const [parentId, before, node] of (item as Extract<RecordItem, { k: 'change' }>).add ?? []) {
      expect(before).toBe(0)
      const parent = find(root, parentId) as Extract<RecordedNode, { tag: string }>
      ;(parent.c ??= []).push(structuredClone(node))
    }
  return root
}

const page = (root: RecordedNode): Snapshot => ({ url: '/', title: '', width: 10, height: 10, root })

describe('a page in parts', () => {
  it('is the whole page once they are together, and no part is large', () => {
    fc.assert(
      fc.property(fc.array(shape, { maxLength: 8 }), fc.integer({ min: 1, max: 900 }), (shapes, most) => {
        const root = numbered(shapes)
        const [first, items] = inParts(page(root), most, 300)
        expect(together(first, items)).toEqual(root)
        // One node is never divided: the longest text here and its frame.
        for (const item of items) expect(JSON.stringify(item).length).toBeLessThan(300 * 2 + 300)
      }),
    )
  })

  it('divides a change that adds too much: first what is gone, last what is said of what has come', () => {
    fc.assert(
      fc.property(fc.array(shape, { maxLength: 6 }), fc.integer({ min: 1, max: 900 }), (shapes, most) => {
        const whole = numbered(shapes) as Extract<RecordedNode, { tag: string }>
        const { c = [], ...empty } = whole
        const change = {
          ...{ at: 7, k: 'change' as const, gone: [99] },
          add: c.map((node): [number, number, RecordedNode] => [1, 0, node]),
          attr: [[1, 'class', 'x']] as [number, string, string][],
        }
        const parts = changeInParts(change, most)
        expect(together(page({ ...empty, c: [] }), parts)).toEqual(whole)
        expect(parts.map(({ gone }) => gone).findIndex(Boolean)).toBe(0)
        expect(parts.map(({ attr }) => attr !== undefined).lastIndexOf(true)).toBe(parts.length - 1)
        expect(parts.filter(({ gone, attr }) => gone ?? attr).length).toBeLessThanOrEqual(2)
        expect(parts.every(({ at }) => at === 7)).toBe(true)
      }),
    )
  })

  it('is one where it fits, and goes without a text that fits nowhere', () => {
    const root = numbered([3, [4, 5]])
    expect(inParts(page(root), 1e6, 1e6)).toEqual([page(root), []])
    const [first] = inParts(page(numbered([2_000_000, 1])), 2_400_000, 500_000)
    expect(JSON.stringify(first).length).toBeLessThan(1000)
  })
})

describe('what was left behind', () => {
  beforeEach(() => sessionStorage.clear())
  const batch = (n: number, length = 10, visitor = 'ann') => ({
    ...{ v: 1 as const, site: 'shop', visitor, document: 'd', n, piece: n, tab: 't', startMs: 0, sentMs: 0 },
    lines: [{ t: n, kind: 'page' as const, url: '/' }],
    items: [{ at: n, k: 'page' as const, url: '/', title: 'x'.repeat(length) }],
  })

  it('is there on the next page of the same visitor, once', () => {
    leaveBehind([batch(0), batch(1), batch(2, 10, 'somebody else')])
    expect(takeLeft({ site: 'shop', visitor: 'ann' })).toEqual([batch(0), batch(1)])
    expect(takeLeft({ site: 'shop', visitor: 'ann' })).toEqual([])
    leaveBehind([batch(0)])
    leaveBehind([])
    expect(takeLeft({ site: 'shop', visitor: 'ann' })).toEqual([])
  })

  it('keeps what happened where the recording has no room, and survives what others write there', () => {
    leaveBehind([batch(0, 1_400_000), batch(1, 1_400_000)])
    const [first, second] = takeLeft({ site: 'shop', visitor: 'ann' })
    expect(first).toEqual(batch(0, 1_400_000))
    expect(second).toMatchObject({ n: 1, items: [], lines: batch(1).lines })
    expect(second).not.toHaveProperty('piece')
    for (const odd of ['{', '7', '[null]', '[{"site":"shop"}]']) {
      sessionStorage.setItem('dust-trail-left', odd)
      expect(takeLeft({ site: 'shop', visitor: 'ann' })).toEqual([])
    }
    forgetLeft()
  })
})
