// @vitest-environment happy-dom
import { getMe } from '@dust-trail/api'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render, screen } from '@testing-library/react'
import { MemoryRouter, Route, Routes } from 'react-router'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { EnterPage } from './enter-page.tsx'

const nobody = { account: null, anybody: false, administrator: false, roles: {}, collectUrl: null }
const ada = { email: 'ada@harbour.example', name: 'Ada', secondFactor: false }

/** The way in, to which an answer of before has led, while the server says this of who is signed in. */
function enter(me: object, to = '/aim?site=a') {
  vi.stubGlobal('fetch', (input: string | URL) =>
    Promise.resolve(
      String(input).endsWith(getMe.path) ? Response.json(me) : Response.json({}, { status: 404 }),
    ),
  )
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter initialEntries={[`/enter?to=${encodeURIComponent(to)}`]}>
        <Routes>
          <Route path="/enter" element={<EnterPage />} />
          <Route path="*" element={<p>What one wanted to see</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
}

afterEach(() => {
  cleanup()
  vi.unstubAllGlobals()
})

describe('the way in', () => {
  it('lets through who is signed in already', async () => {
    enter({ ...nobody, account: ada })
    expect(await screen.findByText('What one wanted to see')).toBeDefined()
  })
  it('asks everybody else', async () => {
    enter(nobody)
    expect(await screen.findByRole('form', { name: 'Sign in' })).toBeDefined()
    await new Promise((resolve) => setTimeout(resolve, 50))
    expect(screen.queryByText('What one wanted to see')).toBeNull()
  })
})
