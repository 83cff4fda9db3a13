// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import { expect, it } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { VisitorHistory } from './visitor-history.tsx'
import { VisitorsPage } from './visitors-page.tsx'

clearAfterEach()

const sessions = [
  visit(1, ['/', '/item'], { visitor: 'ann' }),
  visit(2, ['/', '/item', '!', '/done'], { visitor: 'ann' }),
  visit(3, ['/help'], { visitor: 'bo' }),
]

it('visitors are listed over all their visits, and narrowed by conditions on them', async () => {
  const { user, inAddress } = show(<VisitorsPage />, { sessions }, { query: 'order=sessions' })
  const table = await screen.findByRole('table', { name: 'Visitors' })
  expect(
    within(table)
      .getAllByRole('row')
      .slice(1)
      .map((row) => row.textContent.slice(0, 3)),
  ).toEqual(['ann', 'bo1'])
  await user.click(screen.getByRole('button', { name: /of whom/ }))
  await user.type(screen.getByRole('spinbutton', { name: 'Number' }), '2')
  await user.click(screen.getByRole('button', { name: 'Add' }))
  expect(inAddress('having')).toEqual([{ of: 'sessions', is: { is: 'at least', to: 2 } }])
  expect(await screen.findByText(/^1 visitor of whom that holds/)).toBeDefined()
})

it('the history of one shows each visit as dots, marked where a signal lies', async () => {
  show(<VisitorHistory visitor="ann" />, { sessions })
  const visits = await screen.findByRole('region', { name: 'Visits of ann' })
  expect(visits.textContent).toContain('2 visits, 5 pages')
  const [newest] = within(visits).getAllByRole('list', { name: 'Pages in order' })
  const dots = within(newest!)
    .getAllByRole('listitem')
    .map((dot) => dot.getAttribute('aria-label'))
  expect(dots).toEqual(['/, 10 s', '/item, 20 s, 1 signal', '/done, 0.0 s'])
})
