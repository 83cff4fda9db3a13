// @vitest-environment happy-dom
import type { Question } from '@dust-trail/api'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { renderHook, waitFor } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, expect, it, vi } from 'vitest'
import { useSizes } from './queries.ts'

afterEach(() => vi.unstubAllGlobals())

it('sizes of other selections never stand for those that are being counted; of other days they do', async () => {
  const answers: (() => void)[] = []
  const fetched = vi.fn(
    () =>
      new Promise<Response>((resolve) =>
        answers.push(() =>
          resolve(Response.json({ sizes: [{ hits: 1, base: 2, share: 0.5, interval: [0.1, 0.9] }] })),
        ),
      ),
  )
  vi.stubGlobal('fetch', fetched)
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  )
  const of = (page: string, from: string): Question => ({
    lens: { from, to: '2026-06-30', devices: [] },
    selection: { type: 'page', page },
  })
  const { result, rerender } = renderHook(({ asked }) => useSizes('shop', asked), {
    wrapper,
    initialProps: { asked: [of('A', '2026-06-01')] },
  })
  expect(result.current.data).toBeUndefined()
  await waitFor(() => expect(answers).toHaveLength(1))
  answers[0]!()
  await waitFor(() => expect(result.current.data?.sizes[0]!.hits).toBe(1))
  rerender({ asked: [of('A', '2026-06-10')] })
  expect(result.current.data?.sizes[0]!.hits).toBe(1)
  rerender({ asked: [of('B', '2026-06-10')] })
  expect(result.current.data).toBeUndefined()
  rerender({ asked: [of('A', '2026-06-10'), of('B', '2026-06-10')] })
  expect(result.current.data).toBeUndefined()
})
