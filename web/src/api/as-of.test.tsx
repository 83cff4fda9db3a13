// @vitest-environment happy-dom
import { act, renderHook } from '@testing-library/react'
import { expect, it } from 'vitest'
import { noteAsOf, useAsOf } from './as-of.ts'

it('is the latest that any answer about the site said', () => {
  const { result } = renderHook(() => useAsOf('shop'))
  expect(result.current).toBeUndefined()
  act(() => noteAsOf('shop', '2000'))
  act(() => noteAsOf('shop', '1000'))
  act(() => noteAsOf('other', '9000'))
  act(() => noteAsOf('shop', null))
  act(() => noteAsOf('shop', 'soon'))
  expect(result.current).toBe(2000)
  act(() => noteAsOf('shop', '3000'))
  expect(result.current).toBe(3000)
})
