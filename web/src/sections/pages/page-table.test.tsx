// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import { expect, it } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { LandingsPage } from './landings-page.tsx'
import { PageTable } from './page-table.tsx'

clearAfterEach()

const sessions = [
  visit(1, ['/', '/item', '/done'], { campaign: 'spring' }),
  visit(2, ['/', '/item'], { campaign: 'spring' }),
  visit(3, ['/help'], { campaign: 'autumn' }),
]

it('pages are found by name, and addresses open those who viewed them', async () => {
  const { user, inAddress } = show(<PageTable />, { sessions }, { query: 'by=url' })
  const table = await screen.findByRole('table', { name: 'Pages' })
  expect(within(table).getAllByRole('row')).toHaveLength(5)
  await user.type(screen.getByRole('textbox', { name: 'Find a page' }), 'ite')
  expect(within(table).getAllByRole('row')).toHaveLength(2)
  await user.click(within(table).getByRole('button', { name: '/item' }))
  expect(inAddress('close')).toMatchObject({
    condition: { event: { kinds: ['page'], path: { is: 'equal', to: '/item' } } },
  })
})

it('costs of a campaign are shared out by sessions and stand beside what it brings', async () => {
  const costs = [
    { day: '2026-06-01', campaign: 'spring', cost: 90 },
    { day: '2020-01-01', campaign: 'autumn', cost: 5 },
  ]
  show(<LandingsPage />, { sessions }, { answers: { '/sites/made-up/costs': () => costs } })
  const table = await screen.findByRole('table', { name: 'Landing pages' })
  const rows = within(table)
    .getAllByRole('row')
    .slice(1)
    .map(({ textContent }) => textContent)
  expect(rows[0]).toMatch(/spring.*€90/)
  // Nothing was spent on the days of the lens.
  expect(rows[1]).toMatch(/autumn.*–/)
})
