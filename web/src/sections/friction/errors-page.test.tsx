// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, DAY, show, visit } from '../../test-screen.tsx'
import { ErrorsPage } from './errors-page.tsx'
import { FormsPage } from './forms-page.tsx'

clearAfterEach()

const broken = (id: number, message: string) => {
  const row = visit(id, ['/'])
  return {
    ...row,
    device: { browser: id % 2 ? 'Firefox' : 'Safari' },
    lines: [
      ...row.lines,
      { visitor: row.visitor, t: DAY + id * 60_000 + 500, kind: 'error' as const, message },
    ],
  }
}

describe('errors', () => {
  it('are listed once for each fault, and open the sessions at its moment', async () => {
    const sessions = [
      broken(1, 'order 17 failed'),
      broken(2, 'order 18 failed'),
      broken(3, 'lost'),
      visit(4, ['/']),
    ]
    const { user, inAddress } = show(<ErrorsPage />, { sessions })
    const table = await screen.findByRole('table', { name: 'Errors' })
    const rows = within(table).getAllByRole('row').slice(1)
    expect(rows).toHaveLength(2)
    expect(rows[0]!.textContent).toContain('order * failed')
    expect(rows[0]!.textContent).toContain('2 · 50.0 %')
    await user.click(within(rows[0]!).getByRole('button'))
    expect(inAddress('close')).toMatchObject({
      type: 'funnel',
      side: 'reached',
      steps: [{ type: 'event', event: { error: { message: 'order * failed', place: '' } } }],
    })
  })
  it('say so where no script failed', async () => {
    show(<ErrorsPage />, { sessions: [visit(1, ['/'])] })
    expect(await screen.findByText('No script failed in the lens')).toBeDefined()
  })
})

describe('forms', () => {
  const typed = (id: number, selector: string, length: number, sent: boolean) => {
    const row = visit(id, ['/pay'])
    const at = (ms: number) => ({ visitor: row.visitor, t: DAY + id * 60_000 + ms })
    return {
      ...row,
      lines: [
        ...row.lines,
        { ...at(1000), kind: 'input' as const, target: { selector, text: 'Card' }, length, ms: 2000 },
        ...(sent ? [{ ...at(2000), kind: 'submit' as const, target: { selector: '#form' }, ok: true }] : []),
      ],
    }
  }
  it('say where they are given up, with the base of every share', async () => {
    const sessions = [typed(1, '#card', 16, true), typed(2, '#card', 0, false), visit(3, ['/pay'])]
    const { user, inAddress } = show(<FormsPage />, { sessions })
    const form = await screen.findByRole('region', { name: 'Fields of /pay' })
    expect(form.textContent).toContain('Begun in 66.7 % of 3 views, sent in 50.0 % of 2.')
    expect(form.textContent).toContain('Given up most often at “Card”: 1 view.')
    const [row] = within(form).getAllByRole('row').slice(1)
    expect(row!.textContent).toContain('50.0 % · 1')
    await user.click(within(row!).getByRole('button'))
    expect(inAddress('close')).toMatchObject({
      steps: [{ event: { kinds: ['input'], page: { to: '/pay' } } }],
    })
  })
})
