// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import { Route, Routes } from 'react-router'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, LENS, show, visit } from '../../test-screen.tsx'
import { KindPage } from './kind-page.tsx'

clearAfterEach()

const page = (kind: string) =>
  show(
    <Routes>
      <Route path="/friction/:kind" element={<KindPage />} />
    </Routes>,
    { sessions: [visit(1, ['/', '#buy']), visit(2, ['/', '#buy', '#buy', '#buy']), visit(3, ['/'])] },
    { at: `/friction/${kind}?${LENS}` },
  )

describe('a kind of signal', () => {
  it('says what it is, where it is met, and what another threshold would change before it is saved', async () => {
    const { user, asked } = page('dead click')
    expect(await screen.findByText(/nothing happened that a person could see/)).toBeDefined()
    const met = await screen.findByRole('region', { name: 'Where it is met' })
    expect(met.textContent).toContain('1 spot')
    const form = screen.getByRole('region', { name: 'From where on it counts' })
    const field = within(form).getByRole('spinbutton')
    await user.clear(field)
    await user.type(field, '0')
    expect((await within(form).findByRole('status')).textContent).toMatch(/With this setting 4 instead of \d/)
    await user.click(within(form).getByRole('button', { name: 'Save for Made up' }))
    expect(asked.find(({ method }) => method === 'PUT')).toMatchObject({
      path: '/sites/made-up/thresholds',
      body: { deadFoldMs: 0 },
    })
  })
  it('names a value that cannot be, and does not save it', async () => {
    const { user } = page('rage click')
    const form = await screen.findByRole('region', { name: 'From where on it counts' })
    const field = within(form).getByRole('spinbutton', { name: /at least so many clicks/i })
    await user.clear(field)
    await user.type(field, '1')
    expect(within(form).getByRole('alert').textContent).toBe('Give at least 2.')
    expect(within(form).getByRole('button', { name: /Save/ }).hasAttribute('disabled')).toBe(true)
  })
  it('has nothing to set where each one counts, and says so of a kind that there is not', async () => {
    page('script error')
    expect(await screen.findByText(/Each one counts/)).toBeDefined()
    page('nonsense')
    expect(await screen.findByText(/There is no signal called “nonsense”/)).toBeDefined()
  })
})
