import type { Selection } from '@dust-trail/core'
import { LEAK_KINDS } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { baseOf, elementName, leakText, pageOf } from './selections.ts'
import { describeSelection } from './sentences.ts'

const steps = [
  { type: 'page' as const, page: 'A night' },
  { type: 'click' as const, page: 'A night', selector: '#book', name: 'Book it' },
]
const funnel = (more: object = {}): Selection => ({
  ...{ type: 'funnel', steps, step: 0, side: 'dropped' },
  ...more,
})

describe('a selection in words', () => {
  it.each<[Selection, string, string, string | undefined]>([
    [funnel(), 'Dropped off at “A night”', 'who reached “A night”', 'A night'],
    [
      funnel({ leak: 'back', page: 'Home' }),
      'Dropped off at “A night”: went back to Home',
      'who reached “A night”',
      'A night',
    ],
    [funnel({ step: 1, side: 'reached' }), 'Reached “Book it”', 'who reached “A night”', 'A night'],
    [funnel({ step: 0, side: 'reached' }), 'Reached “A night”', 'in the lens', 'A night'],
    [
      funnel({ side: 'continued', options: { per: 'visitor' } }),
      'Went on from “A night”',
      'who reached “A night” (visitors, each by one session)',
      'A night',
    ],
    [
      { type: 'clicks', page: 'Home', which: 'dead', selector: 'main > div > img', text: '' },
      'Dead clicks on div > img, Home',
      'who saw Home',
      'Home',
    ],
    [
      { type: 'signal', kind: 'rage click', page: 'Home', selector: '#x', text: 'Buy' },
      'Rage click on “Buy”, Home',
      'who saw Home',
      'Home',
    ],
    [{ type: 'page', page: 'Home' }, 'Saw Home', 'in the lens', 'Home'],
    [{ type: 'everyone' }, 'Everyone in the lens', 'in the lens', undefined],
    [
      { type: 'where', condition: { type: 'visit', is: 'first' } },
      'Sessions: first visit',
      'in the lens',
      undefined,
    ],
  ])('%j', (selection, words, base, page) => {
    expect([describeSelection(selection), baseOf(selection), pageOf(selection)]).toEqual([words, base, page])
  })
  it('names every way to get lost, with and without a page', () => {
    const all = LEAK_KINDS.flatMap((kind) => [leakText(kind, null), leakText(kind, 'Home')])
    expect(all.every((words) => words.length > 5)).toBe(true)
    expect(leakText('error', 'Home')).toBe('met an error, then Home')
  })
  it('calls an element by its text, its end, or the page', () => {
    expect([elementName('Buy', '#x'), elementName('', 'a > b > c'), elementName(undefined, '')]).toEqual([
      '“Buy”',
      'b > c',
      'the page',
    ])
  })
})
