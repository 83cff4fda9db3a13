// @vitest-environment happy-dom
import { render, screen } from '@testing-library/react'
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router'
import { expect, it, vi } from 'vitest'
import { Lost } from './not-found.tsx'

it('a screen that breaks keeps the frame around it, and the lens on the way out', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => undefined)
  const Broken = () => {
    throw new Error('no such number')
  }
  const router = createMemoryRouter(
    [
      {
        path: '/',
        element: (
          <>
            <nav>the frame</nav>
            <Outlet />
          </>
        ),
        children: [{ errorElement: <Lost />, children: [{ path: 'pages', element: <Broken /> }] }],
      },
    ],
    { initialEntries: ['/pages?from=2026-05-01'] },
  )
  render(<RouterProvider router={router} />)
  expect(await screen.findByText('This screen has broken.')).toBeTruthy()
  expect(screen.getByText('the frame')).toBeTruthy()
  expect(screen.getByRole('link', { name: 'Go to Funnels' }).getAttribute('href')).toBe(
    '/funnels?from=2026-05-01',
  )
})
