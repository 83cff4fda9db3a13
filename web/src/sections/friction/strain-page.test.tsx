// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { StrainPage } from './strain-page.tsx'

clearAfterEach()

const sessions = [
  visit(1, ['/', '#buy', '#buy', '!']),
  visit(2, ['/', '!'], { device: { class: 'mobile' } }),
  ...Array.from({ length: 6 }, (_, k) => visit(k + 3, ['/', '/item'])),
]

describe('strain', () => {
  it('says how hard it was, in bands that open, and for whom', async () => {
    const { user, inAddress } = show(<StrainPage />, { sessions })
    expect(await screen.findByText(/on average .* over 8 sessions/)).toBeDefined()
    const histogram = screen.getByRole('region', { name: 'How many sessions' })
    expect(histogram.textContent).toContain('easy, 0 to below 20')
    await user.click(within(histogram).getByRole('button', { name: /^punishing/ }))
    expect(inAddress('close')).toMatchObject({
      type: 'where',
      condition: { type: 'number', of: 'strain', test: { is: 'at least', to: 75 } },
    })
    const whom = screen.getByRole('region', { name: 'For whom' })
    expect(within(whom).getByRole('button', { name: 'mobile' })).toBeDefined()
    await user.selectOptions(within(whom).getByRole('combobox'), 'page')
    await waitFor(() => expect(within(whom).getByRole('button', { name: '/item' })).toBeDefined())
  })
  it('follows weights while they are typed, and saves what differs from the default', async () => {
    const { user, asked } = show(<StrainPage />, { sessions })
    const form = await screen.findByRole('region', { name: 'Weights' })
    const field = within(form).getByRole('spinbutton', { name: 'dead click' })
    await user.clear(field)
    await user.type(field, '0')
    await waitFor(() =>
      expect(
        asked.some(({ body }) => JSON.stringify(body ?? null).includes('"weights":{"dead click":0}')),
      ).toBe(true),
    )
    await user.click(within(form).getByRole('button', { name: 'Save for Made up' }))
    expect(asked.find(({ method }) => method === 'PUT')).toMatchObject({
      path: '/sites/made-up/strain-weights',
      body: { 'dead click': 0 },
    })
  })
})
