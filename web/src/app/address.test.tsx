// @vitest-environment happy-dom
import { act, cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter, useLocation } from 'react-router'
import { afterEach, describe, expect, it } from 'vitest'
import { z } from 'zod'
import type { AddressOptions } from './address.ts'
import { useAddressValue } from './address.ts'

afterEach(cleanup)

const textSchema = z.string()
const stepsSchema = z.array(z.object({ page: z.string() }))

function at<T>(query: string, name: string, schema: z.ZodType<T>, options?: AddressOptions) {
  const wrapper = ({ children }: { children: ReactNode }) => (
    <MemoryRouter initialEntries={[`/there${query}`]}>{children}</MemoryRouter>
  )
  return renderHook(() => ({ value: useAddressValue(name, schema, options), query: useLocation().search }), {
    wrapper,
  }).result
}

describe('a value of the address', () => {
  it('is read as text or as JSON, whichever its schema takes', () => {
    expect(at('?name=12', 'name', textSchema).current.value[0]).toBe('12')
    const steps = [{ page: '/a b' }]
    const query = `?steps=${encodeURIComponent(JSON.stringify(steps))}`
    expect(at(query, 'steps', stepsSchema).current.value[0]).toEqual(steps)
  })
  it.each(['', '?steps=', '?steps=[', '?steps=[{"page":1}]', '?steps=text'])(
    'that is not there or does not fit (%s) is none',
    (query) => expect(at(query, 'steps', stepsSchema).current.value[0]).toBeNull(),
  )
  it('is written beside the others, and takes away those that no longer hold', () => {
    const result = at('?site=x&close=1&steps=old', 'funnel', textSchema, { clears: ['steps', 'close'] })
    act(() => result.current.value[1]('7'))
    expect(result.current.query).toBe('?site=x&funnel=7')
    act(() => result.current.value[1](null))
    expect(result.current.query).toBe('?site=x')
  })
  it('keeps what another value of the address has changed in the same moment', () => {
    const both = renderHook(
      () => ({
        funnel: useAddressValue('funnel', textSchema),
        way: useAddressValue('way', textSchema),
        query: useLocation().search,
      }),
      {
        wrapper: ({ children }: { children: ReactNode }) => (
          <MemoryRouter initialEntries={['/there?site=x']}>{children}</MemoryRouter>
        ),
      },
    ).result
    act(() => {
      both.current.way[1]('back')
      both.current.funnel[1]('7')
    })
    expect(both.current.query).toBe('?site=x&way=back&funnel=7')
  })
  it('is the same object, and written by the same function, as long as the address says the same', () => {
    const result = at('?site=x&steps=[{"page":"/a"}]', 'steps', stepsSchema)
    const [value, set] = result.current.value
    act(() => set([{ page: '/a' }]))
    expect(result.current.value).toEqual([value, set])
    expect(result.current.value[0]).toBe(value)
    expect(result.current.value[1]).toBe(set)
  })
})
