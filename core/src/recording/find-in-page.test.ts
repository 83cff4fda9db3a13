import { describe, expect, it } from 'vitest'
import { holds, mayHold, wantedOf } from './find-in-page.ts'
import type { RecordedNode } from './types.ts'

const page: RecordedNode = {
  ...{ id: 1, tag: 'html' },
  c: [
    { id: 2, tag: 'style', c: [{ id: 3, text: '.coupon { color: red }' }] },
    {
      ...{ id: 4, tag: 'div', a: { id: 'price-helper', class: 'box  open', 'data-kind': 'offer "x"' } },
      c: [{ id: 5, text: 'Sorry,\n  no seats left' }],
    },
  ],
}

describe('what is looked for on recorded pages', () => {
  it.each([
    ['sorry, NO seats', true],
    ['no seats at all', false],
    ['coupon', false],
    ['#price-helper', true],
    ['.open', true],
    ['div.box.open[data-kind]', true],
    ['DIV#price-helper', true],
    ['.coupon', false],
    ['[data-kind=offer]', false],
    ['p.box', false],
    ['left.', false],
  ])('%s: %s', (words, isThere) => {
    const wanted = wantedOf(words)
    expect(holds(page, wanted)).toBe(isThere)
    // What is there is never passed over unread.
    if (isThere) expect(mayHold(JSON.stringify(page), wanted)).toBe(true)
  })
  it('a sentence with a full stop is a text', () => {
    expect(wantedOf('Well. Done')).toEqual({ kind: 'text', text: 'well. done' })
  })
})
