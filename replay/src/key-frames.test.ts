// @vitest-environment happy-dom
import type { DocumentRecording, RecordedNode, RecordItem, Snapshot } from '@dust-trail/core/recording'
import { FoldedPage } from '@dust-trail/core/recording'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { KeyFrames } from './key-frames.ts'
import { Rebuilt } from './rebuild.ts'

const snapshot: Snapshot = {
  ...{ url: '/', title: '', width: 100, height: 100 },
  root: {
    ...{ id: 1, tag: 'html' },
    c: [
      { id: 2, tag: 'head', c: [{ id: 9, tag: 'style', c: [{ id: 10, text: 'p{color:red}' }] }] },
      { id: 3, tag: 'body', c: [{ id: 4, tag: 'div', a: { class: 'a' }, c: [{ id: 5, text: 'x' }] }] },
    ],
  },
}

/** Numbers that are there, that come to be, and that never are. */
const id = fc.integer({ min: 2, max: 24 })
/** Head and body stay. */
const moved = fc.integer({ min: 4, max: 24 })
const words = fc.record({ id: moved, text: fc.constantFrom('t', 'u', 'v') })
const attributes = fc.dictionary(fc.constantFrom('class', 'title'), fc.constantFrom('b', 'c'))
const tag = fc.constantFrom('div', 'p')
const style = fc.record({
  ...{ id: moved, tag: fc.constant('style') },
  a: fc.dictionary(fc.constant('data-trail-same'), fc.constantFrom('9', '7')),
  c: fc.array(words, { maxLength: 1 }),
})
/** What a recorder may write: trees inside of elements that may have one, texts alone in style sheets. */
const { node } = fc.letrec<{ node: RecordedNode; inner: RecordedNode }>((tie) => ({
  inner: fc.record({ id: moved, tag, a: attributes, c: fc.array(fc.oneof(words, style), { maxLength: 2 }) }),
  node: fc.oneof(
    { depthSize: 'small' },
    words,
    style,
    fc
      .tuple(
        fc.record({ ...{ id: moved, tag, a: attributes }, c: fc.array(tie('node'), { maxLength: 3 }) }),
        fc.option(fc.array(tie('inner'), { maxLength: 2 })),
      )
      // A tree inside has one element around it for ever.
      .map(([host, tree]) => ({
        ...host,
        c: [...(tree ? [{ id: host.id + 100, tag: '#shadow', c: tree }] : []), ...host.c],
      })),
  ),
}))
const idsIn = (one: RecordedNode): number[] => [one.id, ...('tag' in one ? (one.c ?? []).flatMap(idsIn) : [])]
/** Each number once in a tree. */
const tree = node.filter((one) => new Set(idsIn(one)).size === idsIn(one).length)
const change: fc.Arbitrary<RecordItem> = fc.record({
  at: fc.constant(1),
  k: fc.constant('change' as const),
  gone: fc.array(moved, { maxLength: 2 }),
  add: fc.array(
    fc.tuple(fc.oneof(id, fc.integer({ min: 104, max: 124 })), fc.oneof(fc.constant(0), id), tree),
    { maxLength: 2 },
  ),
  attr: fc.array(
    fc.tuple(id, fc.constantFrom('class', 'title', 'data-trail-focus'), fc.option(fc.constant('z'))),
    { maxLength: 2 },
  ),
  text: fc.array(fc.tuple(id, fc.constantFrom('w', 'y')), { maxLength: 2 }),
})

/** All of a page, trees inside of elements too. */
function written(target: Document): string {
  const inner = (element: Element): string =>
    [...element.attributes]
      .filter(({ name }) => name !== 'data-trail-same')
      .map(({ name, value }) => `${name}=${value}`)
      .sort()
      .join() +
    (element.shadowRoot ? `#(${[...element.shadowRoot.childNodes].map(outer).join('')})` : '') +
    [...element.childNodes].map(outer).join('')
  const outer = (node: Node): string =>
    node.nodeType === 1
      ? `<${(node as Element).localName}>${inner(node as Element)}</>`
      : (node.nodeValue ?? '')
  return inner(target.documentElement)
}
const fresh = () => {
  const target = document.implementation.createHTMLDocument('')
  return { target, page: new Rebuilt(target) }
}

describe('a replay that begins at a key frame', () => {
  it('shows the same as one that was played up to it', () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 12 }), fc.nat(), (items, cut) => {
        const at = cut % (items.length + 1)
        const played = fresh()
        played.page.show(snapshot)
        items.forEach((item) => played.page.apply(item))
        const folded = new FoldedPage(snapshot)
        items.slice(0, at).forEach((item, k) => {
          // Those before must not be in the way.
          if (k % 2) folded.standing()
          folded.apply(item)
        })
        const standing = folded.standing()
        const jumped = fresh()
        jumped.page.show(standing.snapshot, standing.styles)
        standing.items.forEach((item) => jumped.page.apply(item))
        items.slice(at).forEach((item) => jumped.page.apply(item))
        expect(written(jumped.target)).toBe(written(played.target))
      }),
      {
        numRuns: 400,
        // Found in CI: the text of a style sheet that is gone becomes another node.
        examples: [
          [
            [
              { at: 1, k: 'change', gone: [9], add: [], attr: [], text: [] },
              {
                ...{ at: 1, k: 'change', gone: [], attr: [], text: [] },
                add: [[2, 0, { id: 10, tag: 'style', a: { 'data-trail-same': '9' }, c: [] }]],
              },
            ],
            1,
          ],
        ],
      },
    )
  })

  it('is found near any time, however long the recording, and there are not many', () => {
    const items: RecordItem[] = Array.from({ length: 250_000 }, (_, at) => ({
      ...{ at, k: 'change' },
      attr: [[4, 'class', String(at)]],
    }))
    const recording: DocumentRecording = { document: 'd', startMs: 0, snapshot, items }
    const frames = new KeyFrames(recording)
    let asked = 0
    while (frames.find(() => ++asked % 20 !== 0));
    const found = [3100, 90_000, 200_123, 250_000].map((applied) => frames.before(applied, false)!)
    for (const [k, applied] of [3100, 90_000, 200_123, 250_000].entries()) {
      expect(applied - found[k]!.applied).toBeLessThan(4_100)
      const { root } = found[k]!.standing.snapshot
      expect(JSON.stringify(root)).toContain(`"class":"${found[k]!.applied - 1}"`)
    }
    expect(new Set(found).size).toBe(4)
  })
})
