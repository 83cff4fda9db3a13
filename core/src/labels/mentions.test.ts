import { describe, expect, it } from 'vitest'
import type { Condition } from '../select/grammar/conditions.ts'
import { conditionSchema } from '../select/grammar/conditions.ts'
import type { Step } from '../select/grammar/steps.ts'
import { mentions } from './mentions.ts'

describe('mentions', () => {
  it('finds pages and actions in steps and options of a funnel', () => {
    const steps: Step[] = [
      { type: 'page', page: 'A night' },
      {
        type: 'event',
        name: 'Not a page',
        event: {
          any: [
            { action: 'Look closely' },
            { kinds: ['page'], page: { is: 'one of', to: ['Help', 'Search'] } },
          ],
        },
      },
    ]
    const without = [{ after: 0, event: { kinds: ['page'], page: { is: 'equal', to: 'Contact' } } }]
    const { pages, actions } = mentions([steps, { without }])
    expect([...pages].sort()).toEqual(['A night', 'Contact', 'Help', 'Search'])
    expect([...actions]).toEqual(['Look closely'])
  })
  it('finds them in conditions, in groups and in what was selected, and takes no other text for a page', () => {
    const condition: Condition = conditionSchema.parse({
      type: 'all',
      of: [
        { type: 'text', of: 'entry page', test: { is: 'not equal', to: 'Home' } },
        { type: 'text', of: 'country', test: { is: 'equal', to: 'IE' } },
        {
          type: 'not',
          of: { type: 'selected', selection: { type: 'clicks', page: 'Booked', which: 'dead' } },
        },
        { type: 'signal', page: { is: 'starting with', to: 'Book' }, element: { is: 'equal', to: '#a' } },
        { type: 'sequence', steps: [{ event: { action: 'Order' } }], anchor: 'anywhere' },
      ],
    })
    const { pages, actions } = mentions({ condition, clean: [] })
    expect([...pages].sort()).toEqual(['Booked', 'Home'])
    expect([...actions]).toEqual(['Order'])
  })
  it('finds the pages of a path', () => {
    const path = { type: 'path', page: 'Home', direction: 'onward', parts: ['A night', null, 'Booked'] }
    expect([...mentions(path).pages]).toEqual(['Home', 'A night', 'Booked'])
  })
})
