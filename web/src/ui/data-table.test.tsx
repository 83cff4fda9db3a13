// @vitest-environment happy-dom
import { cleanup, render, screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { DataColumn } from './data-table.tsx'
import { DataTable } from './data-table.tsx'
import { fold } from './table-columns.ts'
import { csvOf } from './table-csv.ts'

afterEach(() => {
  cleanup()
  localStorage.clear()
})

interface Page {
  page: string
  views: number | null
}
const PAGES: Page[] = [
  { page: '/b', views: 10 },
  { page: '/c', views: null },
  { page: '/a', views: 9 },
]
const COLUMNS: DataColumn<Page>[] = [
  { id: 'page', head: 'Page', cell: ({ page }) => page, value: ({ page }) => page, opens: true },
  { id: 'views', head: 'Views', cell: ({ views }) => views ?? '–', value: ({ views }) => views, folds: 1 },
  { id: 'mark', head: 'Mark', cell: (_, k) => `no. ${k + 1}` },
]

function table(rows: readonly Page[] = PAGES, open?: (row: Page) => void) {
  render(
    <DataTable
      name="made-up"
      rows={rows}
      columns={COLUMNS}
      rowKey={({ page }) => page}
      {...(open && { open })}
    />,
  )
  return userEvent.setup()
}
const heads = () =>
  screen
    .getAllByRole('columnheader')
    .map((head) => head.textContent)
    .filter(Boolean)
const firstCells = () =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((row) => within(row).getAllByRole('cell')[0]!.textContent)

describe('a table', () => {
  it('is sorted up and down by a head, numbers as numbers, and what is not known comes last both ways', async () => {
    const user = table()
    expect(firstCells()).toEqual(['/b', '/c', '/a'])
    const views = screen.getByRole('button', { name: 'Views' })
    await user.click(views)
    expect(firstCells()).toEqual(['/a', '/b', '/c'])
    expect(views.closest('th')!.getAttribute('aria-sort')).toBe('ascending')
    await user.click(views)
    expect(firstCells()).toEqual(['/b', '/a', '/c'])
    await user.click(views)
    expect(firstCells()).toEqual(['/b', '/c', '/a'])
    expect(screen.queryByRole('button', { name: 'Mark' })).toBeNull()
  })
  it('keeps which columns are shown and in which order, until it is told to forget', async () => {
    const user = table()
    const menu = () => user.click(screen.getByRole('button', { name: 'Columns and CSV' }))
    await menu()
    await user.click(screen.getByRole('checkbox', { name: 'Views' }))
    await user.click(screen.getByRole('button', { name: 'Move Mark forward' }))
    await user.click(screen.getByRole('button', { name: 'Move Mark forward' }))
    expect(heads()).toEqual(['Mark', 'Page'])
    cleanup()
    table()
    expect(heads()).toEqual(['Mark', 'Page'])
    await menu()
    await user.click(screen.getByRole('button', { name: 'As at first' }))
    expect(heads()).toEqual(['Page', 'Views', 'Mark'])
  })
  it('opens a row by a press anywhere on it, by its button and by Enter, once each', async () => {
    const open = vi.fn()
    const user = table(PAGES, open)
    await user.click(screen.getByText('10'))
    await user.click(screen.getByRole('button', { name: '/c' }))
    screen.getByText('/a').closest('tr')!.focus()
    await user.keyboard('{Enter}')
    expect(open.mock.calls.map(([row]) => (row as Page).page)).toEqual(['/b', '/c', '/a'])
  })
  it('draws of thousands of rows only those in sight, and says how many there are', () => {
    table(Array.from({ length: 5000 }, (_, k) => ({ page: `/${k}`, views: k })))
    expect(screen.getByRole('table').getAttribute('aria-rowcount')).toBe('5000')
    expect(screen.getAllByRole('row').length).toBeLessThan(100)
  })
  it('gives as CSV what it shows, as values and not as they are written, and no formula', async () => {
    const file = await csvOf(
      [
        { head: 'Page', value: ({ page }: Page) => page },
        { head: 'Views', value: ({ views }: Page) => views },
      ],
      [
        { page: '=1+1', views: 1234.5 },
        { page: 'a, "b"', views: null },
      ],
    )
    expect(await file.text()).toBe(`Page,Views\r\n'=1+1,1234.5\r\n"a, ""b""",\r\n`)
  })
})

describe('columns that have no room', () => {
  const columns = [
    { id: 'page' },
    { id: 'views', width: 100, folds: 1 },
    { id: 'bar', width: 150, folds: 3 },
    { id: 'rate', width: 90 },
  ]
  it.each([
    [600, [], 500],
    [500, [], 500],
    [499, ['bar'], 350],
    [340, ['bar', 'views'], 250],
    [100, ['bar', 'views'], 250],
  ])('in %i px fold away, the least important first', (room, folded, leastWidth) => {
    expect(fold(columns, room)).toEqual({ folded, leastWidth })
  })
})
