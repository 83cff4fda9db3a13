import type { Mark } from '@dust-trail/api'
import { describe, expect, it } from 'vitest'
import { cellText } from './kept-table.ts'
import { groupsOf } from './use-mark-order.ts'

describe('marks under headings', () => {
  it('come after those under none, in the order in which the first of each stands', () => {
    const mark = (id: number, heading: string) => ({ id, heading }) as Mark
    const marks = [mark(2, 'Payment'), mark(1, ''), mark(3, ''), mark(4, 'List'), mark(5, 'Payment')]
    expect(groupsOf(marks).map((group) => [group.heading, group.marks.map(({ id }) => id)])).toEqual([
      ['', [1, 3]],
      ['Payment', [2, 5]],
      ['List', [4]],
    ])
    expect(groupsOf([])).toEqual([])
  })
})

describe('a cell of a table that is kept', () => {
  it.each([
    [0.382, 'percent', '38.2 %'],
    [1234, 'count', '1,234'],
    [1234, 'ms', '1.2 s'],
    [0.04, 'decimal', '0'],
    [Date.UTC(2026, 5, 1, 12), 'moment', '1 Jun, 14:00'],
    ['Home', 'percent', 'Home'],
    [true, 'text', 'yes'],
    ['', 'text', '–'],
    [null, 'count', '–'],
  ] as const)('%s as %s reads %s', (value, as, text) => {
    expect(cellText(value, as, 'Europe/Berlin')).toBe(text)
  })
})
